import { scaleLinear } from "d3-scale"
import type { ReactNode } from "react"
import type { Schema } from "../api/client"
import { Ruled } from "./Ruled"
import { digits, inUnit, unitOf, type Habit } from "./units"
import { useSize } from "./useSize"

type Answer = Schema["DeriveAnswer"]
export type TracePoint = { time: number; pressure: number }

/** What lies over the chart needs of it: px and back. */
export type ChartFrame = { y: (pressure: number) => number; pressureAt: (y: number) => number; level: (pressure: number) => [number, number] | null }

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
  const [left, right, top, bottom] = [46, width - 18, named ? 30 : 14, height - 34]
  const course = answer.profile.map((p) => ({ time: p.time + shift, pressure: p.pressure }))
  const end = Math.max(course.at(-1)?.time ?? 60, trace?.at(-1)?.time ?? 0)
  const highest = Math.max(answer.gauge_target, ...(trace ?? []).map((p) => p.pressure))
  const x = scaleLinear()
    .domain([0, end / 60])
    .range([left, right])
  const y = scaleLinear()
    .domain([0, inUnit(highest, "pressure", habit) * 1.1])
    .range([bottom, top])
  const px = (p: TracePoint) => x(p.time / 60)
  const py = (p: TracePoint) => y(inUnit(p.pressure, "pressure", habit))
  const path = course.map((p, i) => `${i ? "L" : "M"}${px(p)} ${py(p)}`).join(" ")
  const near = answer.stages.filter((stage) => stage.zone === "near").at(-1)
  const nearEnd = near ? stretch(course, near.target)?.[1] : course[0]
  const holding = stretch(course, answer.gauge_target)
  const zone: [number, number] | null = nearEnd && holding ? [px(nearEnd), px(holding[1])] : null
  const frame: ChartFrame = {
    y: (pressure) => y(inUnit(pressure, "pressure", habit)),
    pressureAt: (at) => Math.max(0, y.invert(at)) * (1 / inUnit(1, "pressure", habit)),
    level: (pressure) => {
      const ends = stretch(course, pressure)
      return ends && [px(ends[0]), px(ends[1])]
    },
  }
  return (
    <svg
      width={width}
      height={height}
      viewBox={`0 0 ${width} ${height}`}
      className="print:h-auto print:w-full"
      role={over ? "group" : "img"}
      aria-label={`Planned course: ${answer.stages.length} stages to ${digits(inUnit(answer.gauge_target, "pressure", habit), 4)} ${unitOf("pressure", habit)}, then the hold`}
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
        minutes
      </text>
      <text x={left - 8} y={top - (named ? 18 : 3)} textAnchor="end" fontSize="12" fill="var(--quiet)">
        {unitOf("pressure", habit)}
      </text>
      {!trace && <path d={`${path} V${bottom} H${left} Z`} fill="var(--water-soft)" opacity="0.55" />}
      <path d={path} fill="none" stroke="var(--brass)" strokeWidth={trace ? 1.8 : 2.6} strokeDasharray={trace ? "5 4" : undefined} strokeLinejoin="round" />
      {!trace &&
        course
          .slice(1, -1)
          .map((p, i) => <circle key={i} cx={px(p)} cy={py(p)} r="4.5" fill="var(--color-ground)" stroke="var(--brass-ink)" strokeWidth="2" />)}
      {named && <Names answer={answer} habit={habit} px={px} py={py} course={course} zone={zone} top={top} />}
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
  px: (p: TracePoint) => number
  py: (p: TracePoint) => number
  course: TracePoint[]
  zone: [number, number] | null
  top: number
}

function Names({ answer, habit, px, py, course, zone, top }: NamesProps) {
  const number = (pressure: number) => digits(inUnit(pressure, "pressure", habit), 3)
  const holding = stretch(course, answer.gauge_target)
  const look = stretch(course, answer.hold.look_pressure, true)
  return (
    <g fontSize="13.5" fill="var(--color-ink)" textAnchor="middle">
      {answer.stages.slice(0, -1).map((stage) => {
        const here = stretch(course, stage.target)
        if (!here) return null
        const at = px(here[1]) + 2
        const strokes = stage.strokes_from_last
        return (
          <g key={stage.id} textAnchor="end">
            <text x={at} y={py(here[0]) - 10} className="figure">
              {number(stage.target)}
            </text>
            {strokes != null && (
              <text x={(px(here[0]) + px(here[1])) / 2} y={py(here[0]) + 19} textAnchor="middle" fontSize="12" fill="var(--color-ink)">
                +{digits(strokes, 2)}
              </text>
            )}
          </g>
        )
      })}
      {holding && (
        <text x={(px(holding[0]) + px(holding[1])) / 2} y={py(holding[0]) - 10} className="figure">
          hold {number(answer.gauge_target)} for {digits(answer.hold.minimum / 60, 3)} min
        </text>
      )}
      {look && (
        <text x={(px(look[0]) + px(look[1])) / 2} y={py(look[0]) - 10} className="figure">
          look {number(answer.hold.look_pressure)}
        </text>
      )}
      {zone && (
        <>
          <text x={zone[0] + 6} y={top - 1} textAnchor="start" fontSize="12.5" fill="var(--brass-ink)">
            behind the line
          </text>
          {zone[0] > 76 && (
            <text x={zone[0] - 8} y={top - 1} textAnchor="end" fontSize="12.5" fill="var(--quiet)">
              near
            </text>
          )}
        </>
      )}
    </g>
  )
}

/** The two ends of a level stretch of the course at a pressure; the last one where `last`. */
export function stretch(course: TracePoint[], pressure: number, last = false): [TracePoint, TracePoint] | null {
  const at = course.filter((p) => Math.abs(p.pressure - pressure) < 1)
  if (at.length < 2) return null
  return last ? [at.at(-2)!, at.at(-1)!] : [at[0]!, at[1]!]
}
