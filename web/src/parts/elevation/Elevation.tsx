import { useId, type ReactNode } from "react"
import type { Habit } from "../units"
import { Dimensions } from "./Dimensions"
import { rows } from "./bubbles"
import { FOLDED, frameOf, type Frame, type Opening, type Shape } from "./frame"
import { Inside } from "./Inside"
import { Support } from "./Support"

export type Px = {
  x: (x: number, v: number) => number
  y: (x: number, v: number) => number
  scale: number
  frame: Frame
  /** Where the figures of its size stand, px. */ figures?: [number, number]
}

type ElevationProps = {
  shape: Shape
  /** px per metre */
  scale: number
  habit?: Habit
  dimensions?: boolean
  /** Draw it full of water, as far as the vent lets it. */
  water?: boolean
  /** How high the water stands, m above the lowest point; as far as the vent lets it where it is not said. */
  filledTo?: number
  ground?: boolean
  /** Seen from behind. */
  behind?: boolean
  /** px left free around it, for what `over` draws there. */
  room?: number
  /** What lies over the drawing: openings, pins, handles. */
  over?: (px: Px) => ReactNode
}

/** The vessel drawn from its own figures, in the attitude of its test; the ground line is at the bottom. */
export function Elevation({
  shape,
  scale,
  habit = "metric",
  dimensions = false,
  water = false,
  filledTo,
  ground = true,
  behind = false,
  room = 0,
  over,
}: ElevationProps) {
  const hatch = useId()
  const clip = useId()
  const frame = frameOf(shape, behind)
  const [w, h] = [frame.wide * scale, frame.tall * scale]
  const upward = (o: Opening) => Math.sin(shape.tilt) * o.dx + Math.cos(shape.tilt) * o.dv
  const below = shape.openings.filter((o) => room > 0 && upward(o) < -0.5)
  const dial = (found: Opening[]) => (found.some((o) => o.choice === "gauge" || o.choice === "tee") ? 24 : 0)
  const more = room ? 23 * rows(shape, scale) : 0
  const leg = Math.max(legOf(shape, h), below.length ? 42 + more + dial(below) : 0)
  const dialAbove = dial(shape.openings.filter((o) => room > 0 && upward(o) > 0.5))
  const margin = {
    x: (dimensions ? 46 : 3) + (room ? room + 12 + more : 0),
    top: (dimensions ? 40 : 3) + (room ? room + 12 + more : 0) + dialAbove,
    bottom: (dimensions ? 14 : 2) + (ground ? 8 : 0),
  }
  const [width, height] = [w + 2 * margin.x, h + leg + margin.top + margin.bottom]
  const px: Px = {
    x: (x, v) => margin.x + frame.toSheet(x, v)[0] * scale,
    y: (x, v) => margin.top + h - frame.toSheet(x, v)[1] * scale,
    scale,
    frame,
    figures: dimensions ? [margin.x + w / 2, margin.top + h / 2 + 8] : undefined,
  }
  const base = margin.top + h
  const path =
    frame.outline.length === 0
      ? ""
      : frame.outline.map(([X, Z], i) => `${i ? "L" : "M"}${(margin.x + X * scale).toFixed(1)} ${(base - Z * scale).toFixed(1)}`).join(" ") + " Z"
  const full = shape.level ?? frame.tall
  const level = Math.min(filledTo ?? full, full)
  const air = water && level === full && shape.level != null && frame.tall - shape.level > 1e-4
  return (
    <svg
      width={width}
      height={height}
      viewBox={`0 0 ${width} ${height}`}
      role={over ? "group" : undefined}
      aria-label={over ? "The vessel, drawn to scale" : undefined}
      aria-hidden={over ? undefined : true}
      className="block max-w-full"
    >
      <defs>
        <pattern id={hatch} width="8" height="8" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <line x1="0" y1="0" x2="0" y2="8" stroke="var(--quiet)" strokeWidth="1.6" />
        </pattern>
        <clipPath id={clip}>
          <path d={path} />
        </clipPath>
      </defs>
      <Support shape={shape} px={px} ground={base + leg} base={base} />
      {shape.form === "loop" ? (
        <Loop x={margin.x} y={margin.top} scale={scale} diameter={shape.diameter ?? 0.02} water={water} />
      ) : (
        <>
          <path d={path} fill="var(--color-paper)" />
          {water && <rect clipPath={`url(#${clip})`} x={0} width={width} y={base - level * scale} height={level * scale} fill="var(--water-soft)" />}
          <Inside shape={shape} px={px} detailed={dimensions} />
          <path
            d={path}
            fill="none"
            stroke="var(--color-ink)"
            strokeWidth={2}
            strokeLinejoin="round"
            strokeDasharray={shape.form === "unknown" ? "6 5" : undefined}
          />
          {air && (
            <g clipPath={`url(#${clip})`}>
              <rect x={0} width={width} y={margin.top} height={base - level * scale - margin.top} fill={`url(#${hatch})`} opacity="0.8" />
              <line x1={0} x2={width} y1={base - level * scale} y2={base - level * scale} stroke="var(--water)" strokeWidth="2.2" />
            </g>
          )}
        </>
      )}
      {ground && (
        <g>
          <rect x={0} y={base + leg} width={width} height={6} fill={`url(#${hatch})`} opacity="0.55" />
          <line x1={0} x2={width} y1={base + leg} y2={base + leg} stroke="var(--color-ink)" strokeWidth="2" />
        </g>
      )}
      {dimensions && <Dimensions shape={shape} px={px} habit={habit} middle={margin.x + w / 2} base={base} clear={room ? room + 14 + more + dialAbove : 0} />}
      {over?.(px)}
    </svg>
  )
}

/** Height of what it stands on, px. */
function legOf(shape: Shape, h: number): number {
  if (["drum", "box", "loop", "unknown"].includes(shape.form)) return shape.form === "loop" ? 12 : 0
  if (shape.form === "cask") return 9
  if (shape.kind === "fermenter" && shape.plastic) return 4
  return Math.max(14, Math.min(shape.position === "standing" ? 30 : 70, h * 0.3))
}

function Loop({ x, y, scale, diameter, water }: { x: number; y: number; scale: number; diameter: number; water: boolean }) {
  const [right, step] = [x + FOLDED.wide * scale, FOLDED.apart * scale]
  const bend = step / 2
  let path = `M${x} ${y + 4}`
  for (let run = 0; run < FOLDED.runs; run++) {
    const at = y + 4 + run * step
    const to = run % 2 === 0 ? right - bend : x + bend
    path += ` H${to}`
    if (run < FOLDED.runs - 1) path += ` a${bend} ${bend} 0 0 ${run % 2 === 0 ? 1 : 0} 0 ${step}`
    else path += ` H${run % 2 === 0 ? right : x} M${x} ${at}`
  }
  const wide = Math.max(5, diameter * scale)
  return (
    <g fill="none">
      <path d={path} stroke="var(--color-ink)" strokeWidth={wide} />
      <path d={path} stroke={water ? "var(--water-soft)" : "var(--color-paper)"} strokeWidth={wide - 3} />
    </g>
  )
}
