import { show, type Habit } from "../units"
import type { Px } from "./Elevation"
import type { Shape } from "./frame"

type DimensionsProps = { shape: Shape; px: Px; habit: Habit; middle: number; base: number; /** px above it kept clear for the openings. */ clear: number }

/** The figures on the drawing: length, diameter, wall, the thinnest reading. */
export function Dimensions({ shape, px, habit, middle, base, clear }: DimensionsProps) {
  const long = (value: number | null) => show(value, "length", habit, 4)
  const y = base - (px.frame.tall * px.scale) / 2
  if (shape.form === "unknown") return null
  if (shape.form === "loop") {
    return (
      <text x={middle} y={24} textAnchor="middle" className="figure" fontSize="13" fill="var(--color-ink)">
        {show(shape.length, "height", habit, 3)} of ⌀ {long(shape.diameter)}, drawn folded
      </text>
    )
  }
  const upright = shape.form === "drum" || shape.form === "box"
  const across = upright && shape.form === "box" ? `${long(shape.diameter)} × ${long(shape.width)}` : `⌀ ${long(shape.diameter)}`
  const wall = shape.wall != null ? `wall ${show(shape.wall, "length", habit, 3)}` : upright || shape.form === "cask" ? null : "wall not known"
  const low = px.frame.tall * px.scale < 92
  const thin = shape.thinnest != null && shape.wall != null && shape.thinnest < shape.wall
  return (
    <g fill="var(--color-ink)" fontSize="13">
      <Length shape={shape} px={px} text={long(shape.length)} base={base} clear={clear} />
      <text x={middle} y={y + 1} textAnchor="middle" className="figure" paintOrder="stroke" stroke="var(--color-paper)" strokeWidth="4">
        {across}
      </text>
      {wall && !(thin && low && shape.position === "lying") && (
        <text x={middle} y={y + 19} textAnchor="middle" fill="var(--quiet)" paintOrder="stroke" stroke="var(--color-paper)" strokeWidth="4">
          {wall}
        </text>
      )}
      {thin && (
        <text
          x={middle}
          y={shape.position === "lying" ? base - 12 : y + 38}
          textAnchor="middle"
          fill="var(--vermilion-ink)"
          fontWeight="600"
          paintOrder="stroke"
          stroke="var(--color-paper)"
          strokeWidth="4"
        >
          thinnest {show(shape.thinnest, "length", habit, 3)}
        </text>
      )}
    </g>
  )
}

/** The length: over it when it lies, beside it when it stands. */
function Length({ shape, px, text, base, clear }: { shape: Shape; px: Px; text: string; base: number; clear: number }) {
  if (shape.length == null || shape.form === "sphere") return null
  const rule = { stroke: "var(--quiet)", strokeWidth: 1.2, fill: "none" }
  if (shape.position === "standing") {
    const [x, from, to] = [px.x(0, (shape.diameter ?? 0) / 2) - 26 - clear, px.y(0, 0), px.y(shape.length, 0)]
    return (
      <g>
        <path d={`M${x - 6} ${from} h12 M${x - 6} ${to} h12 M${x} ${from} V${(from + to) / 2 + 34} M${x} ${(from + to) / 2 - 34} V${to}`} {...rule} />
        <text x={x} y={(from + to) / 2} textAnchor="middle" className="figure" transform={`rotate(-90 ${x} ${(from + to) / 2})`} dy="4">
          {text}
        </text>
      </g>
    )
  }
  const top = base - px.frame.tall * px.scale - 18 - clear
  const [from, to] = [px.x(0, 0), px.x(shape.length, 0)]
  return (
    <g>
      <path d={`M${from} ${top - 6} v12 M${to} ${top - 6} v12 M${from} ${top} H${(from + to) / 2 - 38} M${(from + to) / 2 + 38} ${top} H${to}`} {...rule} />
      <text x={(from + to) / 2} y={top + 4} textAnchor="middle" className="figure">
        {text}
      </text>
    </g>
  )
}
