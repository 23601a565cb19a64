import { scaleLinear } from "d3-scale"
import type { Schema } from "../api/client"
import { Ruled } from "../parts/Ruled"
import { digits, inUnit, unitOf, type Habit, span } from "../parts/units"
import { useSize } from "../parts/useSize"
import { leak, ruledIn } from "./units"

type Point = Schema["HoldPoint"]
type Other = Schema["OtherHold"]
type HoldChartProps = { points: Point[]; verdict: Schema["JudgeAnswer"]; habit: Habit; over?: Other | null }

/**
 * The hold: pressure as read, with the temperature taken out, the fit and its band, the limit as a wedge; temperature beneath.
 * Steps that were cut out stand as numbered flags, readings left out are hollow; an earlier hold may lie over it.
 */
export function HoldChart(props: HoldChartProps) {
  const [ref, { width, height }] = useSize()
  return (
    <div ref={ref} className="h-full w-full overflow-hidden">
      {width > 0 && height > 0 && <Drawing {...props} width={width} height={height} />}
    </div>
  )
}

function Drawing({ points, verdict, habit, over, width, height }: HoldChartProps & { width: number; height: number }) {
  const warm = points.some((p) => p.temperature != null)
  const seen = points.some((p) => p.corrected != null)
  const [left, right, top] = [58, width - 14, 24]
  const lower = warm ? 74 : 0
  const bottom = height - 36 - lower
  const first = points[0]!
  const end = points.at(-1)!.time
  const begin = points.find((p) => !p.cut) ?? first
  const limit = points.at(-1)!.limit ?? first.pressure
  const level = verdict.level_scale
  const unit = (p: number) => (level == null ? inUnit(p, "pressure", habit) : inUnit((p - first.pressure) * level, "length", habit))
  const named = unitOf(level == null ? "pressure" : "length", habit)
  const values = points.flatMap((p) => [p.pressure, p.corrected ?? p.pressure, p.high ?? p.pressure])
  const range = Math.max(...values) - Math.min(...values)
  const start = begin.limit ?? first.pressure
  const low = Math.max(Math.min(...values, limit), Math.min(...values) - 2 * range - first.pressure * 0.002)
  const ruled = ruledIn(end)
  const x = scaleLinear()
    .domain([0, end / ruled.size])
    .range([left, right])
  const y = scaleLinear()
    .domain([unit(low), unit(Math.max(...values) + (seen ? 0.09 * (Math.max(...values) - low) : 0))])
    .nice(5)
    .range([bottom, top])
  const px = (p: Point) => x(p.time / ruled.size)
  const py = (pressure: number) => y(unit(pressure))
  const line = (pick: (p: Point) => number | null | undefined) =>
    points
      .filter((p) => pick(p) != null)
      .map((p, i) => `${i ? "L" : "M"}${px(p)} ${py(pick(p)!)}`)
      .join(" ")
  const band = `${line((p) => p.high)} ${[...points]
    .reverse()
    .map((p) => `L${px(p)} ${py(p.low ?? p.pressure)}`)
    .join(" ")} Z`
  const clip = "hold-area"
  const slope = (py(limit) - py(start)) / Math.max(1, right - px(begin))
  const beyond = py(start) + slope * (left + 190 - px(begin)) + 18
  const limitAt = py(limit) + 20 < bottom ? py(limit) + 18 : Math.min(bottom - 8, py(limit) - 140 * slope - 8)
  const above = Math.min(...points.filter((p) => px(p) > right - 230).map((p) => Math.min(py(p.corrected ?? p.pressure), py(p.high ?? p.pressure)) - 2))
  const said = Math.max(top + 10, above - 9)
  const takenOut = Math.abs(said - limitAt) >= 17 ? said : limitAt - 17 > top + 8 ? limitAt - 17 : limitAt + 17
  const under = Math.max(...points.filter((p) => px(p) < left + 190).map((p) => Math.max(py(p.pressure), py(p.low ?? p.pressure))))
  return (
    <svg
      width={width}
      height={height}
      viewBox={`0 0 ${width} ${height}`}
      className="print:h-auto print:w-full"
      role="img"
      aria-label={`The hold over ${span(end)}. ${verdict.says}`}
    >
      <clipPath id={clip}>
        <rect x={left} y={top - 4} width={right - left} height={bottom - top + 4} />
      </clipPath>
      <Ruled y={y} left={left} right={right} ticks={5} figures={5} />
      <text x={left - 8} y={11} textAnchor="end" fontSize="12" fill="var(--quiet)">
        {named}
      </text>
      <g clipPath={`url(#${clip})`}>
        <path d={`M${px(begin)} ${py(start)} H${right} L${right} ${py(limit)} Z`} fill="var(--vermilion-soft)" opacity="0.55" />
        <path d={band} fill="var(--water-soft)" opacity="0.8" />
        <path d={`M${px(begin)} ${py(start)} L${right} ${py(limit)}`} stroke="var(--color-vermilion)" strokeWidth="1.5" strokeDasharray="6 4" />
        <path d={line((p) => p.pressure)} fill="none" stroke={seen ? "var(--quiet)" : "var(--water)"} strokeWidth="2" strokeLinejoin="round" />
        {(seen || verdict.verdict === "leaking") && <path d={line((p) => p.fit)} fill="none" stroke="var(--water)" strokeWidth="2.6" />}
        {over && (
          <path
            d={over.times.map((time, i) => `${i ? "L" : "M"}${x(time / ruled.size)} ${py(start - over.drops[i]!)}`).join(" ")}
            fill="none"
            stroke="var(--brass)"
            strokeWidth="2.2"
            strokeDasharray="7 5"
          />
        )}
        {seen &&
          points.length <= 120 &&
          points.map(
            (p, i) =>
              p.corrected != null && (
                <circle key={i} cx={px(p)} cy={py(p.corrected)} r="3" fill={p.cut ? "var(--ground)" : "var(--water)"} stroke="var(--water)" />
              ),
          )}
        {!seen && points.map((p, i) => p.cut && <circle key={i} cx={px(p)} cy={py(p.pressure)} r="3" fill="var(--ground)" stroke="var(--water)" />)}
        {seen && points.length > 120 && <path d={line((p) => p.corrected)} fill="none" stroke="var(--water)" strokeWidth="1" opacity="0.7" />}
      </g>
      {verdict.steps.map((step, index) => (
        <g key={index} opacity={step.put_back ? 0.45 : 1}>
          <line
            x1={x(step.time / ruled.size)}
            x2={x(step.time / ruled.size)}
            y1={top + 14}
            y2={bottom}
            stroke="var(--brass)"
            strokeWidth="1.5"
            strokeDasharray="3 4"
          />
          <rect x={x(step.time / ruled.size) - 9} y={top - 4} width="18" height="18" fill="var(--brass)" />
          <text x={x(step.time / ruled.size)} y={top + 9.5} textAnchor="middle" fontSize="13" fontWeight="700" fill="var(--color-paper)">
            {index + 1}
          </text>
        </g>
      ))}
      <g fontSize="13.5" className="halo">
        {over && (
          <text x={(left + right) / 2} y={bottom - 8} textAnchor="middle" fill="var(--brass-ink)">
            trial {over.number}, laid over
          </text>
        )}
        {seen && (
          <text x={right} y={takenOut} textAnchor="end" fill="var(--water-ink)" fontWeight="600">
            with the temperature taken out
          </text>
        )}
        <text x={left + 14} y={Math.min(bottom - 8, Math.max(under + 22, beyond))} fill="var(--quiet)">
          {verdict.outer_air == null ? "as read" : "the outer air taken out"}:{" "}
          {digits(Math.abs(level == null ? unit(verdict.drop) : inUnit(verdict.drop * level, "length", habit)), 2)} {named} {verdict.drop >= 0 ? "down" : "up"}
        </text>
        {!seen && verdict.verdict !== "leaking" && (
          <text x={right} y={top + 12} textAnchor="end" fill="var(--water-ink)">
            shaded: what a leak alone may have done
          </text>
        )}
        <text x={right - 4} y={limitAt} textAnchor="end" fill="var(--vermilion-ink)">
          the limit: {leak(verdict.limit, habit, true, verdict.by_day)}
        </text>
      </g>
      {warm && <Temperature points={points} habit={habit} x={px} left={left} right={right} top={bottom + 22} bottom={height - 40} />}
      {x.ticks(8).map((tick) => (
        <text key={tick} x={x(tick)} y={height - 18} textAnchor="middle" fontSize="12.5" className="figure" fill="var(--quiet)">
          {digits(tick, 4)}
        </text>
      ))}
      <text x={right} y={height - 3} textAnchor="end" fontSize="12" fill="var(--quiet)">
        {ruled.name} since shut-in
      </text>
    </svg>
  )
}

type TemperatureProps = { points: Point[]; habit: Habit; x: (p: Point) => number; left: number; right: number; top: number; bottom: number }

function Temperature({ points, habit, x, left, right, top, bottom }: TemperatureProps) {
  const known = points.filter((p) => p.temperature != null)
  const values = known.map((p) => inUnit(p.temperature!, "temperature", habit))
  const [low, high] = [Math.min(...values), Math.max(...values)]
  const middle = (low + high) / 2
  const half = Math.max(0.06, (high - low) / 2)
  const y = scaleLinear()
    .domain([middle - half, middle + half])
    .range([bottom, top])
  return (
    <g>
      {[low, high].map((value, index) =>
        index === 0 && high - low < half ? null : (
          <g key={index}>
            <line x1={left} x2={right} y1={y(value)} y2={y(value)} stroke="var(--color-rule)" />
            <text x={left - 8} y={y(value) + 4} textAnchor="end" fontSize="12.5" className="figure" fill="var(--quiet)">
              {value.toFixed(2)}
            </text>
          </g>
        ),
      )}
      <path d={known.map((p, i) => `${i ? "L" : "M"}${x(p)} ${y(values[i]!)}`).join(" ")} fill="none" stroke="var(--brass)" strokeWidth="2.4" />
      <text x={right} y={Math.max(top - 6, 0)} textAnchor="end" fontSize="13" fill="var(--brass-ink)">
        temperature, {unitOf("temperature", habit)}
      </text>
    </g>
  )
}
