import { Link, useParams } from "react-router"
import type { Schema } from "../api/client"
import { useMe } from "../api/me"
import { useRecord } from "../api/trials"
import { useKeys } from "../app/keys"
import { Loading } from "../app/Loading"
import { Failed } from "../app/states"
import { useTheme } from "../app/theme"
import { TrialHead } from "../app/TrialHead"
import { Alert } from "../parts/Alert"
import { Checks } from "../parts/Checks"
import { CourseChart } from "../parts/CourseChart"
import { Glass } from "../parts/Glass"
import { HoldChart } from "../parts/HoldChart"
import { Burst } from "../parts/Burst"
import { HowAlike } from "../parts/HowAlike"
import { Lines } from "../parts/Lines"
import { glassOf } from "../parts/marks"
import { Witnesses } from "../parts/Witnesses"
import { clock, digits, habitFor, inUnit, isMetric, unitOf, type Habit, leak, span } from "../parts/units"
import { Evidence } from "./Evidence"
import { Found } from "./Found"
import { useJudge, useJudgeIt, type JudgeState } from "./queries"
import { Grown } from "../parts/Grown"
import { JointCurve } from "../parts/JointCurve"
import { Stretches } from "./Stretches"
import { useWhatIf, WhatIf } from "./WhatIf"

type JudgeAnswer = Schema["JudgeAnswer"]

/** The judge's room: the verdict as a sentence first, then what it rests on, then the decision. */
export function Judge() {
  useTheme("daylight")
  const { id = "" } = useParams()
  const [judge, me] = [useJudge(id), useMe()]
  if (judge.error) return <Failed error={judge.error} retry={() => void judge.refetch()} />
  if (!judge.data || !me.data) return <Loading what="the hold" />
  return <Room judge={judge.data} habit={habitFor(me.data.units, judge.data.plan.test_pressure)} />
}

function Room({ judge, habit }: { judge: JudgeState; habit: Habit }) {
  const { plan, verdict } = judge
  const held = judge.held_pressure != null ? [{ name: "held", pressure: judge.held_pressure, tone: "water" as const, figures: 4 }] : []
  const marks = [
    ...held,
    { name: "test", pressure: plan.gauge_target, tone: "brass" as const, aim: true },
    { name: "wanted", pressure: plan.working_pressure, tone: "brass" as const },
  ]
  const relief =
    plan.relief_set != null && plan.relief_set !== plan.working_pressure ? [{ name: "relief", pressure: plan.relief_set, tone: "brass" as const }] : []
  return (
    <>
      <TrialHead {...judge} note={`${judge.practice ? "practice · " : ""}${verdict ? `held ${span(verdict.hold)}` : judge.state}`} />
      <main className="grid flex-1 overflow-auto lg:grid-cols-[216px_1fr_340px] lg:grid-rows-1 lg:overflow-hidden">
        <section className="hidden border-r-line border-rule lg:block" aria-label="The glass">
          <Glass habit={habit} plan={[...marks, ...relief]} level={judge.held_pressure} {...glassOf(plan)} lineFrom={null} />
        </section>
        <section className="flex min-w-0 flex-col gap-3 px-5 py-4 lg:min-h-0 lg:overflow-auto">
          {(judge.valve ?? judge.steam) ? (
            <Valve valve={(judge.valve ?? judge.steam)!} habit={habit} />
          ) : judge.burst ? (
            <Burst told={judge.burst} habit={habit} large />
          ) : verdict ? (
            <Verdict judge={judge} habit={habit} />
          ) : (
            <NotJudged judge={judge} habit={habit} />
          )}
        </section>
        <Evidence judge={judge} habit={habit} />
      </main>
    </>
  )
}

const TONES = { tight: "text-moss", leaking: "text-vermilion", "cannot-tell": "text-brass-ink" }

function Verdict({ judge, habit }: { judge: JudgeState; habit: Habit }) {
  const whatIf = useWhatIf(judge)
  const again = useJudgeIt(judge.id)
  const v = whatIf.found?.verdict ?? judge.verdict!
  const points = whatIf.found?.points ?? judge.points
  const [first, ...rest] = v.says.split(". ")
  const open = judge.state === "judged"
  return (
    <>
      <div className={whatIf.found ? "border-line border-dashed border-brass px-3 py-1" : ""}>
        {whatIf.found && (
          <p className="flex flex-wrap items-center justify-between gap-2 text-small text-brass-ink">
            <span>What if. The record says: {judge.verdict!.says.split(". ")[0]}.</span>
            <button className="btn btn-outline btn-sm min-h-9 border-line" onClick={whatIf.back}>
              Back to the record <kbd className="key">⌫</kbd>
            </button>
          </p>
        )}
        <h2 className="text-head leading-tight" data-testid="verdict" aria-live="polite">
          <span className={TONES[v.verdict]}>{first}.</span> <span className="font-sturdy">{rest.join(". ")}</span>
        </h2>
        <p className="mt-1 text-body text-quiet">
          {v.seen_says} {v.school_says ?? agrees(judge, v)}
        </p>
        {v.settle_it.length > 0 && (
          <p className="strip mt-1.5" data-testid="settle">
            <b>To settle it:</b> {v.settle_it.join(" Or: ")}
          </p>
        )}
        {(whatIf.error ?? again.error) && <Alert className="mt-1.5">{(whatIf.error ?? again.error)!.message}</Alert>}
      </div>
      <div className="h-80 lg:h-auto lg:min-h-60 lg:flex-1" id="hold">
        <HoldChart points={points} verdict={v} habit={habit} over={judge.others.find((other) => other.id === whatIf.wanted.over)} />
      </div>
      {(judge.stretches?.length ?? 0) > 0 && <Stretches stretches={judge.stretches!} lows={v.low_holds ?? []} habit={habit} />}
      {judge.inherits && judge.inherits.inherits !== true && <p className="strip border-brass text-small">{judge.inherits.says}</p>}
      {judge.baseline && <HowAlike told={judge.baseline} habit={habit} />}
      {judge.expansion && <Grown told={judge.expansion} />}
      {judge.joint && (
        <section data-testid="joint" className="text-small">
          <p className="text-body font-semibold">{judge.joint.says}</p>
          <JointCurve joint={judge.joint} />
          <Checks checks={judge.joint.checks} />
        </section>
      )}
      <Found
        steps={v.steps}
        notes={v.notes}
        pending={again.isPending}
        again={open && !whatIf.found ? (put_back) => again.mutate({ put_back, ignore: judge.asked?.ignore ?? 0 }) : null}
      />
      <WhatIf {...whatIf} judge={judge} habit={habit} />
      <dl className="grid gap-3 sm:grid-cols-2 md:grid-cols-[auto_auto_auto_auto]">
        {equivalents(v, habit, judge.plan.medium === "water").map(([name, value]) => (
          <div key={name} className="border-l-bold border-water pl-3">
            <dt className="text-small text-quiet">{name}</dt>
            <dd className="figure text-note whitespace-nowrap">{value}</dd>
          </div>
        ))}
      </dl>
      <details>
        <summary className="w-fit text-small text-water-ink dotted">how this was worked out</summary>
        <div className="mt-2 columns-1 gap-8 md:columns-2">
          <Lines lines={v.lines} />
        </div>
        <p className="mt-2 text-small text-quiet">
          {v.readings} readings, judged by core {judge.core}.{" "}
          <a className="underline" href={`/api/trials/${judge.id}/hold.csv`}>
            The hold as CSV
          </a>{" "}
          and{" "}
          <a className="underline" href={`/api/trials/${judge.id}/hold.json`}>
            its sheet
          </a>
          {judge.plan.procedure === "tightness" && (
            <>
              ,{" "}
              <a className="underline" href={`/api/trials/${judge.id}/soap.json`}>
                the soap map
              </a>
            </>
          )}
          , as <code className="font-mono">toadbell judge</code> reads them.
        </p>
      </details>
    </>
  )
}

/** The rule chosen, where it says the same as the judge. */
function agrees(judge: JudgeState, v: JudgeAnswer): string {
  if (v.school.met == null) return ""
  return v.school.met
    ? `By the rule chosen (${judge.accepted}) the gauge alone would pass, too.`
    : `By the rule chosen (${judge.accepted}) the gauge alone would not pass either.`
}

/** The leak in a row of ways to say it; every figure is the core's, its lines below. Where none is shown, the most it may be. */
function equivalents(v: JudgeAnswer, habit: Habit, wet: boolean): [string, string][] {
  const most = v.verdict === "leaking" ? "" : "at most "
  const said = (q: number, unit = true) => leak(q, habit, unit, v.by_day)
  const [low, high] = [v.leak.from_none ? "none" : said(v.leak.low, false), said(v.leak.high)]
  const drops = v.drops_a_minute
  const K = v.kelvin_to_explain
  const ways: [string, string][] = [
    ["leak, 95 % band", v.verdict === "leaking" ? `${said(v.leak.estimate, false)} (${low} to ${high})` : `${low} to ${high}`],
    v.level_scale != null
      ? ["as level", `${most}${digits(inUnit(v.pressure_rate * v.level_scale * 86_400, "length", habit), 2)} ${unitOf("length", habit)}/day`]
      : ["as pressure", `${most}${digits(inUnit(v.pressure_rate * 3600, "pressure", habit), 2)} ${unitOf("pressure", habit)}/h`],
    [
      K != null && K < 0 ? "as warming" : "as cooling",
      K == null ? "not known" : `${digits(isMetric(habit) ? Math.abs(K) : Math.abs(K) * 1.8, 2)} ${unitOf("temperature", habit)}`,
    ],
  ]
  if (v.of_make != null) ways.push(["of what it makes", `${most}${digits(v.of_make * 100, 2)} %`])
  if (wet) ways.splice(1, 0, ["in drops", most + (drops >= 1 ? `${digits(drops, 2)} a minute` : `one in ${digits(1 / drops, 2)} min`)])
  return ways
}

const VALVES = {
  good: "text-moss",
  reset: "text-brass-ink",
  bad: "text-vermilion",
  "cannot-tell": "text-brass-ink",
  passed: "text-moss",
  "not-passed": "text-vermilion",
  stop: "text-vermilion",
}

/** A relief valve's rounds or a first steam: what they prove, what it has to do line by line, and what would settle what is open. */
function Valve({ valve, habit }: { valve: Schema["ReliefAnswer"] | Schema["SteamAnswer"]; habit: Habit }) {
  const [first, ...rest] = valve.says.split(/(?<=[.:]) /)
  return (
    <>
      <h2 className="text-head leading-tight" data-testid="verdict">
        <span className={VALVES[valve.answer]}>{first}</span> <span className="font-sturdy">{rest.join(" ")}</span>
      </h2>
      {valve.settle_it.length > 0 && (
        <p className="strip" data-testid="settle">
          <b>To settle it:</b> {valve.settle_it.join(" Or: ")}
        </p>
      )}
      {"witnesses" in valve && <Witnesses witnesses={valve.witnesses} habit={habit} />}
      <Checks checks={valve.checks} />
      <details>
        <summary className="w-fit text-small text-water-ink dotted">how this was worked out</summary>
        <div className="mt-2">
          <Lines lines={valve.lines} />
        </div>
      </details>
    </>
  )
}

function NotJudged({ judge, habit }: { judge: JudgeState; habit: Habit }) {
  const judgeIt = useJudgeIt(judge.id)
  const may = judge.state === "held" && !judge.may_decide
  useKeys([{ key: "Enter", does: "judge the hold", act: () => judgeIt.mutate({ ignore: 0, put_back: [] }), disabled: !may || judgeIt.isPending }])
  if (judge.state === "held" && judge.may_decide) return <TooLittle />
  if (judge.state === "aborted" || judge.state === "closed") return <Dumped judge={judge} habit={habit} />
  return (
    <>
      <h2 className="text-head">{may ? "The hold is over. Is it tight?" : "Nothing to judge yet"}</h2>
      {may ? (
        <>
          <p className="text-body text-quiet">The readings are taken as they were logged; nothing is changed by judging.</p>
          <button className="btn btn-primary h-12 w-fit px-8" onClick={() => judgeIt.mutate({ ignore: 0, put_back: [] })} disabled={judgeIt.isPending}>
            Judge the hold <kbd className="key">⏎</kbd>
          </button>
          {judgeIt.error && <Alert>{judgeIt.error.message}</Alert>}
        </>
      ) : (
        <p>
          The hold comes first.{" "}
          <Link className="underline" to={`/trials/${judge.id}/bench`}>
            To the bench
          </Link>
        </p>
      )}
    </>
  )
}

/** A hold with too little in its log to be judged: it is decided all the same. */
function TooLittle() {
  return (
    <>
      <h2 className="text-head">
        <span className="text-brass-ink">Cannot be judged.</span> <span className="font-sturdy">Too little was read during the hold.</span>
      </h2>
      <p className="text-body text-quiet">
        A hold needs a reading at shut-in and one at its end, at the least. Write the decision all the same, not proven, and plan the next trial: it begins with
        this one's kit and stages.
      </p>
    </>
  )
}

/** A run that was let go before a hold was finished: what it showed all the same. */
function Dumped({ judge, habit }: { judge: JudgeState; habit: Habit }) {
  const { data: record } = useRecord(judge.id)
  const started = record?.started_at ? Date.parse(record.started_at) : 0
  return (
    <>
      <h2 className="text-head">
        <span className="text-vermilion">Dumped.</span> <span className="font-sturdy">No hold was finished, so there is nothing to judge.</span>
      </h2>
      <p className="text-body text-quiet">The run is on record all the same. Mend what it showed, and plan the next.</p>
      {record && (
        <>
          <div className="h-72 lg:h-auto lg:min-h-0 lg:flex-1">
            <CourseChart
              answer={judge.plan}
              habit={habit}
              trace={record.trace.map((p) => ({ time: (Date.parse(p.at) - started) / 1000, pressure: p.pressure }))}
              shift={record.course_from}
            />
          </div>
          <ol className="columns-2 gap-8 text-note">
            {record.log
              .filter((line) => Date.parse(line.at) >= started)
              .map((line) => (
                <li key={line.id} className="grid break-inside-avoid grid-cols-[58px_1fr] gap-2 py-0.5">
                  <span className="figure font-normal text-quiet">{clock((Date.parse(line.at) - started) / 1000)}</span>
                  <span>{line.says}</span>
                </li>
              ))}
          </ol>
        </>
      )}
    </>
  )
}
