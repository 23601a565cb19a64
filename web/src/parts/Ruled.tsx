import type { ScaleLinear } from "d3-scale"
import { digits } from "./units"

type RuledProps = { y: ScaleLinear<number, number>; left: number; right: number; ticks: number; figures: number }

/** Down to here the unit of a chart stands over its figures, px. */
const UNIT = 20

/** The level lines of a chart, each with its figure at the left. */
export function Ruled({ y, left, right, ticks, figures }: RuledProps) {
  return y.ticks(ticks).map((tick) => (
    <g key={tick}>
      <line x1={left} x2={right} y1={y(tick)} y2={y(tick)} stroke="var(--color-rule)" />
      <text x={left - 8} y={y(tick) + 4} textAnchor="end" fontSize="12.5" className="figure" fill="var(--quiet)">
        {y(tick) > UNIT && digits(tick, figures)}
      </text>
    </g>
  ))
}
