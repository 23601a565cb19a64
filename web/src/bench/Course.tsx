import { useMemo } from "react"
import { stretch } from "../parts/CourseChart"
import { digits, inUnit, unitOf, type Habit } from "../parts/units"
import { useTrace, type BenchState } from "./queries"
import { TraceChart } from "./TraceChart"

/** What was read, over the planned course. */
export function Course({ bench, habit, started }: { bench: BenchState; habit: Habit; started: number }) {
  const trace = useTrace(bench.id, bench.readings)
  const { answer } = bench
  const shift = courseShift(bench, started)
  const { planned, zone } = useMemo(() => {
    const course = answer.profile.map((p) => ({ time: p.time + shift, pressure: p.pressure }))
    const near = answer.stages.filter((stage) => stage.zone === "near").at(-1)
    const from = near ? stretch(course, near.target)?.[1] : course[0]
    const to = stretch(course, answer.gauge_target)?.[1]
    return { planned: course, zone: from && to ? ([from.time, to.time] as [number, number]) : null }
  }, [answer, shift])
  const target = `${digits(inUnit(answer.gauge_target, "pressure", habit), 4)} ${unitOf("pressure", habit)}`
  return (
    <div className="h-56 px-2 pt-1 lg:h-auto lg:min-h-0 lg:flex-1">
      <TraceChart series={trace.series} planned={planned} zone={zone} habit={habit} label={`What was read over the planned course to ${target}`} />
    </div>
  )
}

/** The planned course is drawn from when the vent was shut, or the run went back: filling takes as long as it takes. */
function courseShift(bench: BenchState, started: number): number {
  const from = bench.log.find((line) => line.kind === "vent-shut" || line.kind === "gone-back")
  return from ? (Date.parse(from.at) - started) / 1000 : 0
}
