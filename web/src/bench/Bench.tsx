import { useEffect, useMemo, useRef, useState } from "react"
import { useParams } from "react-router"
import { useMe } from "../api/me"
import { Failed, Loading } from "../app/states"
import { useTheme } from "../app/theme"
import { TrialHead } from "../app/TrialHead"
import { CourseChart } from "../parts/CourseChart"
import { Glass } from "../parts/Glass"
import { glassOf, planOf } from "../parts/marks"
import { ago, clock, digits, habitFor, inUnit, isMetric, reading, show, unitOf, type Habit } from "../parts/units"
import { Actions } from "./Actions"
import { ring } from "./bell"
import { useTrialNow } from "./clock"
import { useBench, useHands, type BenchState } from "./queries"
import { OpeningsList } from "./OpeningsList"
import { RigHands } from "./RigHands"
import { StartPanel } from "./StartPanel"

/** The bench: the run itself, for wet hands and distance. */
export function Bench() {
  useTheme("lamp")
  const { id = "" } = useParams()
  const [bench, me] = [useBench(id), useMe()]
  if (bench.error && !bench.data) return <Failed error={bench.error} retry={() => void bench.refetch()} />
  if (!bench.data || !me.data) return <Loading what="the bench" />
  const cut = bench.error ? bench.error.message : null
  return <Running bench={bench.data} received={bench.dataUpdatedAt} habit={habitFor(me.data.units, bench.data.answer.gauge_target)} cut={cut} />
}

type RunningProps = { bench: BenchState; received: number; habit: Habit; cut: string | null }

function Running({ bench, received, habit, cut }: RunningProps) {
  const now = useTrialNow(bench.clock, received)
  const hands = useHands(bench.id)
  const { answer } = bench
  const started = bench.started_at ? Date.parse(bench.started_at) : null
  const elapsed = started ? (now - started) / 1000 : 0
  const trace = useMemo(
    () => bench.trace.map((point) => ({ time: (Date.parse(point.at) - (started ?? 0)) / 1000, pressure: point.pressure })),
    [bench.trace, started],
  )
  const left = bench.until ? (Date.parse(bench.until) - now) / 1000 : null
  useBell(bench, left)
  const level = bench.latest?.pressure ?? null
  const note = started ? `running ${clock(elapsed)}${bench.clock.speed > 1 ? ` at ${digits(bench.clock.speed, 3)}×` : ""}` : "ready"
  return (
    <>
      <TrialHead id={bench.id} vessel={bench.vessel} number={bench.number} state={bench.state} note={note} />
      <div className="flex min-h-0 flex-1 flex-col">
        {cut && (
          <p role="alert" className="border-l-8 border-brass bg-brass-soft px-4 py-2">
            {cut} Trying again every second.
          </p>
        )}
        <main className="grid min-h-0 flex-1 grid-cols-[64px_1fr] overflow-auto lg:grid-cols-[216px_1fr_316px] lg:grid-rows-1 lg:overflow-hidden">
          <section className="row-span-2 border-r-[1.5px] border-rule lg:row-span-1" aria-label="The glass">
            <div className="sticky top-0 h-[60vh] lg:h-full">
              <div className="hidden h-full lg:block">
                <Glass
                  habit={habit}
                  plan={[...planOf(answer), ...(level ? [{ name: "now", pressure: level, tone: "water" as const, figures: 4 }] : [])]}
                  level={level}
                  {...glassOf(answer)}
                />
              </div>
              <div className="h-full lg:hidden">
                <Glass slim habit={habit} plan={planOf(answer)} level={level} {...glassOf(answer)} />
              </div>
            </div>
          </section>
          <section className="flex min-w-0 flex-col lg:min-h-0">
            {bench.state === "ready" ? (
              <StartPanel bench={bench} hands={hands} />
            ) : (
              <>
                <NowCard bench={bench} />
                <Readout bench={bench} now={now} left={left} habit={habit} />
                {bench.rig && (bench.state === "running" || bench.state === "held") && <RigHands bench={bench} hands={hands} />}
                {AFTER.has(bench.phase) && bench.openings.length > 0 ? (
                  <div className="min-h-0 px-4 pt-3 lg:flex-1 lg:overflow-auto">
                    <OpeningsList bench={bench} hands={hands} what="undone" />
                  </div>
                ) : (
                  <div className="h-56 px-2 lg:h-auto lg:min-h-0 lg:flex-1">
                    <CourseChart answer={answer} habit={habit} trace={trace} shift={courseShift(bench, started)} />
                  </div>
                )}
              </>
            )}
          </section>
          <Log bench={bench} started={started} habit={habit} />
        </main>
        {bench.state !== "ready" && <Actions bench={bench} hands={hands} habit={habit} left={left} />}
      </div>
    </>
  )
}

/** Phases in which the run is over and the vessel empty: the openings are put back. */
const AFTER = new Set(["released", "dumped"])

/** The planned course is drawn from when the vent was shut: filling takes as long as it takes. */
function courseShift(bench: BenchState, started: number | null): number {
  const shut = bench.log.find((line) => line.kind === "vent-shut")
  return shut && started ? (Date.parse(shut.at) - started) / 1000 : 0
}

/** Ring when a pause or the hold runs out, and hard when a guard trips. */
function useBell(bench: BenchState, left: number | null) {
  const over = left !== null && left <= 0
  const was = useRef(over)
  useEffect(() => {
    if (over && !was.current) ring("calm")
    was.current = over
  }, [over])
  const guards = bench.log.filter((line) => line.kind === "overshoot" || line.kind === "over-ceiling").length
  const tripped = useRef(guards)
  useEffect(() => {
    if (guards > tripped.current) ring("hard")
    tripped.current = guards
  }, [guards])
}

function NowCard({ bench }: { bench: BenchState }) {
  const guard = bench.log.find((line) => line.kind === "over-ceiling") ?? bench.log.find((line) => line.kind === "overshoot")
  const line = bench.now.zone === "line"
  return (
    <>
      {guard && (
        <p role="alert" className="border-l-8 border-vermilion bg-vermilion-soft px-4 py-2 text-[17px] font-semibold">
          {guard.says}
        </p>
      )}
      <div className={`border-l-8 px-4 py-2.5 ${line ? "border-brass bg-brass-soft" : "border-primary bg-paper"}`} aria-live="polite">
        <h2 className="text-[26px] lg:text-[29px]" data-testid="now">
          {bench.now.says}
        </h2>
        <p className="text-[15px] text-quiet">{bench.now.detail}</p>
      </div>
    </>
  )
}

function Readout({ bench, now, left, habit }: { bench: BenchState; now: number; left: number | null; habit: Habit }) {
  const { latest } = bench
  const other: Habit = isMetric(habit) ? "imperial" : "metric"
  const age = latest ? (now - Date.parse(latest.at)) / 1000 : 0
  const drop = bench.shut_in_pressure != null && latest && bench.phase === "holding" ? bench.shut_in_pressure - latest.pressure : null
  return (
    <div className="flex flex-wrap items-start justify-between gap-x-6 px-4 pt-2">
      <div>
        <div className="flex items-baseline gap-3 text-water">
          <span className="figure text-[72px] leading-none font-bold lg:text-[112px]" data-testid="pressure">
            {latest ? reading(latest.pressure, habit) : "–"}
          </span>
          <span className="font-display text-[28px] font-bold text-ink">{unitOf("pressure", habit)}</span>
        </div>
        <p className="mt-1 text-quiet">
          {latest ? (
            <>
              {reading(latest.pressure, other)} {unitOf("pressure", other)} · {bench.source === "dial" ? "typed" : "the rig's gauge"} {ago(age)}
            </>
          ) : (
            "Nothing read yet. Log what the dial shows."
          )}
        </p>
      </div>
      <div className="text-right">
        {left !== null && (
          <>
            <p className="text-quiet">{bench.phase === "holding" ? (left > 0 ? "hold, to the bell" : "the hold is over") : "pause, to the bell"}</p>
            <p className="figure text-[52px] leading-none lg:text-[64px]" role="timer" data-testid="countdown">
              {clock(left)}
            </p>
          </>
        )}
        {drop !== null && (
          <p className="text-quiet">
            {drop >= 0 ? "down" : "up"} <span className="figure text-ink">{digits(Math.abs(inUnit(drop, "pressure", habit)), 2)}</span>{" "}
            {unitOf("pressure", habit)} since shut-in
          </p>
        )}
        {latest?.temperature != null && (
          <p className="text-quiet">
            water <span className="figure text-ink">{inUnit(latest.temperature, "temperature", habit).toFixed(2)}</span> {unitOf("temperature", habit)}
          </p>
        )}
      </div>
    </div>
  )
}

function Log({ bench, started, habit }: { bench: BenchState; started: number | null; habit: Habit }) {
  const [all, setAll] = useState(false)
  const expected = bench.answer.pump.strokes
  const lines = all ? bench.log : bench.log.slice(0, 40)
  return (
    <aside className="col-start-2 border-t-[1.5px] border-rule px-4 py-3 lg:col-start-auto lg:min-h-0 lg:overflow-auto lg:border-t-0 lg:border-l-[1.5px]">
      <div className="mb-2 flex items-baseline justify-between border-b-[1.5px] border-rule pb-2">
        <h2 className="text-[17px]">Pumped</h2>
        <span className="text-quiet">
          <span className="figure text-ink">{bench.strokes}</span> strokes
          {expected != null && (
            <>
              {" "}
              of {digits(expected, 2)} to {show(bench.answer.gauge_target, "pressure", habit)}
            </>
          )}
        </span>
      </div>
      <div className="flex items-baseline justify-between">
        <h2 className="text-[17px]">Log</h2>
        <span className="text-[13.5px] text-quiet">all kept ✓</span>
      </div>
      <ol data-testid="log">
        {lines.map((line) => (
          <li key={line.id} className="grid grid-cols-[58px_1fr] gap-2 border-b border-rule py-1.5 text-[14px]">
            <time className="figure font-normal text-quiet" dateTime={line.at}>
              {started && Date.parse(line.at) >= started ? clock((Date.parse(line.at) - started) / 1000) : "before"}
            </time>
            <span>{line.says}</span>
          </li>
        ))}
      </ol>
      {bench.log.length > lines.length && (
        <button className="btn btn-ghost btn-sm mt-1" onClick={() => setAll(true)}>
          Show all {bench.log.length}
        </button>
      )}
    </aside>
  )
}
