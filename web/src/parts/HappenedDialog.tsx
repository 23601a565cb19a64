import { useState } from "react"
import { useAttachments } from "../api/attachments"
import { newId } from "../api/ids"
import { useLedger, useSomethingHappened } from "../api/ledger"
import { useMe } from "../api/me"
import { Alert } from "./Alert"
import { Dialog, Keep } from "./Dialog"
import { day, today } from "./units"

/** What is done with some kinds of vessel alone, and the line of their ledger that it belongs to. */
const OF_SOME: Record<string, string> = { "steam trial": "steam", "steam failed": "steam", fired: "firings" }
const DONE = ["look inside", "relief tried", "steam trial", "steam failed", "certificate", "fired"]
const LIFTS = "lifts at "
/** Written down by trials alone. */
const BY_TRIALS = ["relief off", "yielded"]
const WAS = [
  ["valve", "It was the relief valve"],
  ["other", "It was another"],
  ["", "Not known"],
] as const
const FOUND = [
  ["sound", "Sound"],
  ["watch", "To watch"],
  ["unsound", "Not sound"],
] as const

type HappenedProps = {
  vessel: string
  close: () => void
  /** What it begins with. */
  first?: string
  /** Asked because a change is to be kept: keeps both. */
  keep?: (what: string, text: string) => void
}

/** Ten seconds: what, on which day, a word on it. What it means for the tag is said before it is kept. */
export function HappenedDialog({ vessel, close, first, keep }: HappenedProps) {
  const { data: me } = useMe()
  const write = useSomethingHappened(vessel)
  const { data: ledger } = useLedger(vessel)
  const meant = (id: string) => !(id in OF_SOME) || (ledger?.lines.some((line) => line.code === OF_SOME[id]) ?? false)
  const [what, setWhat] = useState(first ?? (keep ? "changed" : "dropped"))
  const [on, setOn] = useState(today)
  const [until, setUntil] = useState("")
  const [found, setFound] = useState<"" | "sound" | "watch" | "unsound">("")
  const [fitting, setFitting] = useState<"" | "valve" | "other">("")
  const [text, setText] = useState("")
  const [photo, setPhoto] = useState<File | null>(null)
  const { keep: add } = useAttachments(vessel)
  const choices = (me?.happenings ?? [])
    .filter((one) => (keep ? !DONE.includes(one.id) : one.id !== "corrected" && one.id !== "changed" && meant(one.id)))
    .filter((one) => !BY_TRIALS.includes(one.id))
  const groups = keep
    ? [["What", choices] as const]
    : ([
        ["Happened to it", choices.filter((one) => !DONE.includes(one.id))],
        ["Done with it", choices.filter((one) => DONE.includes(one.id))],
      ] as const)
  const chosen = choices.find((one) => one.id === what)
  const [lift, look, paper] = [what === "relief tried", what === "look inside", what === "certificate"]
  const needs = lift || (look && found === "unsound")
  const done = () => {
    const written = lift ? `${LIFTS}${text.trim()}` : text.trim()
    if (keep) return keep(what, written)
    const name = chosen?.name ?? what
    const kept = () =>
      photo && (look || paper) ? add.mutate({ id: newId(), file: photo, text: `${name}, ${day(on)}`, opening: "" }, { onSuccess: close }) : close()
    if (write.isSuccess) kept()
    else
      write.mutate(
        { what, on, text: written, found: look ? found : what === "refitted" ? fitting : "", until: paper && until ? until : null },
        { onSuccess: kept },
      )
  }
  return (
    <Dialog title={keep ? "What happened to it?" : "Something happened"} close={close} wide>
      <form
        onSubmit={(event) => {
          event.preventDefault()
          done()
        }}
      >
        {keep && <p className="mb-3">A decision rests on what you change. Say what happened.</p>}
        {groups.map(([name, all]) => (
          <fieldset key={name} className="mb-3 grid gap-2 sm:grid-cols-2">
            <legend className={keep ? "sr-only" : "mb-1 text-small text-quiet"}>{name}</legend>
            {all.map((one) => (
              <label
                key={one.id}
                className={`flex min-h-10 items-center gap-3 border-line px-3 py-0.5 leading-tight ${what === one.id ? "border-ink bg-ground" : "border-rule"}`}
              >
                <input
                  type="radio"
                  className="radio radio-sm"
                  name="what"
                  checked={what === one.id}
                  autoFocus={what === one.id}
                  onChange={() => setWhat(one.id)}
                />
                {one.name}
              </label>
            ))}
          </fieldset>
        ))}
        {look && (
          <fieldset className="mb-3 grid gap-2 sm:grid-cols-3">
            <legend className="mb-1 text-small text-quiet">Inside it was</legend>
            {FOUND.map(([id, name]) => (
              <label key={id} className={`flex min-h-11 items-center gap-3 border-line px-3 ${found === id ? "border-ink bg-ground" : "border-rule"}`}>
                <input type="radio" className="radio radio-sm" name="found" required checked={found === id} onChange={() => setFound(id)} />
                {name}
              </label>
            ))}
          </fieldset>
        )}
        {what === "refitted" && !keep && (
          <fieldset className="mb-3 grid gap-2 sm:grid-cols-3">
            <legend className="mb-1 text-small text-quiet">The relief valve?</legend>
            {WAS.map(([id, name]) => (
              <label key={id} className={`flex min-h-11 items-center gap-3 border-line px-3 ${fitting === id ? "border-ink bg-ground" : "border-rule"}`}>
                <input type="radio" className="radio radio-sm" name="fitting" checked={fitting === id} onChange={() => setFitting(id)} />
                {name}
              </label>
            ))}
          </fieldset>
        )}
        <div className="mb-3 flex flex-wrap gap-3">
          {!keep && (
            <label className="text-small text-quiet">
              On
              <input
                type="date"
                required
                max={today()}
                className="input block h-11 bg-ground text-ink"
                value={on}
                onChange={(event) => setOn(event.target.value)}
              />
            </label>
          )}
          {paper && (
            <label className="text-small text-quiet">
              Good until
              <input type="date" min={on} className="input block h-11 bg-ground text-ink" value={until} onChange={(event) => setUntil(event.target.value)} />
            </label>
          )}
          <label className="min-w-60 flex-1 text-small text-quiet">
            {lift
              ? "At what pressure it lifts"
              : look
                ? "What was seen: rust, pits, cracks, scale, weld, bulge"
                : paper
                  ? "Who gave it, its number"
                  : "A word on it"}
            <input className="input block h-11 w-full bg-ground text-ink" value={text} required={needs} onChange={(event) => setText(event.target.value)} />
          </label>
        </div>
        {(look || paper) && !keep && (
          <label className="mb-3 block text-small text-quiet">
            A picture or the paper itself, where there is one
            <input
              type="file"
              accept="image/jpeg,image/png,image/webp,application/pdf"
              className="file-input block h-11 w-full bg-ground text-ink"
              onChange={(event) => setPhoto(event.target.files?.[0] ?? null)}
            />
          </label>
        )}
        {chosen && (
          <p className="strip mb-3" aria-live="polite">
            {look && found === "unsound" ? "The tag falls to not fit, until a look finds it sound." : chosen.notes}
          </p>
        )}
        {write.error && <Alert className="mb-3">{write.error.message}</Alert>}
        {add.error && <Alert className="mb-3">It is written down, but its picture was not kept: {add.error.message}</Alert>}
        <Keep keep={keep ? "Keep the changes" : "Write it down"} close={close} busy={write.isPending || add.isPending} disabled={needs && !text.trim()} />
      </form>
    </Dialog>
  )
}
