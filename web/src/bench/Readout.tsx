import { ago, clock, digits, inUnit, isMetric, moment, reading, unitOf, type Habit } from "../parts/units"
import { dueIn, useBell } from "./bell"
import { useTrialNow } from "./clock"
import type { BenchState } from "./queries"

/** The pressure, to be read from across the workshop; beside it the time that is left, and what the hold shows so far. It alone follows the clock, and rings. */
export function Readout({ bench, habit }: { bench: BenchState; habit: Habit }) {
  const now = useTrialNow(bench.clock, bench.received)
  // Under an alarm no pause runs: what is said first is to let it down, not to wait and go on.
  const pauses = bench.phase === "pausing" && bench.guards.length > 0
  const until = bench.low?.until ?? (pauses ? null : bench.until)
  const left = until ? (Date.parse(until) - now) / 1000 : null
  const due = dueIn(bench, now)
  useBell(bench, left, due)
  const { latest } = bench
  const other: Habit = isMetric(habit) ? "imperial" : "metric"
  const on = bench.state === "running" || bench.state === "held"
  const when = latest && (on ? ago((now - Date.parse(latest.at)) / 1000) : moment(latest.at))
  return (
    <div className="flex flex-wrap items-start justify-between gap-x-6 px-4 pt-2">
      <div>
        <div className="flex items-baseline gap-3 text-water">
          <span className="figure text-dial-m leading-none font-bold lg:text-dial-l" data-testid="pressure">
            {latest ? reading(latest.pressure, habit, bench.answer.gauge_target) : "–"}
          </span>
          <span className="font-display text-head font-bold text-ink">{unitOf("pressure", habit)}</span>
        </div>
        <p className="mt-1 text-quiet">
          {latest ? (
            <>
              {reading(latest.pressure, other, bench.answer.gauge_target)} {unitOf("pressure", other)} · {latest.name} {when}
            </>
          ) : (
            "Nothing read yet. Log what the dial shows."
          )}
        </p>
      </div>
      <div className="text-right">
        {left !== null && (
          <>
            <p className="text-quiet">
              {bench.low
                ? left > 0
                  ? "low hold, to the bell"
                  : "the low hold is over"
                : bench.phase === "holding"
                  ? left > 0
                    ? "hold, to the bell"
                    : "the hold is over"
                  : "pause, to the bell"}
            </p>
            <p className="figure text-dial-s leading-none lg:text-dial-m" role="timer" data-testid="countdown">
              {clock(left)}
            </p>
          </>
        )}
        {bench.phase === "holding" && <HoldSoFar bench={bench} habit={habit} />}
        {due !== null && bench.phase === "holding" && (
          <p className={due <= 0 ? "font-semibold text-brass-ink" : "text-quiet"} data-testid="due">
            {due <= 0 ? "Read the dial now (R)." : `next reading in ${clock(due)}`}
          </p>
        )}
        {latest?.temperature != null && (
          <p className="text-quiet">
            {bench.answer.medium} <span className="figure text-ink">{inUnit(latest.temperature, "temperature", habit).toFixed(2)}</span>{" "}
            {unitOf("temperature", habit)}
          </p>
        )}
      </div>
    </div>
  )
}

const SO_FAR = { tight: "tight", leaking: "leaking", "cannot-tell": "cannot tell" }

/** The drop since shut-in, and how much of it the temperature explains. */
function HoldSoFar({ bench, habit }: { bench: BenchState; habit: Habit }) {
  const { hold } = bench
  if (hold?.drop == null) return null
  const drop = hold.drop
  const figure = (pressure: number) => digits(Math.abs(inUnit(pressure, "pressure", habit)), 2)
  const warm = hold.drop_from_temperature
  return (
    <>
      <p className="text-quiet" data-testid="drop">
        {drop >= 0 ? "down" : "up"} <span className="figure text-ink">{figure(drop)}</span> {unitOf("pressure", habit)} since shut-in
      </p>
      {warm != null && (
        <p className="text-quiet">
          temperature explains <span className="figure text-ink">{figure(warm)}</span> {unitOf("pressure", habit)} {warm >= 0 ? "down" : "up"}
        </p>
      )}
      {hold.verdict && (
        <p className="text-quiet" data-testid="so-far" title={hold.says ?? undefined}>
          so far: <b className="text-ink">{SO_FAR[hold.verdict]}</b>
          {hold.verdict === "cannot-tell" && (hold.more != null ? `, about ${clock(hold.more)} more` : ", and longer will not tell")}
        </p>
      )}
    </>
  )
}
