import type { ReactNode } from "react"
import { Elevation, type Px } from "../parts/elevation/Elevation"
import { extent, radiusAt, type Shape } from "../parts/elevation/frame"
import { Openings, type Place } from "../parts/elevation/Openings"
import { JointPicture } from "../parts/JointPicture"
import { textAt, withAt } from "../parts/path"
import type { Habit } from "../parts/units"
import { useSize } from "../parts/useSize"
import type { Sheet } from "./draft"
import type { Target } from "./PartPanel"

type DrawnVesselProps = {
  shape: Shape | null | undefined
  habit: Habit
  sheet?: Sheet
  change?: (sheet: Sheet) => void
  target?: Target | null
  open?: (target: Target) => void
  tall?: number
  children?: ReactNode
}

/** The vessel large, its dimensions on it; every part opens where it is clicked, every opening moves. */
export function DrawnVessel({ shape, habit, sheet, change, target, open, tall = 172, children }: DrawnVesselProps) {
  const [ref, { width }] = useSize()
  const drawable = shape && shape.form !== "unknown" && width > 0
  const fittings = (sheet?.["fittings"] as { name: string }[] | undefined) ?? []
  const move = (name: string, place: Place) => {
    const index = fittings.findIndex((one) => one.name === name)
    if (index >= 0 && sheet) change?.(withAt(sheet, `fittings.${index}.place`, place))
  }
  return (
    <div className="shrink-0 border-b-line border-rule pb-1">
      <div ref={ref} className="grid min-h-[300px] place-items-center">
        {sheet?.["kind"] === "joint" ? (
          <JointPicture inside={textAt(sheet, "shell.inside_diameter")} wall={textAt(sheet, "shell.wall")} />
        ) : drawable ? (
          <Elevation
            shape={shape}
            habit={habit}
            dimensions
            room={open ? 26 : 0}
            scale={fit(shape, Math.min(width - 190, 600), tall)}
            over={
              open &&
              ((px) => (
                <>
                  <Parts shape={shape} px={px} open={open} target={target ?? null} />
                  <Openings
                    shape={shape}
                    px={px}
                    order={fittings.map((one) => one.name)}
                    selected={target && "opening" in target ? target.opening : null}
                    onSelect={(name) => open({ opening: name })}
                    onMove={change && move}
                  />
                </>
              ))
            }
          />
        ) : (
          <p className="max-w-sm text-center text-quiet">It is drawn here to scale, as soon as there are a wanted pressure and its sizes.</p>
        )}
      </div>
      {children}
    </div>
  )
}

export function fit(shape: Shape, width: number, height: number): number {
  const { wide, tall } = extent(shape)
  return Math.min(width / wide, height / tall)
}

/** Shell, ends and tubes as places to click. */
function Parts({ shape, px, open, target }: { shape: Shape; px: Px; open: (target: Target) => void; target: Target | null }) {
  if (shape.form !== "cylinder" && shape.form !== "sphere") return null
  const length = shape.length ?? shape.diameter ?? 0
  const between = (from: number, to: number, part = 1) => {
    const inside = shape.outline.filter((p) => p.x > from && p.x < to)
    const upper = [{ x: from, r: radiusAt(shape, from) }, ...inside, { x: to, r: radiusAt(shape, to) }]
    return [...upper.map((p) => [p.x, p.r * part] as const), ...upper.map((p) => [p.x, -p.r * part] as const).reverse()]
      .map(([x, v]) => `${px.x(x, v).toFixed(1)},${px.y(x, v).toFixed(1)}`)
      .join(" ")
  }
  const zones: [Target & { part: string }, string, string][] = [[{ part: "shell" }, between(shape.form === "sphere" ? 0 : 1e-4, length - 1e-4), "the shell"]]
  shape.ends.forEach((end, i) => {
    const reach = Math.max(end.depth, 0.02 / Math.max(1, px.scale / 400))
    zones.push([
      { part: i === 0 ? "end 1" : "end 2" },
      i === 0 ? between(-end.depth, end.depth ? 0 : reach) : between(end.depth ? length : length - reach, length + end.depth),
      `end ${i + 1}`,
    ])
  })
  if (shape.tubes.length) zones.push([{ part: "tubes" }, between(length * 0.3, length * 0.7, 0.5), "the tubes"])
  return zones.map(([zone, points, name]) => (
    <polygon
      key={zone.part}
      points={points}
      role="button"
      tabIndex={0}
      aria-label={`Change ${name}`}
      className="cursor-pointer fill-transparent hover:fill-water/10 focus-visible:fill-water/15"
      stroke={target && "part" in target && target.part === zone.part ? "var(--water)" : "none"}
      strokeWidth="2"
      strokeDasharray="5 4"
      onClick={() => open(zone)}
      onKeyDown={(event) => {
        if (event.key !== "Enter" && event.key !== " ") return
        event.preventDefault()
        open(zone)
      }}
    />
  ))
}
