import { useCallback, useEffect, useMemo, useRef, useState } from "react"
import { useParams } from "react-router"
import { useMe } from "../api/me"
import { useKeys } from "../app/keys"
import { fetchLater } from "../app/later"
import { Loading } from "../app/Loading"
import { Failed } from "../app/states"
import { useTheme } from "../app/theme"
import { TrialHead } from "../app/TrialHead"
import { Glass } from "../parts/Glass"
import { glassOf, planOf } from "../parts/marks"
import { clock, day, digits, habitFor, type Habit, span } from "../parts/units"
import { Actions } from "./Actions"
import { AfterPanel } from "./AfterPanel"
import { useCallouts } from "./bell"
import { trialNow, useTrialNow } from "./clock"
import { Course } from "./Course"
import { GuardStrip } from "./GuardStrip"
import { INSTRUMENTS } from "./instruments"
import { Log } from "./Log"
import { useBench, useHands, type BenchState, type Hands } from "./queries"
import { Readout } from "./Readout"
import { AskedFor, NotBegun, OtherHand, WatchBar } from "./Hand"
import { RigHands } from "./RigHands"
import { StartPanel } from "./StartPanel"
import { useWakeLock } from "./useWakeLock"

/** The bench: the run itself, for wet hands and distance. */
export function Bench() {
  useTheme("lamp")
  useEffect(fetchLater, [])
  const { id = "" } = useParams()
  const [bench, me] = [useBench(id), useMe()]
  if (bench.error && !bench.data) return <Failed error={bench.error} retry={() => void bench.refetch()} />
  if (!bench.data || !me.data) return <Loading what="the bench" />
  const cut = bench.error ? bench.error.message : null
  const habit = habitFor(me.data.units, bench.data.answer.test_pressure)
  return <Running bench={bench.data} received={bench.data.received} habit={habit} cut={cut} works={me.data.works} />
}

type RunningProps = { bench: BenchState; received: number; habit: Habit; cut: string | null; works: boolean }

function Running({ bench, received, habit, cut, works }: RunningProps) {
  const latest = useRef({ clock: bench.clock, received })
  useEffect(() => {
    latest.current = { clock: bench.clock, received }
  }, [bench.clock, received])
  const stamp = useCallback(() => new Date(trialNow(latest.current.clock, latest.current.received, performance.now())).toISOString(), [])
  const hands = useHands(bench.id, stamp)
  const started = bench.started_at ? Date.parse(bench.started_at) : null
  const on = bench.state === "running" || bench.state === "held"
  useCallouts(bench, habit)
  const awake = useWakeLock(on)
  const level = bench.latest?.pressure ?? null
  const plan = useMemo(() => planOf(bench.answer), [bench.answer])
  const note = started && on ? <Going bench={bench} started={started} awake={awake} /> : started ? `a run of ${day(bench.started_at)}` : "ready"
  return (
    <>
      <TrialHead id={bench.id} vessel={bench.vessel} number={bench.number} state={bench.state} note={note} />
      {hands.why && (
        <p role="alert" className="border-l-8 border-vermilion bg-vermilion-soft px-4 py-2">
          {hands.why} What you typed is written down in this browser and goes out by itself.
        </p>
      )}
      {Math.abs(bench.clock.off ?? 0) > 0 && (
        <p role="status" className="border-l-8 border-brass bg-brass-soft px-4 py-2">
          This machine's clock was put {(bench.clock.off ?? 0) > 0 ? "forward" : "back"} by {clock(Math.abs(bench.clock.off ?? 0))}. The run keeps its own time;
          nothing was added to the hold, or taken from it.
        </p>
      )}
      <div className="flex min-h-0 flex-1 flex-col">
        {cut && (
          <p role="alert" className="border-l-8 border-brass bg-brass-soft px-4 py-2">
            {cut} Trying again every second.
          </p>
        )}
        {!bench.hand.mine && on && <OtherHand bench={bench} hands={hands} works={works} />}
        {bench.hand.mine && bench.hand.asked && on && <AskedFor name={bench.hand.asked} hands={hands} />}
        <main className="grid min-h-0 flex-1 grid-cols-[64px_1fr] overflow-auto lg:grid-cols-[216px_1fr_316px] lg:grid-rows-1 lg:overflow-hidden">
          <section className="row-span-2 border-r-line border-rule lg:row-span-1" aria-label="The glass">
            <div className="sticky top-0 h-[60vh] lg:h-full">
              <div className="hidden h-full lg:block">
                <Glass
                  habit={habit}
                  plan={[...plan, ...(level ? [{ name: "now", pressure: level, tone: "water" as const, figures: 4 }] : [])]}
                  level={level}
                  {...glassOf(bench.answer)}
                />
              </div>
              <div className="h-full lg:hidden">
                <Glass slim habit={habit} plan={plan} level={level} {...glassOf(bench.answer)} />
              </div>
            </div>
          </section>
          <section className="flex min-w-0 flex-col lg:min-h-0">
            {bench.state === "ready" || started === null ? (
              works ? (
                <StartPanel bench={bench} hands={hands} />
              ) : (
                <NotBegun vessel={bench.vessel} />
              )
            ) : (
              <>
                <GuardStrip bench={bench} hands={hands} />
                <NowCard bench={bench} hands={hands} />
                <Readout bench={bench} habit={habit} />
                {bench.rig && on && works && <RigHands bench={bench} hands={hands} />}
                <Shown bench={bench} hands={hands} habit={habit} started={started} />
              </>
            )}
          </section>
          <Log bench={bench} hands={hands} started={started} habit={habit} cut={cut !== null} />
        </main>
        {bench.state !== "ready" && (works ? <Actions bench={bench} hands={hands} habit={habit} /> : <WatchBar bench={bench} hands={hands} />)}
      </div>
    </>
  )
}

/** How long the run has been going, by its own clock. */
function Going({ bench, started, awake }: { bench: BenchState; started: number; awake: boolean }) {
  const elapsed = (useTrialNow(bench.clock, bench.received) - started) / 1000
  return (
    <>
      running {elapsed < 43_200 ? clock(elapsed) : span(elapsed)}
      {bench.clock.speed > 1 && ` at ${digits(bench.clock.speed, 3)}×`}
      {awake && " · screen stays on"}
    </>
  )
}

/** Phases after the hold: the way down and out takes the chart's place. */
const AFTER = new Set(["held", "looking", "looked", "released", "vented", "emptied", "dried", "dumped"])

type ShownProps = { bench: BenchState; hands: Hands; habit: Habit; started: number }

/** The course or the way down and out; or the panel of an instrument, where the trial observes with one. */
function Shown({ bench, hands, habit, started }: ShownProps) {
  const after = AFTER.has(bench.phase)
  // Of a proof its expansion is measured by the way, once there is something to measure.
  const asked = (id: string) => id !== "expansion" || after || bench.answer.procedure === "expansion"
  const own = [...bench.instruments.filter((id) => id in INSTRUMENTS && asked(id)), ...(bench.circuit ? ["sections"] : [])]
  const first = bench.phase === "looking" || bench.steam || bench.joint || bench.burst || (bench.valve && bench.now.step === "tried") ? (own[0] ?? null) : null
  const [chosen, setChosen] = useState<string | null>(first)
  const moment = `${bench.phase} ${bench.now.step}`
  const [seen, setSeen] = useState(moment)
  if (seen !== moment) {
    setSeen(moment)
    setChosen(first ?? chosen)
  }
  useKeys(own.map((id) => ({ key: INSTRUMENTS[id]!.key, does: INSTRUMENTS[id]!.name.toLowerCase(), act: () => setChosen(chosen === id ? null : id) })))
  const Panel = chosen ? INSTRUMENTS[chosen]?.Panel : undefined
  return (
    <>
      {own.length > 0 && (
        <div role="tablist" aria-label="What is shown" className="flex gap-2 px-4 pt-2">
          {[null, ...own].map((id) => (
            <button
              key={id ?? ""}
              role="tab"
              aria-selected={chosen === id}
              className={`min-h-9 border-b-bold px-2 ${chosen === id ? "border-primary font-semibold" : "border-transparent text-quiet"}`}
              onClick={() => setChosen(id)}
            >
              {id ? INSTRUMENTS[id]!.name : after ? "Way down" : "Course"}{" "}
              {id && <kbd className="key hidden sm:inline-grid">{INSTRUMENTS[id]!.key.toUpperCase()}</kbd>}
            </button>
          ))}
        </div>
      )}
      {Panel ? (
        <Panel bench={bench} hands={hands} habit={habit} />
      ) : after ? (
        <AfterPanel bench={bench} hands={hands} started={started} />
      ) : (
        <Course bench={bench} habit={habit} />
      )}
    </>
  )
}

function NowCard({ bench, hands }: { bench: BenchState; hands: Hands }) {
  const unstored = hands.items.some((item) => item.kind === "step" && item.body.kind === "dumped" && item.refused === null)
  const line = unstored || bench.now.zone === "line"
  return (
    <div className={`border-l-8 px-4 py-2.5 ${line ? "border-brass bg-brass-soft" : "border-primary bg-paper"}`} aria-live="polite">
      <h2 className="text-head lg:text-head" data-testid="now">
        {unstored ? "Dumped. Keep clear." : bench.now.says}
      </h2>
      <p className="text-body text-quiet">
        {unstored ? "Not stored yet: the server does not answer. It is written down in this browser and goes out by itself." : bench.now.detail}
      </p>
    </div>
  )
}
