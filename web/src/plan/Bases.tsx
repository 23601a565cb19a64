import type { Refusal, Schema } from "../api/client"
import { Why } from "../parts/Lines"
import { digits, inUnit, show, type Habit } from "../parts/units"
import type { Sheet } from "./queries"

export type FieldsProps = { draft: Sheet; change: (sheet: Sheet) => void; habit: Habit; problem: Refusal | null; disabled: boolean }

/** The schools of practice side by side, each with its result; the chosen one opened to its lines. */
export function Bases({ draft, change, habit, disabled, problem, answer }: FieldsProps & { answer: Schema["DeriveAnswer"] }) {
  const shown = answer.bases.filter((basis) => basis.applies && (basis.strength || basis.id === answer.basis) && (basis.test_pressure != null || basis.id === "own"))
  const other: Habit = habit === "metric" ? "imperial" : "metric"
  const chosen = typeof draft["basis"] === "string" ? draft["basis"] : answer.basis
  const own = chosen === "own"
  const base = draft["base"] === "plate" ? "plate" : "wanted"
  const choose = (id: string) => change({ ...draft, basis: id, factor: id === "own" ? (draft["factor"] ?? 1.5) : undefined })
  return (
    <section>
      <div className="flex items-baseline justify-between">
        <h2 className="text-[18px]">Test pressure</h2>
        <span className="figure text-[22px]">{show(answer.gauge_target, "pressure", habit, 4)}</span>
      </div>
      <p className="mb-1 flex justify-between text-[13.5px] text-quiet">
        <span>
          from the{" "}
          <button
            className="underline decoration-dotted underline-offset-3 disabled:no-underline"
            disabled={disabled || answer.plate_pressure == null}
            onClick={() => change({ ...draft, base: base === "plate" ? "wanted" : "plate" })}
            title="Prove the wanted pressure, or what the plate says"
          >
            {base} {show(answer.base_pressure, "pressure", habit)}
          </button>
        </span>
        <span>{show(answer.gauge_target, "pressure", other, 4)}</span>
      </p>
      <fieldset className="border-y border-rule" disabled={disabled}>
        <legend className="sr-only">Basis</legend>
        {shown.map((basis) => (
          <label
            key={basis.id}
            title={`${basis.why} ${basis.source}.`}
            className={`grid min-h-7 cursor-pointer grid-cols-[22px_1fr_64px_62px] items-center gap-1 px-1 py-[3px] ${basis.id === chosen ? "border-l-4 border-brass bg-brass-soft pl-1" : ""}`}
          >
            <input type="radio" name="basis" className="radio radio-xs" checked={basis.id === chosen} onChange={() => choose(basis.id)} />
            <span className={`text-[14px] leading-tight ${basis.id === chosen ? "font-semibold" : ""}`}>{basis.name}</span>
            <span className="figure text-right text-[13.5px] font-normal text-quiet">{basis.factor != null ? `${digits(basis.factor, 3)} ×` : ""}</span>
            <span className="figure text-right text-[14px]">
              {basis.test_pressure != null ? digits(inUnit(basis.test_pressure, "pressure", habit), 4) : "–"}
            </span>
          </label>
        ))}
      </fieldset>
      <p className="mt-1 text-[13px] text-quiet">
        {answer.bases.find((basis) => basis.id === answer.basis)?.why} Band {digits(inUnit(answer.target_band[0]!, "pressure", habit), 4)} to{" "}
        {show(answer.target_band[1], "pressure", habit, 4)}.
      </p>
      {own && (
        <OwnFactor draft={draft} change={change} disabled={disabled} says={problem?.field === "factor" ? problem.message : null} />
      )}
      <Why lines={answer.lines} figures={["test_pressure", "gauge_target", "target_band", "ceiling", "highest_provable", "allowable"]} />
    </section>
  )
}

type OwnFactorProps = { draft: Sheet; change: (sheet: Sheet) => void; disabled: boolean; says: string | null }

function OwnFactor({ draft, change, disabled, says }: OwnFactorProps) {
  const factor = draft["factor"] == null ? "" : String(draft["factor"])
  return (
    <div className="mt-2 grid grid-cols-[90px_1fr] gap-2">
      <label className="text-[13px] text-quiet">
        Factor
        <input
          className="input figure h-9 w-full bg-paper"
          disabled={disabled}
          inputMode="decimal"
          defaultValue={factor}
          onChange={(event) => {
            const text = event.target.value.replace(",", ".")
            change({ ...draft, factor: text.trim() !== "" && Number.isFinite(Number(text)) ? Number(text) : text })
          }}
        />
      </label>
      <label className="text-[13px] text-quiet">
        Whose rule, and why
        <input
          className="input h-9 w-full bg-paper"
          disabled={disabled}
          defaultValue={typeof draft["reason"] === "string" ? draft["reason"] : ""}
          onChange={(event) => change({ ...draft, reason: event.target.value || undefined })}
        />
      </label>
      {says && <p className="col-span-2 text-[12.5px] text-vermilion">{says}</p>}
    </div>
  )
}
