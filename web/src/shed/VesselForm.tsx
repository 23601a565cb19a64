import { useId, type Dispatch, type ReactNode, type SetStateAction } from "react"
import { useMe } from "../api/me"
import { QuantityField, type QuantityKind } from "../parts/QuantityField"
import type { Habit } from "../parts/units"
import type { Draft } from "./draft"

type Problem = { says: string; field: string | null } | null
type VesselFormProps = {
  draft: Draft
  change: Dispatch<SetStateAction<Draft>>
  habit: Habit
  problem: Problem
  save: () => void
  saving: boolean
  cancel?: () => void
}

const END_FORMS = [
  ["ellipsoidal", "Ellipsoidal, 2:1"],
  ["torispherical", "Dished with a knuckle"],
  ["hemispherical", "Half a sphere"],
  ["flat", "Flat"],
  ["stayed", "Flat, held by stays"],
] as const

/** Where the server's field names stand in the form. */
const PLACES: Record<string, keyof Draft> = {
  "shell.inside_diameter": "inside_diameter",
  "shell.length": "length",
  "shell.wall": "wall",
  "shell.wall_readings.0": "thinnest",
  "shell.corrosion": "corrosion",
  "shell.joint_efficiency": "joint_efficiency",
  "ends.0.wall": "end_wall",
  "ends.0.pitch": "pitch",
}

/** The vessel in fields, in the order one goes round it with a tape. */
export function VesselForm({ draft, change, habit, problem, save, saving, cancel }: VesselFormProps) {
  const { data: me } = useMe()
  const set = (key: keyof Draft) => (value: string | boolean) => change((before) => ({ ...before, [key]: value }))
  const place = problem?.field ? (PLACES[problem.field] ?? problem.field) : null
  const says = (key: keyof Draft) => (place === key ? (problem?.says ?? null) : null)
  const elsewhere = problem && !(place && place in draft) ? problem.says : null
  const long = habit === "metric" ? "mm" : "in"
  const pressure = habit === "metric" ? "bar" : "psi"
  const quantity = (key: keyof Draft, label: string, kind: QuantityKind, hint: ReactNode = "", required = false) => (
    <QuantityField
      label={label}
      kind={kind}
      unit={kind === "pressure" ? pressure : long}
      value={draft[key] as string}
      onChange={set(key)}
      hint={hint}
      required={required}
      problem={draft[key] === "" ? null : says(key)}
    />
  )
  const missing = !draft.name.trim() || !draft.working_pressure.trim()
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        save()
      }}
      noValidate
    >
      <h2 className="mb-2 text-lg">{cancel ? "Change what is known" : "Hang up a vessel"}</h2>
      <Text label="Name" value={draft.name} onChange={set("name")} hint="What you call it in the workshop" required autoFocus={!cancel} />
      <Pick label="What it is" value={draft.kind} onChange={set("kind")} options={(me?.kinds ?? []).map((k) => [k.id, k.name] as const)} />
      <Pair>
        {quantity("working_pressure", "Wanted pressure", "pressure", "120psi or 8,3 bar", true)}
        {quantity("plate_pressure", "On the plate", "pressure", "none? leave empty")}
        {quantity("relief_set", "Relief valve set at", "pressure")}
        <Text label="Year made" value={draft.made} onChange={set("made")} says={says("made")} />
      </Pair>
      <Pair>
        <Pick label="Shell" value={draft.form} onChange={set("form")} options={[["cylinder", "Cylinder"], ["sphere", "Sphere"]]} />
        <Pick label="Tested" value={draft.position} onChange={set("position")} options={[["lying", "lying"], ["standing", "standing"]]} />
        {quantity("inside_diameter", "Inside diameter", "length", '14 1/2 in or 366 mm', true)}
        {draft.form === "cylinder" && quantity("length", "Length, seam to seam", "length", "ends not counted", true)}
        {quantity("wall", "Wall", "length", '3.2 mm or 3/8"')}
        {quantity("thinnest", "Thinnest reading", "length", "where water stands")}
      </Pair>
      <label className="mb-2 flex min-h-9 items-center gap-2">
        <input type="checkbox" className="checkbox checkbox-sm" checked={draft.wall_measured} onChange={(e) => set("wall_measured")(e.target.checked)} />
        The wall was measured, not guessed
      </label>
      <Pair>
        <Pick label="Material" value={draft.material} onChange={set("material")} options={(me?.materials ?? []).map((m) => [m.id, m.name] as const)} />
        <Text label="Joint efficiency" value={draft.joint_efficiency} onChange={set("joint_efficiency")} hint="0.7 where not known" says={says("joint_efficiency")} />
        {draft.form === "cylinder" && <Pick label="Ends" value={draft.end_form} onChange={set("end_form")} options={END_FORMS} />}
        {draft.form === "cylinder" && quantity("end_wall", "Wall of the ends", "length")}
        {draft.form === "cylinder" && draft.end_form === "stayed" && quantity("pitch", "Pitch of the stays", "length", "", true)}
        {quantity("corrosion", "Allow for rust", "length", "0.3 mm is usual")}
        <Text label="In service until, year" value={draft.retire} onChange={set("retire")} hint="if it is stamped" says={says("retire")} />
      </Pair>
      <label className="mb-0.5 block text-[13.5px] text-quiet" htmlFor="vessel-notes">
        What it has been through
      </label>
      <textarea id="vessel-notes" className="textarea mb-3 w-full bg-paper" rows={2} value={draft.notes} onChange={(e) => set("notes")(e.target.value)} />
      {elsewhere && (
        <p role="alert" className="strip mb-3 border-vermilion">
          {elsewhere}
        </p>
      )}
      <div className="sticky bottom-0 z-10 flex items-center gap-3 border-t-[1.5px] border-rule bg-paper py-3">
        <button className="btn btn-primary" disabled={saving || missing}>
          {cancel ? "Keep the changes" : "Hang it up"} <kbd className="key">⏎</kbd>
        </button>
        {cancel && (
          <button type="button" className="btn btn-ghost" onClick={cancel}>
            Leave it as it was
          </button>
        )}
        {missing && <span className="text-[13px] text-quiet">A name and a wanted pressure are needed.</span>}
      </div>
    </form>
  )
}

function Pair({ children }: { children: ReactNode }) {
  return <div className="grid grid-cols-2 gap-x-4">{children}</div>
}

type TextProps = { label: string; value: string; onChange: (value: string) => void; hint?: string; required?: boolean; autoFocus?: boolean; says?: string | null }

function Text({ label, value, onChange, hint, required, autoFocus, says }: TextProps) {
  const id = useId()
  return (
    <div className="mb-2">
      <label htmlFor={id} className="mb-0.5 block text-[13.5px] text-quiet">
        {label}
        {required && <span aria-hidden="true"> *</span>}
      </label>
      <input id={id} className={`input h-9 w-full bg-paper ${says ? "input-error" : ""}`} value={value} required={required} autoFocus={autoFocus} autoComplete="off" aria-invalid={says ? true : undefined} aria-describedby={`${id}-says`} onChange={(event) => onChange(event.target.value)} />
      <div id={`${id}-says`} className={`min-h-[18px] text-[12.5px] leading-[18px] ${says ? "text-vermilion" : "text-quiet"}`}>
        {says ?? hint}
      </div>
    </div>
  )
}

type PickProps = { label: string; value: string; onChange: (value: string) => void; options: readonly (readonly [string, string])[] }

export function Pick({ label, value, onChange, options }: PickProps) {
  const id = useId()
  return (
    <div className="mb-2">
      <label htmlFor={id} className="mb-0.5 block text-[13.5px] text-quiet">
        {label}
      </label>
      <select id={id} className="select h-9 w-full bg-paper" value={value} onChange={(event) => onChange(event.target.value)}>
        {options.map(([key, name]) => (
          <option key={key} value={key}>
            {name}
          </option>
        ))}
      </select>
      <div className="min-h-[18px]" />
    </div>
  )
}
