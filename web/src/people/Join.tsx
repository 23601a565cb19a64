import { useQueryClient } from "@tanstack/react-query"
import { useRef, useState } from "react"
import { Link } from "react-router"
import { api, asked, type Schema } from "../api/client"
import { deviceName } from "../api/window"
import { Toad } from "../app/Toad"
import { useTheme } from "../app/theme"
import { Alert } from "../parts/Alert"

const ROLES: Record<string, string> = {
  owner: "You may do everything here.",
  maker: "You may lay hands on vessels, plans and runs.",
  watcher: "You see everything, hear the call-outs, and may call stop.",
  inspector: "You see everything, may call stop, and sign records that ask for you.",
}

/** A phone comes in: by the code that was scanned, or by six words that are typed. */
export function Join() {
  useTheme("daylight")
  const queries = useQueryClient()
  const [words, setWords] = useState(() => decodeURIComponent(location.hash.slice(1)).replaceAll("-", " "))
  const [device, setDevice] = useState(deviceName)
  const [says, setSays] = useState<string | null>(null)
  const [busy, setBusy] = useState(false)
  const [joined, setJoined] = useState<Schema["Joined"] | null>(null)
  const going = useRef(false)
  const [scanned] = useState(words !== "")
  const come = () => {
    if (going.current) return
    going.current = true
    setBusy(true)
    asked(api.POST("/api/join", { body: { words, device } })).then(
      (found) => {
        history.replaceState(null, "", "/join") // the words are used: they need not stand in an address
        setJoined(found)
        void queries.resetQueries()
      },
      (problem: Error) => {
        going.current = false
        setBusy(false)
        setSays(problem.message)
      },
    )
  }
  return (
    <main className="mx-auto flex w-full max-w-xl flex-1 flex-col gap-4 overflow-auto p-5 sm:justify-center">
      <div className="flex items-center gap-3">
        <Toad size={48} />
        <h1 className="text-3xl">{joined ? `You are in, ${joined.name}` : "Come in"}</h1>
      </div>
      {joined ? (
        <>
          <p className="text-lead">{ROLES[joined.role]}</p>
          <Link className="btn btn-primary h-16 text-lead" to={joined.trial ? `/trials/${joined.trial}/bench` : "/"}>
            {joined.trial ? "To the bench" : "To the shed"}
          </Link>
          <Certificate />
        </>
      ) : (
        <form
          className="flex flex-col gap-4"
          onSubmit={(event) => {
            event.preventDefault()
            come()
          }}
        >
          <p className="text-lead">
            {scanned
              ? "The code was read. Press the key, and this phone is let in."
              : "Type the six words that stand on the workshop's screen. The first four letters of each will do."}
          </p>
          <label className="block text-quiet">
            Six words
            <textarea
              className="textarea h-24 w-full bg-paper text-title text-ink"
              autoCapitalize="none"
              autoCorrect="off"
              autoComplete="off"
              spellCheck={false}
              value={words}
              onChange={(event) => setWords(event.target.value)}
              onKeyDown={(event) => {
                if (event.key !== "Enter") return
                event.preventDefault()
                come()
              }}
            />
          </label>
          <label className="block text-quiet">
            What this is called in the workshop's list
            <input className="input h-12 w-full bg-paper text-ink" value={device} maxLength={60} onChange={(event) => setDevice(event.target.value)} />
          </label>
          {says && <Alert>{says}</Alert>}
          <button className="btn btn-primary h-16 text-lead" disabled={busy || !words.trim()}>
            Let me in
          </button>
        </form>
      )}
    </main>
  )
}

/** What makes the line one that the phone trusts, once and for all. */
function Certificate() {
  const safe = window.isSecureContext && "serviceWorker" in navigator
  return (
    <section className="border-t-line border-rule pt-3 text-body text-quiet">
      <h2 className="mb-1 text-title text-ink">Once, so that it opens without the network too</h2>
      <ol className="list-decimal space-y-1 pl-5">
        <li>
          Take in{" "}
          <a className="dotted text-water-ink" href="/workshop.crt" download>
            the workshop's certificate
          </a>
          : the phone then trusts this workshop without asking. It can vouch for nothing but this network's own addresses.
        </li>
        <li>Choose “Add to home screen” in the browser's menu.</li>
      </ol>
      {!safe && <p className="mt-2">This browser holds the line for unsafe: the screen may go dark, and no photos can be taken, until that is done.</p>}
    </section>
  )
}
