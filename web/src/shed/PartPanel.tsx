import { useEffect, useRef, type ReactNode } from "react"
import { useMe } from "../api/me"
import { Pick, Text } from "../parts/Fields"
import { at, textAt, withAt } from "../parts/path"
import { QuantityField, type QuantityKind } from "../parts/QuantityField"
import type { Habit } from "../parts/units"
import type { Sheet } from "./draft"
import { END_FORMS } from "./VesselForm"

/** What of the vessel is open: its shell, an end, its tubes, or an opening by its name. */
export type Target = { part: "shell" | "end 1" | "end 2" | "tubes" } | { opening: string }

type PanelProps = {
  sheet: Sheet
  change: (sheet: Sheet) => void
  target: Target
  habit: Habit
  problem: { says: string; field: string | null } | null
  close: () => void
  retarget: (target: Target) => void
}

/** The fields of one part, under the drawing, which stays in view. */
export function PartPanel(props: PanelProps) {
  const { target, close, problem } = props
  const ref = useRef<HTMLDivElement>(null)
  const name = "part" in target ? target.part : target.opening
  useEffect(() => {
    ref.current?.querySelector<HTMLElement>("input, select")?.focus({ preventScroll: true })
    ref.current?.scrollIntoView({ block: "nearest" })
  }, ["part" in target ? target.part : ""]) // eslint-disable-line react-hooks/exhaustive-deps
  return (
    <div
      ref={ref}
      role="dialog"
      aria-label={`Change ${name}`}
      className="border-line border-ink bg-paper px-4 py-2.5"
      onKeyDown={(event) => event.key === "Escape" && close()}
    >
      <div className="mb-1 flex items-center justify-between">
        <h3 className="text-plain first-letter:uppercase">{name}</h3>
        <button className="btn btn-ghost btn-sm min-h-9" onClick={close} aria-label="Close this part">
          done
        </button>
      </div>
      {"opening" in target ? (
        <OpeningFields {...props} opening={target.opening} />
      ) : target.part === "shell" ? (
        <ShellFields {...props} />
      ) : target.part === "tubes" ? (
        <TubeFields {...props} />
      ) : (
        <EndFields {...props} index={target.part === "end 1" ? 0 : 1} />
      )}
      {problem && (
        <p role="alert" className="text-small text-vermilion">
          {problem.says}
        </p>
      )}
    </div>
  )
}

/** As many beside one another as there is room for. */
function Fields({ children }: { children: ReactNode }) {
  return <div className="grid grid-cols-2 items-start gap-x-4 md:grid-cols-4">{children}</div>
}

/** A quantity of the sheet by its path. */
function useQuantity({ sheet, change, habit, problem }: PanelProps) {
  return (path: string, label: string, kind: QuantityKind = "length", hint: ReactNode = "") => (
    <QuantityField
      compact
      label={label}
      kind={kind}
      unit={kind === "angle" ? "deg" : kind === "pressure" ? (habit === "metric" ? "bar" : "psi") : habit === "metric" ? "mm" : "in"}
      hint={hint}
      value={textAt(sheet, path)}
      onChange={(text) => change(withAt(sheet, path, text || undefined))}
      problem={problem?.field === path ? problem.says : null}
    />
  )
}

function ShellFields(props: PanelProps) {
  const { sheet, change } = props
  const { data: me } = useMe()
  const quantity = useQuantity(props)
  return (
    <Fields>
      {quantity("shell.inside_diameter", "Inside diameter")}
      {at(sheet, "shell.form") !== "sphere" && quantity("shell.length", "Length, seam to seam")}
      {quantity("shell.wall", "Wall")}
      {quantity("shell.corrosion", "Allow for rust")}
      <Pick
        compact
        label="Material"
        value={textAt(sheet, "shell.material") || "other"}
        onChange={(id) => change(withAt(sheet, "shell.material", id))}
        options={(me?.materials ?? []).map((m) => [m.id, m.name] as const)}
      />
      <Text
        compact
        label="Joint efficiency"
        value={textAt(sheet, "shell.joint_efficiency")}
        onChange={(text) => change(withAt(sheet, "shell.joint_efficiency", text === "" ? undefined : Number.isFinite(Number(text)) ? Number(text) : text))}
      />
    </Fields>
  )
}

function EndFields(props: PanelProps & { index: number }) {
  const { sheet, change, index } = props
  const quantity = useQuantity(props)
  const path = `ends.${index}`
  const form = textAt(sheet, `${path}.form`)
  return (
    <Fields>
      <Pick compact label="Form" value={form} onChange={(id) => change(withAt(sheet, `${path}.form`, id))} options={END_FORMS} />
      {quantity(`${path}.wall`, "Wall")}
      {form === "stayed" && quantity(`${path}.pitch`, "Pitch of the stays")}
      {form === "stayed" && quantity(`${path}.stay_diameter`, "Least diameter of a stay")}
      {form === "torispherical" && quantity(`${path}.crown`, "Crown radius")}
      {form === "torispherical" && quantity(`${path}.knuckle`, "Knuckle radius")}
    </Fields>
  )
}

function TubeFields(props: PanelProps) {
  const { sheet, change } = props
  const quantity = useQuantity(props)
  return (
    <Fields>
      <Text
        compact
        label="How many"
        value={textAt(sheet, "tubes.0.count")}
        onChange={(text) => change(withAt(sheet, "tubes.0.count", /^\d+$/.test(text) ? Number(text) : text || undefined))}
      />
      {quantity("tubes.0.outside_diameter", "Outside diameter")}
      {quantity("tubes.0.wall", "Wall")}
    </Fields>
  )
}

function OpeningFields(props: PanelProps & { opening: string }) {
  const { sheet, change, opening, close, retarget } = props
  const { data: me } = useMe()
  const quantity = useQuantity(props)
  const all = sheet.fittings ?? []
  const index = all.findIndex((one) => one.name === opening)
  if (index < 0) return null
  const path = `fittings.${index}`
  const suggested = me?.fitted.find((f) => f.id === all[index]!.fitted)?.notes
  const rename = (text: string) => {
    if (all.some((one, i) => i !== index && one.name === text)) return
    change(withAt(sheet, `${path}.name`, text))
    retarget({ opening: text })
  }
  const drop = () => {
    change({ ...sheet, fittings: all.filter((_, i) => i !== index) })
    close()
  }
  return (
    <>
      <Fields>
        <Text compact label="Name" value={all[index]!.name} onChange={rename} />
        <Text
          compact
          label="Thread or flange"
          value={textAt(sheet, `${path}.thread`)}
          onChange={(text) => change(withAt(sheet, `${path}.thread`, text || undefined))}
          hint={textAt(sheet, `${path}.thread`) ? "" : "½ BSP"}
        />
        <Pick
          compact
          label="In service"
          value={all[index]!.fitted ?? ""}
          onChange={(id) => change(withAt(sheet, `${path}.fitted`, id || undefined))}
          options={[["", "not said"], ...(me?.fitted ?? []).map((f) => [f.id, f.name] as const)]}
        />
        <Pick
          compact
          label="For the test"
          value={all[index]!.for_test ?? ""}
          onChange={(id) => change(withAt(sheet, `${path}.for_test`, id || undefined))}
          options={[
            ["", suggested ? `not said; usual: ${suggested.replace("-", " ")}` : "not said"],
            ...(me?.for_test ?? []).map((f) => [f.id, f.name] as const),
          ]}
        />
        {quantity(`${path}.rating`, "Rating of what closes it", "pressure")}
        {quantity(`${path}.sealed_diameter`, "Sealed diameter")}
        {quantity(`${path}.bore`, "Bore", "length", "for draining")}
        <PlaceFields {...props} path={`${path}.place`} />
      </Fields>
      <div className="flex flex-wrap items-center justify-between gap-3">
        <p className="text-small text-quiet">Type where it is, drag it, or move it with the arrow keys.</p>
        <button className="btn btn-outline btn-sm min-h-9 border-vermilion text-vermilion" onClick={drop}>
          Take it off the drawing
        </button>
      </div>
    </>
  )
}

/** Where an opening is, as it is measured there. */
function PlaceFields(props: PanelProps & { path: string }) {
  const { sheet, change, path } = props
  const quantity = useQuantity(props)
  const low = at(sheet, "box") != null
  const on = textAt(sheet, `${path}.on`) || "shell"
  return (
    <>
      <Pick
        compact
        label="It is on"
        value={on}
        onChange={(id) => change(withAt(sheet, path, { on: id }))}
        options={
          low
            ? [
                ["top", "the top"],
                ["side", "a side"],
              ]
            : [
                ["shell", "the shell"],
                ["end 1", "end 1"],
                ["end 2", "end 2"],
              ]
        }
      />
      {on === "shell" && quantity(`${path}.along`, "From the first seam")}
      {on === "top" && quantity(`${path}.along`, "From the middle")}
      {on === "side" && quantity(`${path}.up`, "Up from the bottom")}
      {(on === "end 1" || on === "end 2") && quantity(`${path}.out`, "From the axis")}
      {!low && quantity(`${path}.round`, "Round from the top", "angle")}
    </>
  )
}
