import type { Schema } from "../api/client"
import { QuantityField, type QuantityKind } from "../parts/QuantityField"
import { show } from "../parts/units"
import type { FieldsProps } from "./Bases"
import type { Sheet } from "./queries"

type Part = Record<string, unknown>

/** A quantity inside the sheet, by its path. An emptied field leaves the sheet; an emptied part goes with it. */
function useField({ draft, change, problem, disabled }: FieldsProps) {
  return (path: string, label: string, kind: QuantityKind, unit: string, hint = "") => {
    const [part, key] = path.includes(".") ? (path.split(".") as [string, string]) : [null, path]
    const holder = part ? ((draft[part] as Part | undefined) ?? {}) : draft
    const write = (text: string) => {
      const value = text === "" ? undefined : text
      if (!part) return change({ ...draft, [key]: value })
      const next = { ...holder, [key]: value }
      const left = Object.values(next).some((v) => v !== undefined)
      change({ ...draft, [part]: left ? next : undefined } as Sheet)
    }
    return (
      <QuantityField
        compact
        label={label}
        kind={kind}
        unit={unit}
        hint={hint}
        value={typeof holder[key] === "string" ? (holder[key] as string) : ""}
        onChange={write}
        disabled={disabled}
        problem={problem?.field === path ? problem.message : null}
      />
    )
  }
}

const ACCEPTANCES = [
  ["max_drop", "a drop"],
  ["max_leak", "a leak rate"],
  ["no_visible_drop", "no drop seen"],
] as const

/** What is read from and pumped with, the state of the water, and the hold with what is accepted of it. */
export function KitFields(props: FieldsProps & { answer: Schema["DeriveAnswer"] }) {
  const { draft, change, disabled, habit, answer } = props
  const field = useField(props)
  const pressure = habit === "metric" ? "bar" : "psi"
  const length = habit === "metric" ? "m" : "ft"
  const degrees = habit === "metric" ? "°C" : "°F"
  const acceptance = (draft["acceptance"] as Part | undefined) ?? {}
  const school = ACCEPTANCES.find(([key]) => key in acceptance)?.[0] ?? "max_drop"
  const starts: Record<string, Part> = {
    max_drop: { max_drop: habit === "metric" ? "0.2 bar" : "3 psi", over: "30 min" },
    max_leak: { max_leak: "5 mL/h" },
    no_visible_drop: { no_visible_drop: true },
  }
  const grid = "grid grid-cols-2 gap-x-3 sm:grid-cols-4"
  return (
    <div className="min-w-0">
      <h2 className="text-[16px]">Kit and water</h2>
      <div className={grid}>
        {field("gauge.range", "Gauge reads to", "pressure", pressure, "needed")}
        {field("gauge.division", "Its division", "pressure", pressure)}
        {field("gauge.height_above_top", "Gauge above top", "length", length, "below: −0.2 m")}
        {field("water_temperature", "Water at", "temperature", degrees, "needed")}
        {field("pump.stroke", "A pump stroke", "volume", "mL")}
        {field("pump.maximum", "Pump's most", "pressure", pressure)}
        {field("thermometer.resolution", "Thermometer to", "temperature_difference", "°C", "none: empty")}
        {field("trapped_air", "Air left in", "volume", "mL")}
      </div>
      <h2 className="mt-0.5 text-[16px]">
        Hold <span className="font-sans text-[13.5px] font-normal text-quiet">shut in, then come down to {show(answer.hold.look_pressure, "pressure", habit)} and look</span>
      </h2>
      <div className={grid}>
        {field("pause", "Pause at a stage", "time", "min")}
        {field("hold.minimum", "Hold for", "time", "min")}
        {field("hold.every", "Read every", "time", "min", `${Math.round(answer.hold.every)} s`)}
        <div>
          <label className="mb-0.5 block text-[13px] text-quiet" htmlFor="acceptance">
            Accepted is up to
          </label>
          <select id="acceptance" className="select h-8 w-full bg-paper px-2 text-[14px]" value={school} disabled={disabled} onChange={(event) => change({ ...draft, acceptance: starts[event.target.value] })}>
            {ACCEPTANCES.map(([key, name]) => (
              <option key={key} value={key}>
                {name}
              </option>
            ))}
          </select>
        </div>
        {school === "max_drop" && field("acceptance.max_drop", "Drop at most", "pressure", pressure)}
        {school === "max_drop" && field("acceptance.over", "over", "time", "min")}
        {school === "max_leak" && field("acceptance.max_leak", "Leak at most", "leak", "mL/h")}
        <p className="col-span-2 self-center text-[13px] text-quiet">
          {answer.hold.accepted_leak != null && school === "max_drop" && (
            <>
              That much is a leak of <span className="figure text-ink">{show(answer.hold.accepted_leak, "leak", habit, 2)}</span>.{" "}
            </>
          )}
          {answer.hold.smallest_leak != null && (
            <>
              In this hold this kit can tell <span className="figure text-ink">{show(answer.hold.smallest_leak, "leak", habit, 2)}</span>
              {answer.hold.accepted_leak != null && answer.hold.smallest_leak > answer.hold.accepted_leak && <strong className="text-brass-ink">: too little. Hold longer, or read the water’s temperature</strong>}.
            </>
          )}
        </p>
      </div>
    </div>
  )
}
