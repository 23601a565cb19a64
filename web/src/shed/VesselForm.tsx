import { useEffect, useRef, useState, type Dispatch, type ReactNode, type SetStateAction } from "react"
import { useMe } from "../api/me"
import { Alert } from "../parts/Alert"
import { leadToFault } from "../parts/fault"
import { Pair, Pick, Text } from "../parts/Fields"
import { columnUnit, QuantityField, type QuantityKind } from "../parts/QuantityField"
import type { Units } from "../parts/units"
import { USUAL, type Draft, softens } from "./draft"

type Problem = { says: string; field: string | null } | null
type VesselFormProps = {
  draft: Draft
  change: Dispatch<SetStateAction<Draft>>
  habit: Units
  problem: Problem
  save: () => void
  saving: boolean
  /** Wall readings with a place: the strip on the page is where they are kept. */
  readings: number
  cancel?: () => void
  load?: (file: File) => void
}

export const END_FORMS = [
  ["ellipsoidal", "Ellipsoidal, 2:1"],
  ["torispherical", "Dished with a knuckle"],
  ["hemispherical", "Half a sphere"],
  ["flat", "Flat"],
  ["stayed", "Flat, held by stays"],
] as const
const SHAPES = [
  ["cylinder", "Cylinder"],
  ["sphere", "Sphere"],
  ["drum", "Upright drum, low pressure"],
  ["box", "Box, flat sides"],
  ["cask", "Cask"],
] as const

/** Where the server's field names stand in the form. */
const PLACES: Record<string, keyof Draft> = {
  "shell.inside_diameter": "inside_diameter",
  "shell.length": "length",
  "shell.wall": "wall",
  "shell.wall_readings.0.wall": "thinnest",
  "shell.corrosion": "corrosion",
  "shell.joint_efficiency": "joint_efficiency",
  "ends.0.wall": "end_wall",
  "ends.0.pitch": "pitch",
  "ends.0.stay_diameter": "stay_diameter",
  "ends.0.crown": "crown",
  "ends.0.knuckle": "knuckle",
  "tubes.0.count": "tube_count",
  "tubes.0.outside_diameter": "tube_diameter",
  "tubes.0.wall": "tube_wall",
  "box.diameter": "inside_diameter",
  "box.length": "length",
  "box.width": "width",
  "box.height": "height",
  "cask.bilge": "bilge",
  "cask.head": "head",
  "cask.length": "length",
}

const UNITS: Partial<Record<QuantityKind, Record<Units, string>>> = {
  volume: { metric: "L", imperial: "gal" },
  mass: { metric: "kg", imperial: "lb" },
  temperature: { metric: "°C", imperial: "°F" },
}

/** The vessel in fields, in the order one goes round it with a tape. */
export function VesselForm({ draft, change, habit, problem, save, saving, readings, cancel, load }: VesselFormProps) {
  const { data: me } = useMe()
  const set = (key: keyof Draft) => (value: string | boolean) => change((before) => ({ ...before, [key]: value }))
  const place = problem?.field ? (PLACES[problem.field] ?? problem.field) : null
  const says = (key: keyof Draft) => (place === key ? (problem?.says ?? null) : null)
  const form = useRef<HTMLFormElement>(null)
  const [tried, setTried] = useState(false)
  const [elsewhere, setElsewhere] = useState<string | null>(null)
  useEffect(() => {
    const here = place !== null && form.current?.elements.namedItem(place) != null
    setElsewhere(problem && !here ? problem.says : null)
    if (tried && here && form.current) leadToFault(form.current, true)
  }, [problem?.says, place, tried]) // eslint-disable-line react-hooks/exhaustive-deps
  const long = habit === "metric" ? "mm" : "in"
  const pressure = draft.kind === "digester" ? columnUnit(habit === "metric") : habit === "metric" ? "bar" : "psi"
  const quantity = (key: keyof Draft, label: string, kind: QuantityKind, hint: ReactNode = "", required = false) => (
    <QuantityField
      label={label}
      kind={kind}
      unit={UNITS[kind]?.[habit] ?? (kind === "pressure" ? pressure : long)}
      value={draft[key] as string}
      onChange={set(key)}
      hint={hint}
      required={required}
      name={key}
      problem={draft[key] === "" && !tried ? null : says(key)}
    />
  )
  const [was] = useState(draft.kind)
  const kind = me?.kinds.find((k) => k.id === draft.kind)
  const shelled = draft.form === "cylinder" || draft.form === "sphere"
  const revolved = draft.form !== "drum" && draft.form !== "box"
  const ended = draft.form === "cylinder" && draft.end_form !== "none" && draft.end_form !== "mixed"
  const more = [
    draft.maker_test_limit,
    draft.volume,
    draft.empty_mass,
    draft.design_temperature,
    draft.minimum_temperature,
    draft.tube_diameter,
    draft.design,
    draft.closure,
  ].some(Boolean)
  const sized = [draft.inside_diameter, draft.length, draft.width, draft.height, draft.bilge, draft.head].some((size) => size.trim() !== "")
  const changeKind = (id: string) => change((before) => ({ ...before, kind: id, ...(sized || cancel ? {} : USUAL[id]) }))
  const missing = !draft.name.trim() || !draft.working_pressure.trim()
  return (
    <form
      ref={form}
      onInput={() => setTried(false)}
      onSubmit={(event) => {
        event.preventDefault()
        setTried(true)
        if (!leadToFault(event.currentTarget)) save()
      }}
      noValidate
    >
      <div className="mb-2 flex items-baseline justify-between gap-3">
        <h2 className="text-lg">{cancel ? "Change what is known" : "Hang up a vessel"}</h2>
        {load && (
          <label className="cursor-pointer text-small text-water-ink dotted focus-within:outline-2">
            or load a sheet
            <input
              type="file"
              accept=".json,application/json"
              className="sr-only"
              onChange={(event) => event.target.files?.[0] && load(event.target.files[0])}
            />
          </label>
        )}
      </div>
      <Text label="Name" name="name" value={draft.name} onChange={set("name")} hint="What you call it in the workshop" required autoFocus={!cancel} />
      <Pick label="What it is" value={draft.kind} onChange={changeKind} options={(me?.kinds ?? []).map((k) => [k.id, k.name] as const)} />
      {kind && (
        <p className="strip -mt-2 mb-3 text-small leading-snug" data-testid="kind">
          {kind.notes} {cancel && draft.kind !== was ? "With this kind its next plan changes to: " : "Usual trial: "}
          {kind.basis.toLowerCase()}, under {kind.medium}; proof again after {kind.proof_months} months.
        </p>
      )}
      <Pair>
        {quantity(
          "working_pressure",
          "Wanted pressure",
          "pressure",
          draft.kind === "digester" ? "20 cm, 8 in or 22 mbar: of water" : "120psi or 8,3 bar",
          true,
        )}
        {quantity("plate_pressure", "On the plate", "pressure", "none? leave empty")}
        {quantity("relief_set", draft.kind === "digester" ? "Water seal blows at" : "Relief valve set at", "pressure")}
        <Text label="Year made" value={draft.made} onChange={set("made")} name="made" says={says("made")} />
      </Pair>
      <Pair>
        <Pick label="Shape" value={draft.form} onChange={set("form")} options={SHAPES} />
        {revolved ? (
          <Pick
            label="Tested"
            value={draft.position}
            onChange={set("position")}
            options={[
              ["lying", "lying"],
              ["standing", "standing"],
            ]}
          />
        ) : (
          <div />
        )}
        {(shelled || draft.form === "drum") && quantity("inside_diameter", "Inside diameter", "length", "14 1/2 in or 366 mm", sized)}
        {draft.form === "cask" && quantity("bilge", "Inside diameter at the bilge", "length", "the widest", sized)}
        {draft.form === "cask" && quantity("head", "Inside diameter at the heads", "length", "", sized)}
        {draft.form !== "sphere" &&
          draft.form !== "drum" &&
          quantity(
            "length",
            draft.form === "cylinder" ? "Length, seam to seam" : "Length inside",
            "length",
            draft.form === "cylinder" ? "ends not counted" : "",
            sized && draft.form !== "cylinder",
          )}
        {draft.form === "box" && quantity("width", "Width inside", "length", "", sized)}
        {(draft.form === "box" || draft.form === "drum") && quantity("height", "Height inside", "length", "", sized)}
        {shelled && quantity("wall", "Wall", "length", '3.2 mm or 3/8"')}
        {draft.form === "box" || draft.form === "drum" ? quantity("wall", "Wall of its sides", "length", "none known? leave empty") : null}
        {(draft.form === "box" || draft.form === "drum") && draft.wall.trim() !== "" && (
          <Pick label="Material" value={draft.material} onChange={set("material")} options={(me?.materials ?? []).map((m) => [m.id, m.name] as const)} />
        )}
        {shelled &&
          (readings ? (
            <p className="self-center text-small text-quiet">{readings} wall readings are on the strip.</p>
          ) : (
            quantity("thinnest", "Thinnest reading", "length", "where water stands")
          ))}
      </Pair>
      {shelled && (
        <label className="mb-2 flex min-h-9 items-center gap-2">
          <input type="checkbox" className="checkbox checkbox-sm" checked={draft.wall_measured} onChange={(e) => set("wall_measured")(e.target.checked)} />
          The wall was measured, not guessed
        </label>
      )}
      {shelled && softens(draft.material) && (
        <label className="mb-2 flex min-h-9 items-center gap-2">
          <input type="checkbox" className="checkbox checkbox-sm" checked={draft.unwelded} onChange={(e) => set("unwelded")(e.target.checked)} />
          <span>
            Nothing on it is welded <span className="text-small text-quiet">beside a weld this metal bears half</span>
          </span>
        </label>
      )}
      {shelled && (
        <Pair>
          <Pick label="Material" value={draft.material} onChange={set("material")} options={(me?.materials ?? []).map((m) => [m.id, m.name] as const)} />
          <Text
            label="Joint efficiency"
            value={draft.joint_efficiency}
            onChange={set("joint_efficiency")}
            hint="0.7 where not known"
            name="joint_efficiency"
            says={says("joint_efficiency")}
          />
          {draft.form === "cylinder" && (
            <Pick
              label="Ends"
              value={draft.end_form}
              onChange={set("end_form")}
              options={[...END_FORMS, ["none", "Not known, or a pipe"], ...(draft.end_form === "mixed" ? [["mixed", "Two that differ"] as const] : [])]}
            />
          )}
          {ended && quantity("end_wall", "Wall of the ends", "length")}
          {ended && draft.end_form === "stayed" && quantity("pitch", "Pitch of the stays", "length", "", true)}
          {ended && draft.end_form === "stayed" && quantity("stay_diameter", "Least diameter of a stay", "length", "checks the stays too")}
          {ended && draft.end_form === "torispherical" && quantity("crown", "Crown radius", "length", "the diameter where not stated")}
          {ended && draft.end_form === "torispherical" && quantity("knuckle", "Knuckle radius", "length", "6 % of the crown")}
          {quantity("corrosion", "Allow for rust", "length", "0.3 mm is usual")}
          <Text label="In service until, year" value={draft.retire} onChange={set("retire")} hint="if it is stamped" name="retire" says={says("retire")} />
        </Pair>
      )}
      <details className="mb-3" open={more || undefined}>
        <summary className="w-fit py-1 text-note text-water-ink dotted">More that may be known</summary>
        <Pair>
          {quantity("maker_test_limit", "The maker's test limit", "pressure", "rules for plastic and glass fibre")}
          {shelled && (
            <>
              <Text
                label="Of the design"
                value={draft.design}
                onChange={set("design")}
                hint="as it hangs on the kit board"
                name="design"
                says={says("design")}
              />
              <Text label="Its lay-up" value={draft.layup} onChange={set("layup")} hint="of fibre: layers and angles" name="layup" says={says("layup")} />
              <Text label="Its closure" value={draft.closure} onChange={set("closure")} hint="how its ends are kept in" name="closure" says={says("closure")} />
            </>
          )}
          {quantity("volume", "Volume, if stated", "volume")}
          {quantity("empty_mass", "Weight, empty", "mass")}
          {quantity("design_temperature", "Hot in service, at", "temperature")}
          {quantity("minimum_temperature", "Least metal temperature", "temperature", "for steel, if it is known")}
          {!shelled && (
            <Text label="In service until, year" value={draft.retire} onChange={set("retire")} hint="if it is stamped" name="retire" says={says("retire")} />
          )}
          {draft.form === "cylinder" && (
            <Text
              label="Fire tubes or flue, how many"
              value={draft.tube_count}
              onChange={set("tube_count")}
              hint="none? leave empty"
              name="tube_count"
              says={says("tube_count")}
            />
          )}
          {draft.form === "cylinder" && quantity("tube_diameter", "Their outside diameter", "length")}
          {draft.form === "cylinder" && draft.tube_diameter !== "" && quantity("tube_wall", "Their wall", "length", "", true)}
        </Pair>
      </details>
      <label className="mb-0.5 block text-small text-quiet" htmlFor="vessel-notes">
        What it has been through
      </label>
      <textarea id="vessel-notes" className="textarea mb-3 w-full bg-paper" rows={2} value={draft.notes} onChange={(e) => set("notes")(e.target.value)} />
      {elsewhere && <Alert className="mb-3">{elsewhere}</Alert>}
      <div className="sticky bottom-0 z-10 flex items-center gap-3 border-t-line border-rule bg-paper py-3">
        <button className="btn btn-primary" disabled={saving}>
          {cancel ? "Keep the changes" : "Hang it up"} <kbd className="key">⏎</kbd>
        </button>
        {cancel && (
          <button type="button" className="btn btn-ghost" onClick={cancel}>
            Leave it as it was
          </button>
        )}
        {missing && <span className="text-small text-quiet">A name and a wanted pressure are needed.</span>}
      </div>
    </form>
  )
}
