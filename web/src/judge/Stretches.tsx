import { scaleLinear } from "d3-scale"
import type { Schema } from "../api/client"
import { digits, inUnit, span, unitOf, type Habit } from "../parts/units"
import { useSize } from "../parts/useSize"

type StretchesProps = { stretches: Schema["StretchOut"][]; lows: Schema["LowHold"][]; habit: Habit }

/** The test hold between its low holds on one clock: how the gauge moved in each, and the drift that they measured through all. */
export function Stretches({ stretches, lows, habit }: StretchesProps) {
  const [ref, { width }] = useSize()
  const test = stretches.find((one) => one.role === "test")
  if (!test || lows.length === 0) return null
  const height = 116
  const [left, right, top, bottom] = [58, width - 14, 16, height - 24]
  const drift = lows.reduce((sum, low) => sum + (low.drift ?? 0), 0) / lows.length
  const times = stretches.flatMap((one) => one.time)
  const span_ = [Math.min(...times), Math.max(...times)] as const
  const along = test.time.map((time) => drift * (time - test.time[0]!))
  const moved = [...stretches.flatMap((one) => one.moved), ...along, 0].map((value) => inUnit(value, "pressure", habit))
  const x = scaleLinear()
    .domain([span_[0] / 60, span_[1] / 60])
    .range([left, right])
  const y = scaleLinear()
    .domain([Math.min(...moved), Math.max(...moved)])
    .nice(3)
    .range([bottom, top])
  const line = (time: number[], values: number[]) => time.map((at, i) => `${i ? "L" : "M"}${x(at / 60)} ${y(inUnit(values[i]!, "pressure", habit))}`).join(" ")
  return (
    <figure ref={ref} data-testid="stretches">
      <figcaption className="text-small text-quiet">
        Moved since each was shut in, {unitOf("pressure", habit)} over minutes: the hold <span className="text-water-ink">—</span>, its low holds{" "}
        <span className="text-moss">—</span>, and their drift through the hold <span className="text-moss">- -</span>
      </figcaption>
      {width > 0 && (
        <svg
          width={width}
          height={height}
          role="img"
          aria-label={`${stretches.map((one) => `${one.role === "test" ? "the hold" : "a low hold"} moved by ${digits(inUnit(one.moved.at(-1) ?? 0, "pressure", habit), 2)} ${unitOf("pressure", habit)} in ${span((one.time.at(-1) ?? 0) - (one.time[0] ?? 0))}`).join("; ")}`}
        >
          {y.ticks(3).map((tick) => (
            <g key={tick}>
              <line x1={left} x2={right} y1={y(tick)} y2={y(tick)} stroke="var(--color-rule)" />
              <text x={left - 6} y={y(tick) + 4} textAnchor="end" fontSize="12" className="figure" fill="var(--quiet)">
                {digits(tick, 2)}
              </text>
            </g>
          ))}
          {x.ticks(6).map((tick) => (
            <text key={tick} x={x(tick)} y={bottom + 17} textAnchor="middle" fontSize="12" className="figure" fill="var(--quiet)">
              {tick}
            </text>
          ))}
          <path d={line(test.time, along)} fill="none" stroke="var(--color-moss)" strokeWidth="2" strokeDasharray="6 4" />
          {stretches.map((one, i) => (
            <path key={i} d={line(one.time, one.moved)} fill="none" stroke={one.role === "test" ? "var(--water)" : "var(--color-moss)"} strokeWidth="2.6" />
          ))}
        </svg>
      )}
    </figure>
  )
}
