import { Link } from "react-router"
import type { Schema } from "../api/client"
import { show, type Habit } from "../parts/units"
import { written } from "./stages"
import type { Plan, Sheet } from "./queries"

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
      {problem && (
        <p role="alert" className="strip border-vermilion">
          {problem}
        </p>
      )}
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

const NAMES: Record<string, string> = {
  working_pressure: "wanted pressure",
  plate_pressure: "plate",
  relief_set: "relief valve",
  trapped_air: "air left in",
  water_temperature: "water's temperature",
}

/** What became different since the plan this one was begun from. */
export function Changed({ plan, close }: { plan: Plan; close: () => void }) {
  if (!plan.copied_from) return null
  const name = (field: string) =>
    NAMES[field] ??
    field
      .replaceAll("_", " ")
      .replaceAll(".", ", ")
      .replace(/^shell, /, "")
      .replace(/^fittings, /, "")
  return (
    <section className="strip mx-4 mt-2 flex items-start gap-3 border-water text-small" aria-label="Since the plan before">
      <p className="max-h-[58px] flex-1 overflow-auto">
        Begun from the plan of trial {plan.copied_from}.{" "}
        {plan.changed.length === 0
          ? "Nothing changed since."
          : `Since then: ${plan.changed.map((one) => `${name(one.field)} ${one.was ?? "not said"} → ${one.now ?? "not said"}`).join("; ")}.`}
      </p>
      <button className="px-2 text-quiet" aria-label="Seen" onClick={close}>
        ×
      </button>
    </section>
  )
}
