import { scaleLinear } from "d3-scale"
import type { Schema } from "../api/client"
import { Ruled } from "../parts/Ruled"
import { digits, inUnit, unitOf, type Habit } from "../parts/units"
import { useSize } from "../parts/useSize"

type Strokes = Schema["StrokesAnswer"]
type Pumped = Schema["Pumped"]

/** Pumped volume against pressure: what was read, the fit through it, and what was expected. */
export function PumpedChart({ pumped, habit }: { pumped: Strokes; habit: Habit }) {
  const [ref, { width, height }] = useSize()
  return (
    <div ref={ref} className="h-36 w-full overflow-hidden">
      {width > 0 && <Drawing pumped={pumped} habit={habit} width={width} height={height} />}
    </div>
  )
}

function Drawing({ pumped, habit, width, height }: { pumped: Strokes; habit: Habit; width: number; height: number }) {
  const [left, right, top, bottom] = [34, width - 8, 14, height - 18]
  const all = [...pumped.points, ...pumped.expected]
  const x = scaleLinear()
    .domain([0, Math.max(...all.map((p) => p.pumped)) * 1e6])
    .range([left, right])
  const y = scaleLinear()
    .domain([0, inUnit(Math.max(...all.map((p) => p.pressure)), "pressure", habit) * 1.05])
    .range([bottom, top])
  const at = (p: Pumped): [number, number] => [x(p.pumped * 1e6), y(inUnit(p.pressure, "pressure", habit))]
  const path = (points: Pumped[]) => points.map((p, i) => `${i ? "L" : "M"}${at(p).join(" ")}`).join(" ")
  const last = pumped.points.at(-1)
  return (
    <svg
      width={width}
      height={height}
      role="img"
      aria-label={`Pumped volume against pressure: ${last ? `${digits(last.pumped * 1e6, 3)} mL at ${digits(inUnit(last.pressure, "pressure", habit), 3)} ${unitOf("pressure", habit)}` : "nothing yet"}`}
    >
      <Ruled y={y} left={left} right={right} ticks={3} figures={3} />
      {x.ticks(3).map((tick, i, ticks) => (
        <text
          key={tick}
          x={x(tick)}
          y={bottom + 15}
          textAnchor={i === ticks.length - 1 ? "end" : "middle"}
          fontSize="12"
          className="figure"
          fill="var(--quiet)"
        >
          {digits(tick, 3)}
          {i === ticks.length - 1 ? " mL" : ""}
        </text>
      ))}
      <text x={left - 6} y={10} textAnchor="end" fontSize="11" fill="var(--quiet)">
        {unitOf("pressure", habit)}
      </text>
      <path d={path(pumped.expected)} fill="none" stroke="var(--brass)" strokeWidth="1.6" strokeDasharray="5 4" />
      {pumped.fit.length > 0 && <path d={path(pumped.fit)} fill="none" stroke="var(--water)" strokeWidth="1.4" opacity="0.7" />}
      {pumped.points.map((p, i) => (
        <circle key={i} cx={at(p)[0]} cy={at(p)[1]} r={pumped.points.length > 40 ? 2 : 3.4} fill="var(--water)" />
      ))}
    </svg>
  )
}
