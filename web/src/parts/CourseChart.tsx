import { scaleLinear } from "d3-scale"
import type { ReactNode } from "react"
import type { Schema } from "../api/client"
import { endingAfter, inside, wide } from "./labels"
import { Ruled } from "./Ruled"
import { aim, digits, inUnit, unitOf, type Habit, span, ruledIn } from "./units"
import { useSize } from "./useSize"

type Answer = Schema["DeriveAnswer"]
export type TracePoint = { time: number; pressure: number }

/** What lies over the chart needs of it: px and back. */
export type ChartFrame = {
  y: (pressure: number) => number
  pressureAt: (y: number) => number
  level: (stage: Schema["StageAnswer"]) => [number, number] | null
}

type CourseChartProps = {
  answer: Answer
  habit: Habit
  /** What was read, s from the start and Pa. */
  trace?: TracePoint[]
  /** Name the stages on the chart. */
  named?: boolean
  /** The planned course begins so many s after the start. */
  shift?: number
  /** What lies over it: handles to move the stages by. */
  over?: (chart: ChartFrame) => ReactNode
}

/** The planned course of pressure over time, and over it what was read. */
export function CourseChart(props: CourseChartProps) {
  const [ref, { width, height }] = useSize()
  return (
    <div ref={ref} className="h-full min-h-40 w-full overflow-hidden">
      {width > 0 && height > 0 && <Drawing {...props} width={width} height={height} />}
    </div>
  )
}

function Drawing({ answer, habit, trace, named, shift = 0, over, width, height }: CourseChartProps & { width: number; height: number }) {
  const [right, top, bottom] = [width - 18, named ? 34 : 14, height - 34]
  const course = answer.profile.map((p) => ({ time: p.time + shift, pressure: p.pressure }))
  const end = Math.max(course.at(-1)?.time ?? 60, trace?.at(-1)?.time ?? 0)
  const highest = Math.max(answer.gauge_target, ...(trace ?? []).map((p) => p.pressure))
  const ruled = ruledIn(end)
  const y = scaleLinear()
    .domain([0, inUnit(highest, "pressure", habit) * (named ? 1.16 : 1.1)])
    .range([bottom, top])
  const left = Math.max(46, 12 + Math.max(...y.ticks(4).map((tick) => wide(digits(tick, 4), 12.5))))
  const x = scaleLinear()
    .domain([0, end / ruled.size])
    .range([left, right])
  const px = (p: TracePoint) => x(p.time / ruled.size)
  const py = (p: TracePoint) => y(inUnit(p.pressure, "pressure", habit))
  const path = course.map((p, i) => `${i ? "L" : "M"}${px(p)} ${py(p)}`).join(" ")
  const ends = (level: Schema["Stretch"]): [number, number] => [x((level.begins + shift) / ruled.size), x((level.ends + shift) / ruled.size)]
  const zone = answer.behind_the_line ? ends(answer.behind_the_line) : null
  const frame: ChartFrame = {
    y: (pressure) => y(inUnit(pressure, "pressure", habit)),
    pressureAt: (at) => Math.max(0, y.invert(at)) * (1 / inUnit(1, "pressure", habit)),
    level: (stage) => (stage.level ? ends(stage.level) : null),
  }
  return (
    <svg
      width={width}
      height={height}
      viewBox={`0 0 ${width} ${height}`}
      className="print:h-auto print:w-full"
      role={over ? "group" : "img"}
      aria-label={`Planned course: ${answer.stages.length} stages to ${aim(answer.gauge_target, habit)} ${unitOf("pressure", habit)}, then the hold`}
    >
      {zone && (
        <rect x={zone[0]} y={top - (named ? 14 : 0)} width={Math.max(0, zone[1] - zone[0])} height={bottom - top + (named ? 14 : 0)} fill="var(--brass-soft)" />
      )}
      <Ruled y={y} left={left} right={right} ticks={4} figures={4} />
      {x.ticks(7).map((tick) => (
        <text key={tick} x={x(tick)} y={bottom + 17} textAnchor="middle" fontSize="12.5" className="figure" fill="var(--quiet)">
          {digits(tick, 4)}
        </text>
      ))}
      <text x={right} y={bottom + 31} textAnchor="end" fontSize="12" fill="var(--quiet)">
        {ruled.name}
      </text>
      <text x={left - 8} y={top - (named ? 18 : 3)} textAnchor="end" fontSize="12" fill="var(--quiet)">
        {unitOf("pressure", habit)}
      </text>
      {!trace && <path d={`${path} V${bottom} H${left} Z`} fill="var(--water-soft)" opacity="0.55" />}
      <path d={path} fill="none" stroke="var(--brass)" strokeWidth={trace ? 1.8 : 2.6} strokeDasharray={trace ? "5 4" : undefined} strokeLinejoin="round" />
      {!trace &&
        !answer.heating &&
        course
          .slice(1, -1)
          .map((p, i) => <circle key={i} cx={px(p)} cy={py(p)} r="4.5" fill="var(--color-ground)" stroke="var(--brass-ink)" strokeWidth="2" />)}
      {named && <Names answer={answer} habit={habit} ends={ends} y={frame.y} zone={zone} top={top} edges={[left + 4, width - 2]} />}
      {over?.(frame)}
      {trace && trace.length > 0 && <Trace points={trace} px={px} py={py} />}
    </svg>
  )
}

function Trace({ points, px, py }: { points: TracePoint[]; px: (p: TracePoint) => number; py: (p: TracePoint) => number }) {
  const last = points.at(-1)!
  return (
    <g>
      <path d={points.map((p, i) => `${i ? "L" : "M"}${px(p)} ${py(p)}`).join(" ")} fill="none" stroke="var(--water)" strokeWidth="3" strokeLinejoin="round" />
      <circle cx={px(last)} cy={py(last)} r="6" fill="var(--water)" />
    </g>
  )
}

type NamesProps = {
  answer: Answer
  habit: Habit
  ends: (level: Schema["Stretch"]) => [number, number]
  y: (pressure: number) => number
  zone: [number, number] | null
  top: number
  edges: [number, number]
}

function Names({ answer, habit, ends, y, zone, top, edges }: NamesProps) {
  const number = (pressure: number) => aim(pressure, habit)
  const middle = (level: Schema["Stretch"]) => (ends(level)[0] + ends(level)[1]) / 2
  const holding = answer.stages.at(-1)?.level
  const look = answer.hold.look
  const held =
    answer.procedure === "relief"
      ? "till it lifts, three rounds"
      : answer.procedure === "steam"
        ? "valve lifts, full fire"
        : `hold ${number(answer.gauge_target)} for ${span(answer.hold.minimum)}`
  const looked = `look ${digits(inUnit(answer.hold.look_pressure, "pressure", habit))}`
  return (
    <g fontSize="13.5" fill="var(--color-ink)" textAnchor="middle" className="halo">
      {answer.stages.slice(0, -1).map((stage, index) => {
        if (!stage.level) return null
        const ending = endingAfter(ends(stage.level)[1] + 2, number(stage.target), edges[0])
        const next = answer.stages[index + 1]
        const crowded = next?.level != null && y(stage.target) - y(next.target) < 16 && ends(next.level)[1] - wide(number(next.target)) < ending
        const room = ends(stage.level)[1] - ends(stage.level)[0]
        const strokes = room > 30 ? stage.strokes_from_last : null
        return (
          <g key={stage.id} textAnchor="end">
            {!crowded && (
              <text x={ending} y={y(stage.target) - 10} className="figure">
                {number(stage.target)}
              </text>
            )}
            {strokes != null && (
              <text
                x={inside(middle(stage.level), index === 0 ? `+${digits(strokes, 2)} strokes` : "", edges, 12)}
                y={y(stage.target) + 19}
                textAnchor="middle"
                fontSize="12"
                fill="var(--color-ink)"
              >
                +{digits(strokes, 2)}
                {index === 0 ? " strokes" : ""}
              </text>
            )}
          </g>
        )
      })}
      {holding && (
        <text x={inside(middle(holding), held, edges)} y={y(answer.gauge_target) - 10} className="figure">
          {held}
        </text>
      )}
      {look && (
        <text x={inside(middle(look), looked, edges)} y={y(answer.hold.look_pressure) - 10} className="figure">
          {looked}
        </text>
      )}
      {zone && (
        <>
          <text x={zone[0] + 6} y={top - 3} textAnchor="start" fontSize="12.5" fill="var(--brass-ink)">
            nobody near
          </text>
          {zone[0] > 128 && (
            <text x={zone[0] - 8} y={top - 3} textAnchor="end" fontSize="12.5" fill="var(--quiet)">
              may be near
            </text>
          )}
        </>
      )}
    </g>
  )
}
