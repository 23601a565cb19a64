import { useEffect, useRef, type ReactNode } from "react"
import { useMe } from "../api/me"
import { Pair, Pick, Text } from "../parts/Fields"
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
  /** Where it would not lie over its part. */ left: boolean
}

/** The fields of one part, over the drawing, where it was clicked. */
export function PartPanel(props: PanelProps) {
  const { target, close, problem, left } = props
  const ref = useRef<HTMLDivElement>(null)
  const name = "part" in target ? target.part : target.opening
  useEffect(() => ref.current?.querySelector<HTMLElement>("input, select")?.focus({ preventScroll: true }), ["part" in target ? target.part : ""]) // eslint-disable-line react-hooks/exhaustive-deps
  return (
    <div
      ref={ref}
      role="dialog"
      aria-label={`Change ${name}`}
      className={`absolute top-1 z-20 ${left ? "left-0" : "right-0"} w-[312px] border-line border-ink bg-paper p-3 shadow-[0_6px_18px_rgb(0_0_0/0.18)]`}
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

/** A quantity of the sheet by its path. */
function useQuantity({ sheet, change, habit, problem }: PanelProps) {
  return (path: string, label: string, kind: QuantityKind = "length", hint: ReactNode = "") => (
    <QuantityField
      compact
      label={label}
      kind={kind}
      unit={kind === "pressure" ? (habit === "metric" ? "bar" : "psi") : habit === "metric" ? "mm" : "in"}
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
    <Pair>
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
    </Pair>
  )
}

function EndFields(props: PanelProps & { index: number }) {
  const { sheet, change, index } = props
  const quantity = useQuantity(props)
  const path = `ends.${index}`
  const form = textAt(sheet, `${path}.form`)
  return (
    <Pair>
      <Pick compact label="Form" value={form} onChange={(id) => change(withAt(sheet, `${path}.form`, id))} options={END_FORMS} />
      {quantity(`${path}.wall`, "Wall")}
      {form === "stayed" && quantity(`${path}.pitch`, "Pitch of the stays")}
      {form === "stayed" && quantity(`${path}.stay_diameter`, "Least diameter of a stay")}
      {form === "torispherical" && quantity(`${path}.crown`, "Crown radius")}
      {form === "torispherical" && quantity(`${path}.knuckle`, "Knuckle radius")}
    </Pair>
  )
}

function TubeFields(props: PanelProps) {
  const { sheet, change } = props
  const quantity = useQuantity(props)
  return (
    <Pair>
      <Text
        compact
        label="How many"
        value={textAt(sheet, "tubes.0.count")}
        onChange={(text) => change(withAt(sheet, "tubes.0.count", /^\d+$/.test(text) ? Number(text) : text || undefined))}
      />
      {quantity("tubes.0.outside_diameter", "Outside diameter")}
      {quantity("tubes.0.wall", "Wall")}
    </Pair>
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
      <Pair>
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
        <div className="self-end pb-4">
          <button className="btn btn-outline btn-sm min-h-9 border-vermilion text-vermilion" onClick={drop}>
            Take it off the drawing
          </button>
        </div>
      </Pair>
      <p className="text-fine text-quiet">{placeInWords(all[index]!.place)} Drag it, or move it with the arrow keys.</p>
    </>
  )
}

/** “end 1, 150 mm from the axis” */
export function placeInWords(place: Record<string, string | undefined> | null | undefined): string {
  if (!place) return "It has no place yet."
  const round = place["round"] && !place["round"].startsWith("0") ? `, ${place["round"].replace(" deg", "°")} round from the top` : ""
  if (place["on"] === "end 1" || place["on"] === "end 2") return `On ${place["on"]}, ${place["out"] ?? "0 mm"} from the axis.`
  if (place["on"] === "top") return "On the top."
  if (place["on"] === "side") return `On the side, ${place["up"] ?? "0 mm"} up.`
  return `On the shell, ${place["along"] ?? "0 mm"} from the first seam${round}.`
}
