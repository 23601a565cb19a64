import { scaleLinear } from "d3-scale"
import type { Schema } from "../api/client"
import { Ruled } from "../parts/Ruled"
import { day, inUnit, unitOf, type Habit } from "../parts/units"
import { useSize } from "../parts/useSize"

type Side = Schema["ComparedSide"]
type WallsProps = { before: Side; after: Side; habit: Habit }

/** The walls of two surveys along the shell, one over the other. */
export function Walls({ before, after, habit }: WallsProps) {
  const [ref, { width }] = useSize()
  const all = [...before.walls, ...after.walls]
  if (all.length === 0)
    return <p className="mt-3 text-note text-quiet">No wall readings with a place: there is nothing to hold against each other along the shell.</p>
  return (
    <section className="mt-4" aria-label="Walls along the shell">
      <h3 className="text-plain">
        Wall along the shell, <span className="text-brass-ink">○ {seen(before)}</span> and <span className="text-water-ink">● {seen(after)}</span>
      </h3>
      <div ref={ref} className="h-40 w-full">
        {width > 0 && <Drawn before={before} after={after} habit={habit} width={width} height={160} />}
      </div>
    </section>
  )
}

const seen = (side: Side) => (side.walls[0]?.date ? day(side.walls[0].date) : "not measured")

function Drawn({ before, after, habit, width, height }: WallsProps & { width: number; height: number }) {
  const all = [...before.walls, ...after.walls]
  const unit = (value: number) => inUnit(value, "length", habit)
  const [left, right, top, bottom] = [58, width - 14, 26, height - 24]
  const x = scaleLinear()
    .domain([0, unit(Math.max(...all.map((one) => one.along))) * 1.08])
    .range([left, right])
  const y = scaleLinear()
    .domain([unit(Math.min(...all.map((one) => one.wall))) * 0.96, unit(Math.max(...all.map((one) => one.wall))) * 1.03])
    .nice(4)
    .range([bottom, top])
  const path = (side: Side) =>
    side.walls
      .filter((one) => Math.abs(one.round - Math.PI) < 0.2)
      .sort((a, b) => a.along - b.along)
      .map((one, i) => `${i ? "L" : "M"}${x(unit(one.along))} ${y(unit(one.wall))}`)
      .join(" ")
  const dots = (side: Side, later: boolean) =>
    side.walls.map((one, i) => (
      <circle
        key={i}
        cx={x(unit(one.along))}
        cy={y(unit(one.wall))}
        r={later ? 4.5 : 6}
        fill={later ? "var(--water)" : "var(--color-ground)"}
        stroke={later ? "var(--water)" : "var(--brass)"}
        strokeWidth="2"
      />
    ))
  return (
    <svg width={width} height={height} viewBox={`0 0 ${width} ${height}`} role="img" aria-label="Wall thickness along the shell in two surveys">
      <Ruled y={y} left={left} right={right} ticks={4} figures={3} />
      <path d={path(before)} fill="none" stroke="var(--brass)" strokeWidth="1.6" strokeDasharray="6 4" />
      <path d={path(after)} fill="none" stroke="var(--water)" strokeWidth="2.2" />
      {dots(before, false)}
      {dots(after, true)}
      {x.ticks(6).map((tick) => (
        <text key={tick} x={x(tick)} y={bottom + 16} textAnchor="middle" fontSize="12.5" className="figure" fill="var(--quiet)">
          {tick}
        </text>
      ))}
      <text x={right} y={bottom - 5} textAnchor="end" fontSize="12" fill="var(--quiet)">
        {unitOf("length", habit)} from the first seam
      </text>
      <text x={left - 8} y={11} textAnchor="end" fontSize="12" fill="var(--quiet)">
        {unitOf("length", habit)}
      </text>
    </svg>
  )
}
