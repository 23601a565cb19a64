import { useState } from "react"
import { useHappened, useTakeBack, type LedgerOut } from "../api/ledger"
import { type TrialRow } from "../api/trials"
import { LedgerSays } from "../parts/Ledger"
import { Tag, type Fitness } from "../parts/Tag"
import { day, type Habit } from "../parts/units"

/** What the vessel may be used at today, why not more, and what is to be done next. */
export function TagLine({ ledger, trials, habit }: { ledger: LedgerOut; trials: TrialRow[]; habit: Habit }) {
  const practised = trials.some((trial) => trial.practice)
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-1" data-testid="tag-line">
      <Tag fitness={ledger.answer as Fitness} pressure={ledger.pressure} habit={habit} />
      <LedgerSays ledger={ledger} />
      {practised && !ledger.trial && <p className="w-full text-note text-quiet">Practice on the simulated rig proves nothing of the vessel.</p>}
    </div>
  )
}

/** What happened to it and was done with it, the latest first. */
export function HappenedList({ vessel }: { vessel: string }) {
  const { data } = useHappened(vessel)
  const back = useTakeBack(vessel)
  const [asking, setAsking] = useState<string | null>(null)
  if (!data?.length) return null
  return (
    <section aria-label="What happened to it">
      <h2 className="text-lg">What happened to it</h2>
      <ul className="border-t-line border-rule">
        {data.map((one) => (
          <li key={one.id} className="flex flex-wrap gap-x-5 border-b border-rule py-1.5">
            <span className="w-28 text-quiet">{day(one.on)}</span>
            <span
              className={one.withdrawn ? "text-quiet line-through" : one.voids === "nothing" && one.found !== "unsound" ? "" : "font-semibold text-vermilion"}
            >
              {one.name}
              {one.found && `: ${FOUND[one.found] ?? one.found}`}
            </span>
            <span className={`min-w-0 flex-1 text-quiet ${one.withdrawn ? "line-through" : ""}`}>
              {one.text}
              {one.until && ` Good until ${day(one.until)}.`}
            </span>
            <span className="text-small text-quiet">{one.withdrawn ? `taken back by ${one.withdrawn}` : one.by}</span>
            {!one.withdrawn &&
              (asking === one.id ? (
                <span className="flex gap-2">
                  <button className="btn btn-sm btn-outline border-vermilion min-h-9" disabled={back.isPending} onClick={() => back.mutate(one.id)}>
                    It was a mistake
                  </button>
                  <button className="btn btn-sm btn-ghost min-h-9" onClick={() => setAsking(null)}>
                    It stands
                  </button>
                </span>
              ) : (
                <button className="text-small text-water-ink dotted" aria-label={`Take back: ${one.name}, ${day(one.on)}`} onClick={() => setAsking(one.id)}>
                  take back
                </button>
              ))}
          </li>
        ))}
      </ul>
    </section>
  )
}

const FOUND: Record<string, string> = { sound: "sound", watch: "to watch", unsound: "not sound" }
