import { useEffect, useRef, useState } from "react"
import { Link, NavLink, Outlet, useNavigate } from "react-router"
import { useHabits, useMe } from "../api/me"
import { Postman } from "../bench/Postman"
import { WhoIsHere } from "../people/WhoIsHere"
import { Gate } from "./Gate"
import { listen, useHeldKey, useKeys, usePresentKeys } from "./keys"
import { Newer } from "./Newer"
import { useThemeChoice } from "./theme"
import { Toad } from "./Toad"

const ROOMS: Record<string, string> = { s: "/", r: "/records", k: "/kit", p: "/people" }

/** What surrounds every room: keys, the overlay of keys, and the outlet. */
export function Shell() {
  const navigate = useNavigate()
  const [overlay, setOverlay] = useState(false)
  useEffect(
    () =>
      listen((letter) => {
        const room = ROOMS[letter]
        if (room) void navigate(room)
        return Boolean(room)
      }),
    [navigate],
  )
  useKeys([{ key: "?", does: "show or hide the keys of this screen", act: () => setOverlay((open) => !open) }])
  useEffect(() => {
    const open = () => setOverlay(true)
    window.addEventListener("toadbell:keys", open)
    return () => window.removeEventListener("toadbell:keys", open)
  }, [])
  return (
    <div className="flex h-full flex-col print:block">
      <Newer />
      <Gate>
        <Postman />
        <Outlet />
      </Gate>
      {overlay && <KeysOverlay onClose={() => setOverlay(false)} />}
      <HeldKey />
    </div>
  )
}

/** What a key that was pressed would do, where it does nothing now. */
function HeldKey() {
  const key = useHeldKey()
  return (
    <p role="status" className={`no-print pointer-events-none fixed inset-x-0 bottom-60 z-20 flex justify-center lg:bottom-24 ${key ? "" : "sr-only"}`}>
      {key && (
        <span className="border-line border-brass bg-brass-soft px-4 py-2 text-plain">
          <kbd className="key">{key.key === "Enter" ? "⏎" : key.key.toUpperCase()}</kbd> does nothing now: {key.does}
          {key.waits && `. ${key.waits}`}
        </span>
      )}
    </p>
  )
}

function KeysOverlay({ onClose }: { onClose: () => void }) {
  const ref = useRef<HTMLDialogElement>(null)
  const keys = usePresentKeys()
  useEffect(() => ref.current?.showModal(), [])
  return (
    <dialog ref={ref} className="modal" onClose={onClose} aria-labelledby="keys-title" onKeyDown={(e) => e.key === "?" && ref.current?.close()}>
      <div className="modal-box border-line border-ink bg-paper">
        <h2 id="keys-title" className="mb-3 text-xl">
          Keys of this screen
        </h2>
        <dl className="grid grid-cols-[auto_1fr] items-center gap-x-4 gap-y-2">
          {keys.map((key) => (
            <div key={key.key + key.does} className="contents">
              <dt>
                <kbd className="key">{key.key === "Enter" ? "⏎" : key.key}</kbd>
              </dt>
              <dd>{key.does}</dd>
            </div>
          ))}
          <dt>
            <kbd className="key">g</kbd> <kbd className="key">s</kbd>
          </dt>
          <dd>go to the shed; r records, k kit, p people</dd>
        </dl>
        <form method="dialog" className="mt-5 text-right">
          <button className="btn btn-primary">Close</button>
        </form>
      </div>
    </dialog>
  )
}

/** The head of the workshop's rooms. */
export function Head({ action }: { action?: React.ReactNode }) {
  return (
    <header className="no-print flex min-h-[52px] shrink-0 flex-wrap items-center gap-x-2 sm:flex-nowrap border-b-line border-ink px-3 sm:gap-6 sm:px-5">
      <Link to="/" className="flex items-center gap-3 text-ink" aria-label="Toad Bell, the shed">
        <Toad />
        <span className="hidden font-display text-large font-bold whitespace-nowrap sm:inline">Toad Bell</span>
      </Link>
      <nav aria-label="Rooms" className="flex gap-1">
        {[
          ["/", "Shed"],
          ["/kit", "Kit"],
          ["/records", "Records"],
          ["/people", "People"],
        ].map(([to, name]) => (
          <NavLink
            key={to}
            to={to!}
            end
            className={({ isActive }) =>
              `px-3 py-3.5 font-semibold ${isActive ? "border-b-bold border-primary text-ink" : "border-b-bold border-transparent text-quiet hover:text-ink"}`
            }
          >
            {name}
          </NavLink>
        ))}
      </nav>
      <div className="ml-auto flex items-center gap-2 py-1">
        {action}
        <Habits />
      </div>
    </header>
  )
}

/** Units, theme and keys, at the right of every head. */
export function Habits() {
  const { data: me } = useMe()
  const habits = useHabits()
  const [theme, setTheme] = useThemeChoice()
  const imperial = me?.units === "imperial"
  const next = theme === "room" ? "daylight" : theme === "daylight" ? "lamp" : "room"
  const shown = { room: "Light by the room", daylight: "Daylight", lamp: "Lamp" }
  return (
    <>
      <WhoIsHere />
      <button
        className="btn btn-ghost btn-sm px-2"
        onClick={() => habits.mutate({ units: imperial ? "metric" : "imperial" })}
        title="Change the units figures are shown in"
      >
        {imperial ? "psi, in" : "bar, mm"}
      </button>
      <button
        className="btn btn-ghost btn-sm px-2"
        onClick={() => setTheme(next)}
        title={`Light: ${shown[theme]}. Change to ${shown[next]}`}
        aria-label={`Light: ${shown[theme]}`}
      >
        <svg width="18" height="18" viewBox="0 0 18 18" fill="none" stroke="currentColor" strokeWidth="1.6" aria-hidden="true">
          <circle cx="9" cy="9" r="6.5" />
          {theme !== "daylight" && (
            <path d={theme === "lamp" ? "M9 2.5 a6.5 6.5 0 0 1 0 13 a6.5 6.5 0 0 1 0 -13" : "M9 2.5 a6.5 6.5 0 0 1 0 13 Z"} fill="currentColor" />
          )}
        </svg>
      </button>
      <button
        className="btn btn-ghost btn-sm hidden px-1 sm:inline-flex"
        onClick={() => window.dispatchEvent(new Event("toadbell:keys"))}
        aria-label="Keys of this screen"
      >
        <kbd className="key">?</kbd>
      </button>
    </>
  )
}
