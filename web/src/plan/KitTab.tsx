import type { Refusal } from "../api/client"
import { useSuited, type Suit } from "../api/kit"
import { Altitude } from "../parts/Altitude"
import { Pick } from "../parts/Fields"
import { GaugeDial } from "../parts/GaugeDial"
import { at, textAt, typedOver, withAt } from "../parts/path"
import { columnUnit, QuantityField, type QuantityKind } from "../parts/QuantityField"
import { isMetric, show, unitOf } from "../parts/units"
import type { FieldsProps } from "./Bases"
import { GirthMarks } from "./GirthMarks"
import type { Sheet } from "./queries"

/** A quantity inside the sheet, by its path. An emptied field leaves the sheet; an emptied part goes with it. */
export function useField({ draft, change, problem, disabled }: { draft: Sheet; change: (sheet: Sheet) => void; problem: Refusal | null; disabled: boolean }) {
  return (path: string, label: string, kind: QuantityKind, unit: string, hint = "") => (
    <QuantityField
      compact
      label={label}
      kind={kind}
      unit={unit}
      hint={hint}
      value={textAt(draft, path)}
      onChange={(text) => change(typedOver(draft, path, text))}
      disabled={disabled}
      problem={problem?.field === path ? problem.message : null}
    />
  )
}

/** The classes that gauges are made in, per cent of their range. */
const CLASSES = [0.1, 0.25, 0.6, 1, 1.6, 2.5, 4]

/** What is read from and pumped with, off the kit board or typed, and the state of the water. */
export function KitTab(props: FieldsProps & { trial: string; version: number }) {
  const { habit, answer, trial, version } = props
  const field = useField(props)
  const suited = useSuited(trial, version)
  const pressure = answer.procedure === "gas-head" ? columnUnit(isMetric(habit)) : unitOf("pressure", habit)
  const air = answer.medium === "air"
  const fire = answer.procedure === "steam"
  const own = Number(textAt(props.draft, "gauge.class"))
  const classes = [...new Set([...CLASSES, ...(own ? [own] : [])])].sort((a, b) => a - b)
  return (
    <div className="grid grid-cols-2 content-start gap-x-3 sm:grid-cols-3">
      <FromBoard {...props} part="gauge" label="Gauge" suits={suited.data ?? []} />
      {field("gauge.range", "Gauge reads to", "pressure", pressure, "needed")}
      {field("gauge.division", "Its division", "pressure", pressure)}
      {(fire || answer.procedure === "relief") && (
        <>
          <FromBoard {...props} part="relief-valve" label="Relief valve" suits={suited.data ?? []} />
          {field("relief_valve.tolerance", "It may be off by", "pressure", pressure, "empty: by the code")}
          {!fire && field("relief_set", "It is set to", "pressure", pressure)}
          {fire && <SetBy {...props} suits={suited.data ?? []} />}
          {!fire && <SetFor {...props} />}
          {!fire && air && field("relief_pot", "Tried on a pot of", "volume", "L", "empty: the vessel")}
        </>
      )}
      {(fire || answer.procedure === "gas-head") && <Altitude disabled={props.disabled} habit={habit} trial={trial} />}
      {fire ? (
        field("burner", "Its burner gives", "power", "kW", "how soon it is up")
      ) : (
        <>
          <FromBoard {...props} part="pump" label="Pump" suits={suited.data ?? []} />
          {field("pump.stroke", "A pump stroke", "volume", "mL")}
          {field("pump.maximum", "Pump's most", "pressure", pressure)}
        </>
      )}
      <FromBoard {...props} part="thermometer" label="Thermometer" suits={suited.data ?? []} />
      {field("thermometer.resolution", "Thermometer to", "temperature_difference", "°C", "none: empty")}
      {fire && field("thermometer.accuracy", "Thermometer out by", "temperature_difference", "°C", "empty: 1 °C")}
      {field("gauge.height_above_top", "Gauge above top", "length", unitOf("height", habit), "from its opening")}
      {field("water_temperature", air ? "Air at" : "Water at", "temperature", unitOf("temperature", habit), air ? "" : "needed")}
      <Pick
        compact
        label="Its class"
        value={textAt(props.draft, "gauge.class")}
        disabled={props.disabled}
        onChange={(id) => props.change(withAt(typedOver(props.draft, "gauge.class", id), "gauge.class", id === "" ? undefined : Number(id)))}
        options={[["", "not known"], ...classes.map((one): [string, string] => [String(one), `${one} % of its range`])]}
      />
      {answer.procedure === "tightening" && (
        <>
          {field("torque_wrench.lowest", "Wrench tells from", "torque", "N m", "empty: a fifth")}
          {field("torque_wrench.range", "Wrench ends at", "torque", "N m")}
          {field("torque_wrench.wanted", "Torque wanted", "torque", "N m", "of its maker")}
          <Pick
            compact
            label="Kind of joint"
            value={textAt(props.draft, "joint")}
            disabled={props.disabled}
            onChange={(id) => props.change(typedOver(props.draft, "joint", id))}
            options={[
              ["", "not said"],
              ["ferrule", "ferrule or olive"],
              ["flare", "flared tube"],
              ["taper", "taper thread"],
              ["gasket", "flat or ring seal"],
            ]}
          />
        </>
      )}
      {air && answer.procedure === "tightness" && (
        <>
          {field("syringe.volume", "Syringe of air in", "volume", "mL", "tells what its sides give")}
          {field("syringe.rise", "…raised it by", "pressure", "mbar")}
          <Pick
            compact
            label="Inside it is"
            value={at(props.draft, "wet") == null ? "" : at(props.draft, "wet") ? "wet" : "dry"}
            disabled={props.disabled}
            onChange={(id) => props.change(withAt(props.draft, "wet", id === "" ? undefined : id === "wet"))}
            options={[
              ["", "not said"],
              ["dry", "dry"],
              ["wet", "wet: vapour rises"],
            ]}
          />
        </>
      )}
      {answer.procedure === "gas-head" && <GasFields {...props} field={field} />}
      {answer.procedure === "expansion" && (
        <>
          {field("expansion.measure", "Measure reads to", "volume", "mL", "empty: 10 mL")}
          {field("expansion.hose", "Water in pump, hose", "volume", "mL")}
          {field("expansion.burette", "Jacket's burette to", "volume", "mL", "empty: no jacket")}
          {field("expansion.tank", "Jacket's tank, inside", "length", unitOf("length", habit), "read by its level")}
          {field("expansion.level", "Its level reads to", "length", unitOf("length", habit), "empty: 1 mm")}
          {field("expansion.tape", "Tape reads to", "length", unitOf("height", habit), "empty: 1 mm")}
          <GirthMarks draft={props.draft} change={props.change} disabled={props.disabled} unit={unitOf("length", habit)} />
        </>
      )}
      {!air &&
        !fire &&
        field("trapped_air", "Air still inside", "volume", "mL", answer.vent ? `${show(answer.vent.air, "small", habit, 2)} above the vent` : "")}
    </div>
  )
}

/** By which gauge the valve was set: by the one that is read here, the two are one witness. */
function SetBy({ draft, change, disabled, suits }: FieldsProps & { suits: Suit[] }) {
  const [own, said] = [textAt(draft, "gauge.name"), textAt(draft, "relief_valve.set_by")]
  const others = suits.filter((one) => one.kind === "gauge" && one.name !== own).map((one) => one.name)
  const names = [...new Set([...(own ? [own] : []), ...others, ...(said && said !== OTHER_GAUGE && said !== THIS_GAUGE ? [said] : [])])]
  return (
    <Pick
      compact
      label="The valve was set by"
      value={said}
      disabled={disabled}
      onChange={(id) => change(typedOver(draft, "relief_valve.set_by", id))}
      options={[
        ["", "not said"],
        ...(own ? [] : [[THIS_GAUGE, "this gauge"] as [string, string]]),
        ...names.map((one): [string, string] => [one, one === own ? `${one}, this one` : one]),
        [OTHER_GAUGE, "another gauge"],
      ]}
    />
  )
}

const [THIS_GAUGE, OTHER_GAUGE] = ["this gauge", "another gauge"]

/** What the valve was set on: on a liquid it opens otherwise than on gas. */
function SetFor({ draft, change, disabled }: FieldsProps) {
  return (
    <Pick
      compact
      label="The valve was set on"
      value={textAt(draft, "relief_valve.set_for")}
      disabled={disabled}
      onChange={(id) => change(typedOver(draft, "relief_valve.set_for", id))}
      options={[
        ["", "not said"],
        ["gas", "gas"],
        ["liquid", "a liquid"],
      ]}
    />
  )
}

const MOST_PIPES = 4

/** Inside widths of the pipes in which the gas pushes water up: one as “across”, several as a list; their areas add. */
function Pipes({ draft, change, disabled, unit, problem }: Pick<FieldsProps, "draft" | "change" | "disabled" | "problem"> & { unit: string }) {
  const several = at(draft, "holder.pipes")
  const wide = Array.isArray(several) ? several.map(String) : [textAt(draft, "holder.across")].filter(Boolean)
  const set = (n: number, text: string) => {
    const now = [...wide.slice(0, n), text, ...wide.slice(n + 1)].filter(Boolean)
    const one = withAt(draft, "holder.pipes", now.length > 1 ? now : undefined)
    change(now.length > 1 ? withAt(one, "holder.across", undefined) : typedOver(one, "holder.across", now[0] ?? ""))
  }
  return [...wide, ...(wide.length < MOST_PIPES ? [""] : [])].map((value, n) => (
    <QuantityField
      key={n}
      compact
      label={n === 0 ? "That pipe's inside" : `Pipe ${n + 1}'s inside`}
      kind="length"
      unit={unit}
      hint={n === 0 ? "needed" : n === wide.length ? "where there is one more" : ""}
      value={value}
      onChange={(text) => set(n, text)}
      disabled={disabled}
      problem={problem?.field === (several ? `holder.pipes.${n}` : "holder.across") && n < Math.max(1, wide.length) ? problem.message : null}
    />
  ))
}

/** What gas is held by, what is read beside the gauge, and its water seal. */
function GasFields({ draft, change, habit, disabled, problem, field }: FieldsProps & { field: ReturnType<typeof useField> }) {
  const by = textAt(draft, "holder.by")
  const long = unitOf("length", habit)
  const bag = textAt(draft, "holder.wide") !== ""
  return (
    <>
      <Pick
        compact
        label="Gas is held by"
        value={by}
        disabled={disabled}
        onChange={(id) => change(withAt(draft, "holder", { makes: at(draft, "holder.makes"), fed: at(draft, "holder.fed"), by: id || undefined }))}
        options={[
          ["", "not said"],
          ["container", "stiff container"],
          ["water", "water in a pipe"],
          ["drum", "drum or bag"],
        ]}
      />
      {by === "water" && <Pipes draft={draft} change={change} disabled={disabled} unit={long} problem={problem} />}
      <Pick
        compact
        label="Fed, or warm from it?"
        value={at(draft, "holder.fed") == null ? "" : at(draft, "holder.fed") ? "yes" : "no"}
        disabled={disabled}
        onChange={(id) => change(withAt(draft, "holder.fed", id === "" ? undefined : id === "yes"))}
        options={[
          ["", "not said"],
          ["no", "empty, or cold and still"],
          ["yes", "fed: it makes gas"],
        ]}
      />
      {by === "drum" && !bag && field("holder.across", "Drum across", "length", long, "or a bag's two")}
      {by === "drum" && (
        <>
          {field("holder.wide", "Bag wide", "length", long)}
          {field("holder.long", "Bag long", "length", long)}
          {field("holder.level", "Level reads to", "length", long, "empty: 1 mm")}
        </>
      )}
      {field("holder.makes", "It makes a day", "leak", "L/day", "where known")}
      {field("relief_set", "Its seal blows at", "pressure", columnUnit(isMetric(habit)), "of water")}
      <Pick
        compact
        label="Barometer"
        value={at(draft, "barometer") ? "yes" : "no"}
        disabled={disabled}
        onChange={(id) => change({ ...draft, barometer: id === "yes" ? true : undefined } as Sheet)}
        options={[
          ["yes", "read along"],
          ["no", "none"],
        ]}
      />
    </>
  )
}

/** The gauge of the plan as its dial, the test marked on it. */
export function PlanDial({ draft, habit, answer }: FieldsProps) {
  const mark = markOn(draft, answer.gauge_target)
  if (at(draft, "gauge.range") == null) return null
  return (
    <div className="mt-1 flex items-center gap-3 text-fine leading-snug text-quiet">
      <GaugeDial sheet={at(draft, "gauge")} size={106} mark={mark} />
      <p>
        {mark != null && "The test is marked in brass."}
        {answer.gauge_error != null && ` By its class it may be ${show(answer.gauge_error, "pressure", habit, 2)} out.`}
      </p>
    </div>
  )
}

const SIZE: Record<string, number> = { bar: 1e5, psi: 6894.757293168, kPa: 1e3, MPa: 1e6, mbar: 100 }

/** The test pressure in the gauge's own unit. */
function markOn(draft: Sheet, target: number): number | null {
  const unit = textAt(draft, "gauge.range")
    .replace(/^[\d.,\s/-]+/, "")
    .trim()
  return SIZE[unit] ? target / SIZE[unit] : null
}

type FromBoardProps = FieldsProps & { part: string; label: string; suits: Suit[] }

/** One off the kit board: its particulars are written into the plan, as they are now. */
function FromBoard({ draft, change, disabled, part, label, suits }: FromBoardProps) {
  const all = suits.filter((one) => one.kind === part)
  const key = part.replace("-", "_")
  const name = textAt(draft, `${key}.name`)
  const taken = all.find((one) => one.name === name)
  const take = (id: string) => {
    const one = all.find((suit) => suit.id === id)
    const set = part === "relief-valve" && one ? { relief_set: textAt(one.sheet, "set_pressure") } : {}
    if (one) change({ ...draft, [key]: { ...one.sheet, name: one.name }, ...set })
  }
  return (
    <label className="block">
      <span className="mb-0.5 block truncate text-small text-quiet">{label}</span>
      <select
        className="select h-8 w-full bg-paper px-2 text-note"
        value={taken?.id ?? ""}
        disabled={disabled || all.length === 0}
        onChange={(event) => take(event.target.value)}
      >
        <option value="">{all.length ? "typed here" : "none hung up"}</option>
        {all.map((one) => (
          <option key={one.id} value={one.id} title={one.says}>
            {one.suited ? (one.best ? "★ " : "✓ ") : "✗ "}
            {one.name}
          </option>
        ))}
      </select>
      <span className={`block min-h-[17px] truncate text-fine leading-[17px] ${taken && !taken.suited ? "text-vermilion" : "text-quiet"}`} title={taken?.says}>
        {taken?.says ?? (all.find((one) => one.best) ? `best: ${all.find((one) => one.best)!.name}` : "")}
      </span>
    </label>
  )
}
