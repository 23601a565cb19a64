import { Link } from "react-router"
import type { Schema } from "../api/client"
import { Alert } from "../parts/Alert"
import { show, type Habit } from "../parts/units"
import type { Plan, Sheet } from "./queries"
import { written } from "./stages"

type WarningsProps = {
  plan: Plan
  answer: Schema["DeriveAnswer"]
  problem: string | null
  draft: Sheet
  change: (sheet: Sheet) => void
  habit: Habit
  disabled: boolean
  lead: (field: string) => void
}

/** Stops to be answered, what is missing with the way to it, cautions to be read. */
export function Warnings({ plan, answer, problem, draft, change, habit, disabled, lead }: WarningsProps) {
  const offer = answer.offer
  const tooHigh = new Set(["above-ceiling", "above-plate", "above-allowable"])
  return (
    <div className="space-y-1.5">
      {problem && <Alert>{problem}</Alert>}
      {answer.stops.map((stop, i) => (
        <div key={stop.code + stop.says} className="strip border-vermilion" role="alert">
          <strong className="text-vermilion">Stop. </strong>
          {stop.says}
          {tooHigh.has(stop.code) && offer != null && answer.stops.findIndex((s) => tooHigh.has(s.code)) === i && !disabled && (
            <button
              className="btn btn-outline btn-sm border-line bg-ground mt-1 block min-h-9"
              onClick={() => change({ ...draft, working_pressure: written(offer, habit, 3) })}
            >
              Ask for {show(offer, "pressure", habit)} instead
            </button>
          )}
          {stop.code === "gauge-too-small" && !disabled && (
            <button className="btn btn-outline btn-sm border-line bg-ground mt-1 block min-h-9" onClick={() => lead("gauge")}>
              Say another gauge
            </button>
          )}
        </div>
      ))}
      {plan.missing.map((gap) => (
        <div key={gap.field} className="strip flex flex-wrap items-center gap-2 border-water">
          <span className="flex-1 basis-52">
            <strong>Missing. </strong>
            {gap.says}
          </span>
          {gap.field === "shell" ? (
            <Link className="btn btn-outline btn-sm border-line bg-ground min-h-9" to={`/vessels/${plan.vessel_id}`}>
              To the vessel
            </Link>
          ) : (
            <button className="btn btn-outline btn-sm border-line bg-ground min-h-9" onClick={() => lead(gap.field)}>
              Say it
            </button>
          )}
        </div>
      ))}
      {answer.cautions.map((caution) => (
        <p key={caution.code} className="strip py-0.5 text-small leading-snug">
          {caution.says}
        </p>
      ))}
    </div>
  )
}

const SHOWN = 5

/** What became different since the plan this one was begun from. */
export function Changed({ plan, close }: { plan: Plan; close: () => void }) {
  if (!plan.copied_from) return null
  return (
    <section className="strip mx-4 mt-2 flex items-start gap-3 border-water text-small" aria-label="Since the plan before">
      <div className="flex-1">
        Begun from the plan of trial {plan.copied_from}.{plan.changed.length === 0 && " Nothing changed since."}
        {plan.changed.length > 0 && (
          <ul className="columns-1 gap-x-6 sm:columns-2">
            {plan.changed.slice(0, SHOWN).map((line) => (
              <li key={line} className="break-inside-avoid">
                {line}
              </li>
            ))}
            {plan.changed.length > SHOWN && <li className="text-quiet">and {plan.changed.length - SHOWN} more</li>}
          </ul>
        )}
      </div>
      <button className="px-2 text-quiet" aria-label="Seen" onClick={close}>
        ×
      </button>
    </section>
  )
}
