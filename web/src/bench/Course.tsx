import { useMemo } from "react"
import { later } from "../app/later"
import { aim, unitOf, type Habit } from "../parts/units"
import { useTrace, type BenchState } from "./queries"

const TraceChart = later(() => import("./TraceChart").then((it) => it.TraceChart))

/** What was read, over the planned course. */
export function Course({ bench, habit }: { bench: BenchState; habit: Habit }) {
  const trace = useTrace(bench.id, bench.readings)
  const { answer } = bench
  const shift = bench.course_from
  const planned = useMemo(() => answer.profile.map((p) => ({ time: p.time + shift, pressure: p.pressure })), [answer, shift])
  const line = answer.behind_the_line
  const zone: [number, number] | null = line ? [line.begins + shift, line.ends + shift] : null
  const target = `${aim(answer.gauge_target, habit)} ${unitOf("pressure", habit)}`
  return (
    <div className="h-56 px-2 pt-1 lg:h-auto lg:min-h-0 lg:flex-1">
      <TraceChart series={trace.series} planned={planned} zone={zone} habit={habit} label={`What was read over the planned course to ${target}`} />
    </div>
  )
}
