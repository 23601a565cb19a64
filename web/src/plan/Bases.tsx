import { useRef, useState } from "react"
import type { Refusal, Schema } from "../api/client"
import { Pick } from "../parts/Fields"
import { subscripted, Why } from "../parts/Lines"
import { QuantityField } from "../parts/QuantityField"
import { digits, inUnit, isMetric, show, unitOf, waterColumn, type Habit } from "../parts/units"
import type { Sheet } from "./queries"

type Answer = Schema["DeriveAnswer"]
export type FieldsProps = { draft: Sheet; change: (sheet: Sheet) => void; habit: Habit; problem: Refusal | null; disabled: boolean; answer: Answer }

/** Taking a basis leaves behind what belonged to another. */
export function withBasis(draft: Sheet, basis: Answer["bases"][number]): Sheet {
  return {
    ...draft,
    procedure: draft["procedure"] === "expansion" && basis.strength ? "expansion" : undefined,
    basis: basis.id,
    factor: basis.own_factor ? (draft["factor"] ?? 1.5) : undefined,
    tight_at: basis.own_pressure ? draft["tight_at"] : undefined,
  }
}

const FIGURES = ["base_pressure", "stress_ratio", "test_pressure", "gauge_target", "target_band", "ceiling", "highest_provable", "offer", "allowable"]

/** The schools of practice side by side, each with its result; the chosen one opened to its lines. */
export function Bases(props: FieldsProps) {
  const { draft, change, habit, disabled, problem, answer } = props
  const all = useRef<HTMLDialogElement>(null)
  const taken = (draft["basis"] as string | undefined) ?? answer.basis
  const shown = answer.bases.filter(
    (basis) => (basis.applies && (basis.strength || answer.bases.every((b) => !b.strength || !b.applies || b.id === "own"))) || basis.id === taken,
  )
  const other: Habit = isMetric(habit) ? "imperial" : "metric"
  const chosen = answer.bases.find((basis) => basis.id === taken)
  const base = (draft["base"] as string | undefined) ?? "wanted"
  const tight = answer.procedure !== "proof" && answer.procedure !== "expansion"
  return (
    <section>
      <div className="flex items-baseline justify-between">
        <h2 className="text-title">Test pressure</h2>
        <span className="figure text-large">{show(answer.gauge_target, "pressure", habit, 4)}</span>
      </div>
      <div className="mb-1 flex items-center justify-between text-small text-quiet">
        <label className={tight ? "invisible" : ""}>
          from{" "}
          <select
            className="max-w-[172px] border-b border-dotted border-quiet bg-transparent py-0.5 text-ink"
            aria-label="Base pressure"
            value={base}
            disabled={disabled}
            onChange={(event) => change({ ...draft, base: event.target.value as Sheet["base"] })}
          >
            <option value="wanted">the wanted {show(answer.working_pressure, "pressure", habit)}</option>
            {answer.plate_pressure != null && <option value="plate">the plate, {show(answer.plate_pressure, "pressure", habit)}</option>}
            {answer.relief_set != null && <option value="relief">the relief valve, {show(answer.relief_set, "pressure", habit)}</option>}
          </select>
        </label>
        <span className="whitespace-nowrap">{habit === "millibar" ? waterColumn(answer.gauge_target) : show(answer.gauge_target, "pressure", other, 4)}</span>
      </div>
      <Tried {...props} />
      <fieldset className="border-y border-rule" disabled={disabled}>
        <legend className="sr-only">Basis</legend>
        {(tight ? shown.filter((basis) => basis.id === taken) : shown).map((basis) => (
          <label
            key={basis.id}
            title={`${basis.why} ${basis.disputed} ${basis.source}.`}
            className={`grid min-h-7 cursor-pointer grid-cols-[22px_1fr_64px_62px] items-center gap-1 px-1 py-[3px] ${basis.id === taken ? "border-l-4 border-brass bg-brass-soft pl-1" : ""}`}
          >
            <input type="radio" name="basis" className="radio radio-xs" checked={basis.id === taken} onChange={() => change(withBasis(draft, basis))} />
            <span className={`text-note leading-tight ${basis.id === taken ? "font-semibold" : ""}`}>{basis.name}</span>
            <span className="figure text-right text-small font-normal text-quiet">{basis.factor != null ? `${digits(basis.factor, 3)} ×` : ""}</span>
            <span className="figure text-right text-note">{basis.test_pressure != null ? digits(inUnit(basis.test_pressure, "pressure", habit), 4) : "–"}</span>
          </label>
        ))}
      </fieldset>
      <p className="mt-1 text-small leading-snug text-quiet">
        Band to {show(answer.target_band[1], "pressure", habit, 4)}. {chosen?.why} {chosen?.disputed}
      </p>
      {chosen && (chosen.own_factor || chosen.asks_reason) && (
        <OwnFactor {...props} factor={chosen.own_factor} says={problem?.field === "factor" ? problem.message : null} />
      )}
      <div className="flex items-start gap-4">
        <Why lines={answer.lines} figures={FIGURES} />
        <button className="mt-1 shrink-0 text-small text-water-ink dotted" onClick={() => all.current?.showModal()}>
          all schools
        </button>
      </div>
      <dialog ref={all} className="modal" aria-label="All schools of practice">
        <Schools {...props} close={() => all.current?.close()} />
      </dialog>
    </section>
  )
}

/** All schools in one table: what each asks for here, when it is used, who disputes it, where it is printed. */
function Schools({ draft, change, habit, disabled, answer, close }: FieldsProps & { close: () => void }) {
  return (
    <div className="modal-box max-h-[92vh] max-w-[1120px] border-line border-ink bg-paper">
      <div className="mb-2 flex items-center justify-between">
        <h2 className="text-xl">Schools of practice</h2>
        <form method="dialog">
          <button className="btn btn-outline btn-sm border-line bg-ground min-h-9">Close</button>
        </form>
      </div>
      <table className="w-full text-left text-small">
        <thead>
          <tr className="border-b-line border-ink text-quiet">
            <th className="py-1 pr-3 font-normal">School and rule</th>
            <th className="pr-3 text-right font-normal whitespace-nowrap">test, {show(0, "pressure", habit).slice(2)}</th>
            <th className="pr-3 font-normal">when it is used</th>
            <th className="pr-3 font-normal">who disputes it</th>
            <th className="font-normal" />
          </tr>
        </thead>
        <tbody>
          {answer.bases.map((basis) => (
            <tr key={basis.id} className={`border-b border-rule align-top ${basis.id === answer.basis ? "bg-brass-soft" : ""}`}>
              <td className="py-1.5 pr-3">
                <span className="font-semibold">{basis.name}</span>
                <span className="block font-mono text-fine">{subscripted(basis.rule)}</span>
                <span className="block text-fine text-quiet">{basis.source}</span>
              </td>
              <td className="figure py-1.5 pr-3 text-right">{basis.test_pressure != null ? digits(inUnit(basis.test_pressure, "pressure", habit), 4) : "–"}</td>
              <td className={`py-1.5 pr-3 ${basis.applies ? "" : "text-quiet"}`}>{basis.why}</td>
              <td className="py-1.5 pr-3 text-quiet">{basis.disputed}</td>
              <td className="py-1.5">
                {basis.id === answer.basis ? (
                  <strong className="whitespace-nowrap">taken</strong>
                ) : basis.applies ? (
                  <button
                    className="btn btn-outline btn-sm min-h-9 border-line"
                    disabled={disabled}
                    onClick={() => (change(withBasis(draft, basis)), close())}
                    aria-label={`Take ${basis.name}`}
                  >
                    take
                  </button>
                ) : (
                  <span className="whitespace-nowrap text-quiet">not here</span>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

/** What is tried, strength or tightness alone, and under what; a tightness trial is held at any pressure up to the wanted one. */
function Tried({ draft, change, habit, problem, disabled, answer }: FieldsProps) {
  const tight = answer.procedure === "tightness" || answer.procedure === "baseline"
  const valve = answer.bases.find((basis) => basis.id === "relief")
  const fails = answer.bases.find((basis) => basis.id === "burst")
  const gas = answer.bases.find((basis) => basis.id === "gas-head")
  const steam = answer.bases.find((basis) => basis.id === "steam")
  const turns = answer.bases.find((basis) => basis.id === "tightening")
  const strong = answer.bases.find((basis) => basis.default && basis.strength) ?? answer.bases.find((basis) => basis.applies && basis.strength)
  const choose = (which: string) => {
    if (which === "expansion") change({ ...(tight && strong ? withBasis(draft, strong) : draft), procedure: which, tight_at: undefined })
    else if (which !== "proof") change({ ...draft, procedure: which as Sheet["procedure"], basis: undefined, factor: undefined, tight_at: undefined })
    else if (strong) change({ ...withBasis(draft, strong), procedure: undefined })
  }
  return (
    <div className="mb-1.5 grid grid-cols-2 gap-x-3 gap-y-1">
      <Pick
        compact
        label="What is tried"
        value={answer.procedure}
        onChange={choose}
        disabled={disabled}
        options={[
          ["proof", "proof of strength"],
          ["tightness", "tightness alone"],
          ["baseline", "a baseline of the rig"],
          ...(answer.expands || answer.procedure === "expansion" ? [["expansion", "proof, expansion"] as [string, string]] : []),
          ...(turns?.applies || answer.procedure === "tightening" ? [["tightening", "a joint, turned on"] as [string, string]] : []),
          ...(gas?.applies || answer.procedure === "gas-head" ? [["gas-head", "a gas head"] as [string, string]] : []),
          ...(fails?.applies || answer.procedure === "burst" ? [["burst", "taken to failure"] as [string, string]] : []),
          ...(steam?.applies || answer.procedure === "steam" ? [["steam", "first steam"] as [string, string]] : []),
          ...(valve?.applies || answer.procedure === "relief" ? [["relief", "the relief valve"] as [string, string]] : []),
        ]}
      />
      {answer.procedure !== "steam" && (
        <Pick
          compact
          label="Under"
          value={answer.medium}
          onChange={(id) => change({ ...draft, medium: id as "water" | "air" })}
          disabled={disabled}
          options={[
            ["water", "water"],
            ["air", "air or gas"],
          ]}
        />
      )}
      {tight && (
        <QuantityField
          compact
          label="Held at"
          kind="pressure"
          unit={unitOf("pressure", habit)}
          hint="up to the wanted pressure"
          value={draft["tight_at"] ?? ""}
          onChange={(text) => change({ ...draft, tight_at: text || undefined })}
          problem={problem?.field === "tight_at" ? problem.message : null}
          disabled={disabled}
        />
      )}
    </div>
  )
}

/** A factor of one's own with its reason. */
function OwnFactor({ draft, change, disabled, says, factor }: FieldsProps & { says: string | null; factor: boolean }) {
  const [typed, setTyped] = useState<string | null>(null)
  const stated = draft["factor"] == null ? "" : String(draft["factor"])
  return (
    <div className="mt-2 grid grid-cols-[90px_1fr] gap-2">
      {factor && (
        <label className="text-small text-quiet">
          Factor
          <input
            className="input figure h-9 w-full bg-paper"
            disabled={disabled}
            inputMode="decimal"
            value={typed ?? stated}
            onBlur={() => setTyped(null)}
            onChange={(event) => {
              setTyped(event.target.value)
              const text = event.target.value.replace(",", ".")
              // What is no number goes as it was typed: the reader says what would be one.
              change({ ...draft, factor: text.trim() !== "" && Number.isFinite(Number(text)) ? Number(text) : (text as unknown as number) })
            }}
          />
        </label>
      )}
      <label className={`text-small text-quiet ${factor ? "" : "col-span-2"}`}>
        Whose rule, and why
        <input
          className="input h-9 w-full bg-paper"
          disabled={disabled}
          value={typeof draft["reason"] === "string" ? draft["reason"] : ""}
          onChange={(event) => change({ ...draft, reason: event.target.value || undefined })}
        />
      </label>
      {says && <p className="col-span-2 text-fine text-vermilion">{says}</p>}
    </div>
  )
}
