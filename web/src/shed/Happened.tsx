import { useState } from "react"
import { useMe } from "../api/me"
import { type TrialRow } from "../api/trials"
import { Alert } from "../parts/Alert"
import { Keep, Dialog } from "../parts/Dialog"
import { Tag, type Fitness } from "../parts/Tag"
import { day, today, type Habit } from "../parts/units"
import { useHappened, useSomethingHappened } from "./queries"

const DONE = ["look inside", "relief tried", "steam trial"]
const LIFTS = "lifts at "

/** What the vessel may be used at today, and why not more. */
export function TagLine({ trials, habit }: { trials: TrialRow[]; habit: Habit }) {
  const stands = trials.find((trial) => trial.stands)
  const practised = trials.some((trial) => trial.practice)
  const tag = stands?.tag
  if (!tag) return practised ? <p className="text-note text-quiet">Not proven: practice on the simulated rig proves nothing of the vessel.</p> : null
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-1" data-testid="tag-line">
      <Tag fitness={tag.fitness as Fitness} pressure={tag.pressure} habit={habit} />
      <p className="min-w-0 flex-1 text-body">
        {tag.says ? (
          <span className={tag.fitness === "limited" ? "text-brass-ink" : "text-vermilion"}>{tag.says}</span>
        ) : (
          <span className="text-quiet">
            As it was decided on {day(stands.decision!.at)}. {tag.fitness === "tight" ? "No strength is claimed. " : ""}Sooner looked at after any knock, mend
            or change.
          </span>
        )}
      </p>
    </div>
  )
}

/** What happened to it and was done with it, the latest first. */
export function HappenedList({ vessel }: { vessel: string }) {
  const { data } = useHappened(vessel)
  if (!data?.length) return null
  return (
    <section aria-label="What happened to it">
      <h2 className="text-lg">What happened to it</h2>
      <ul className="border-t-line border-rule">
        {data.map((one) => (
          <li key={one.id} className="flex flex-wrap gap-x-5 border-b border-rule py-1.5">
            <span className="w-28 text-quiet">{day(one.on)}</span>
            <span className={one.voids === "nothing" ? "" : "font-semibold text-vermilion"}>{one.name}</span>
            <span className="min-w-0 flex-1 text-quiet">{one.text}</span>
            <span className="text-small text-quiet">{one.by}</span>
          </li>
        ))}
      </ul>
    </section>
  )
}

type HappenedProps = { vessel: string; close: () => void; /** Asked because a change is to be kept: keeps both. */ keep?: (what: string, text: string) => void }

/** Ten seconds: what, on which day, a word on it. What it means for the tag is said before it is kept. */
export function Happened({ vessel, close, keep }: HappenedProps) {
  const { data: me } = useMe()
  const write = useSomethingHappened(vessel)
  const [what, setWhat] = useState(keep ? "changed" : "dropped")
  const [on, setOn] = useState(today)
  const [text, setText] = useState("")
  const choices = (me?.happenings ?? []).filter((one) => (keep ? !DONE.includes(one.id) : one.id !== "corrected" && one.id !== "changed"))
  const chosen = choices.find((one) => one.id === what)
  const lift = what === "relief tried"
  const done = () => {
    const written = lift ? `${LIFTS}${text.trim()}` : text.trim()
    if (keep) keep(what, written)
    else write.mutate({ what, on, text: written }, { onSuccess: close })
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
        <fieldset className="mb-3 grid gap-2 sm:grid-cols-2">
          <legend className="sr-only">What</legend>
          {choices.map((one) => (
            <label
              key={one.id}
              className={`flex min-h-11 items-center gap-3 border-line px-3 py-1 ${what === one.id ? "border-ink bg-ground" : "border-rule"}`}
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
        <div className="mb-3 flex flex-wrap gap-3">
          {!keep && (
            <label className="text-small text-quiet">
              On
              <input type="date" required className="input block h-11 bg-ground text-ink" value={on} onChange={(event) => setOn(event.target.value)} />
            </label>
          )}
          <label className="min-w-60 flex-1 text-small text-quiet">
            {lift ? "At what pressure it lifts" : "A word on it"}
            <input className="input block h-11 w-full bg-ground text-ink" value={text} required={lift} onChange={(event) => setText(event.target.value)} />
          </label>
        </div>
        {chosen && <p className="strip mb-3">{chosen.notes}</p>}
        {write.error && <Alert className="mb-3">{write.error.message}</Alert>}
        <Keep keep={keep ? "Keep the changes" : "Write it down"} close={close} disabled={write.isPending || (lift && !text.trim())} />
      </form>
    </Dialog>
  )
}
