import type { Schema } from "../api/client"
import { show, type Habit } from "./units"

type Shape = Schema["VesselShape"]
type ElevationProps = { shape: Shape; scale: number; habit?: Habit; dimensions?: boolean; water?: boolean; ground?: boolean }

/** Overall size of a vessel as drawn, m. */
export function extent(shape: Shape): { along: number; across: number } {
  if (!shape.diameter) return { along: 0.3, across: 0.3 }
  if (shape.form === "sphere") return { along: shape.diameter, across: shape.diameter }
  const ends = shape.ends.reduce((sum, end) => sum + end.depth, 0)
  return { along: (shape.length ?? shape.diameter * 2) + ends, across: shape.diameter }
}

/** Outline of a vessel lying along x, its axis on y = 0, m. */
function outline(shape: Shape): string {
  const R = (shape.diameter ?? 0.3) / 2
  if (shape.form === "sphere") return `M${-R} 0 A${R} ${R} 0 1 1 ${R} 0 A${R} ${R} 0 1 1 ${-R} 0 Z`
  const L = shape.length ?? R * 4
  const [left = 0, right = left] = shape.ends.map((end) => end.depth)
  const cap = (depth: number, to: string) => (depth > 0 ? `A${depth} ${R} 0 0 1 ${to}` : `L${to}`)
  return `M${-L / 2} ${-R} H${L / 2} ${right > 0 ? `A${right} ${R} 0 0 1 ${L / 2} ${R}` : `V${R}`} H${-L / 2} ${cap(left, `${-L / 2} ${-R}`)} Z`
}

/** The vessel drawn from its own figures. `scale` is px per metre; the ground line is at the bottom. */
export function Elevation({ shape, scale, habit = "metric", dimensions = false, water = false, ground = true }: ElevationProps) {
  const { along, across } = extent(shape)
  const standing = shape.position === "standing"
  const [w, h] = standing ? [across * scale, along * scale] : [along * scale, across * scale]
  const leg = Math.max(14, Math.min(70, h * 0.3))
  const margin = dimensions ? { x: 46, top: 40, bottom: 14 } : { x: 3, top: 3, bottom: ground ? 2 : 0 }
  const [width, height] = [w + 2 * margin.x, h + leg + margin.top + margin.bottom]
  const [cx, cy] = [width / 2, margin.top + h / 2]
  const offset = offsetOf(shape) * scale
  const floor = margin.top + h + leg
  const seam = shape.form === "cylinder" && shape.length ? (shape.length * scale) / 2 : null
  const thin = shape.thinnest != null && shape.wall != null && shape.thinnest < shape.wall
  return (
    <svg width={width} height={height} viewBox={`0 0 ${width} ${height}`} aria-hidden="true" className="block max-w-full">
      <Legs standing={standing} cx={cx} w={w} base={margin.top + h} ground={floor} />
      <g transform={`translate(${cx} ${cy}) ${standing ? "rotate(-90)" : ""} translate(${offset} 0)`}>
        <path
          d={outline(shape)}
          transform={`scale(${scale})`}
          fill={water ? "var(--water-soft)" : "var(--color-paper)"}
          stroke="var(--color-ink)"
          strokeWidth={2}
          vectorEffect="non-scaling-stroke"
          strokeLinejoin="round"
        />
        {seam != null &&
          [-seam, seam].map((at) => (
            <line key={at} x1={at} x2={at} y1={-h2(standing, w, h) + 3} y2={h2(standing, w, h) - 3} stroke="var(--color-ink)" strokeDasharray="2 3" opacity="0.6" />
          ))}
        {thin && seam != null && !standing && (
          <line x1={-seam * 0.6} x2={seam * 0.6} y1={h / 2 - 3} y2={h / 2 - 3} stroke="var(--vermilion-ink)" strokeWidth="4" />
        )}
      </g>
      {ground && <line x1={0} x2={width} y1={floor} y2={floor} stroke="var(--color-ink)" strokeWidth="2" />}
      {dimensions && <Dimensions shape={shape} habit={habit} cx={cx} cy={cy} w={w} h={h} seam={standing ? null : seam} thin={thin} />}
    </svg>
  )
}

const h2 = (standing: boolean, w: number, h: number) => (standing ? w : h) / 2

function offsetOf(shape: Shape): number {
  const [left = 0, right = left] = shape.ends.map((end) => end.depth)
  return shape.ends.length === 1 ? left / 2 : (left - right) / 2
}

function Legs({ standing, cx, w, base, ground }: { standing: boolean; cx: number; w: number; base: number; ground: number }) {
  const feet = standing ? [-0.46, 0.46] : [-0.33, 0.33]
  const lean = standing ? 0 : 5
  const from = base - (standing ? 22 : 4)
  return (
    <g stroke="var(--color-ink)" strokeWidth="2" fill="none">
      {feet.map((at) => (
        <path key={at} d={`M${cx + at * w} ${from} L${cx + at * w + Math.sign(at) * lean} ${ground}`} />
      ))}
    </g>
  )
}

type DimensionsProps = { shape: Shape; habit: Habit; cx: number; cy: number; w: number; h: number; seam: number | null; thin: boolean }

function Dimensions({ shape, habit, cx, cy, w, h, seam, thin }: DimensionsProps) {
  const half = seam ?? w / 2
  const length = shape.form === "sphere" ? shape.diameter : shape.length
  return (
    <g fill="var(--color-ink)" fontSize="13">
      {length != null && seam != null && (
        <>
          <path d={`M${cx - half} 14 v12 M${cx + half} 14 v12 M${cx - half} 20 H${cx + half}`} stroke="var(--quiet)" strokeWidth="1.2" fill="none" />
          <rect x={cx - 42} y={9} width="84" height="20" fill="var(--color-ground)" />
          <text x={cx} y={24} textAnchor="middle" className="figure">
            {show(length, "length", habit, 4)}
          </text>
        </>
      )}
      <text x={cx} y={cy + 1} textAnchor="middle" className="figure">
        ⌀ {show(shape.diameter, "length", habit, 4)}
      </text>
      <text x={cx} y={cy + 19} textAnchor="middle" fill="var(--quiet)">
        wall {show(shape.wall, "length", habit, 3)}
      </text>
      {thin && (
        <text x={cx} y={cy + h / 2 - 11} textAnchor="middle" fill="var(--vermilion-ink)" fontWeight="600">
          thinnest {show(shape.thinnest, "length", habit, 3)}
        </text>
      )}
    </g>
  )
}
