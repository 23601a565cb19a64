import { useState } from "react"
import { Link, useParams } from "react-router"
import { useMe } from "../api/me"
import { useKeys } from "../app/keys"
import { Failed, Loading } from "../app/states"
import { useTheme } from "../app/theme"
import { TrialHead } from "../app/TrialHead"
import { CourseChart } from "../parts/CourseChart"
import { Glass } from "../parts/Glass"
import { Lines, Why } from "../parts/Lines"
import { glassOf } from "../parts/marks"
import { Tag, type Fitness } from "../parts/Tag"
import { clock, day, digits, habitFor, inUnit, show, unitOf, type Habit } from "../parts/units"
import { useRecord } from "../records/queries"
import { DecisionForm } from "./DecisionForm"
import { HoldChart } from "./HoldChart"
import { useJudge, useJudgeIt, type JudgeState } from "./queries"

/** The judge's room: the verdict as a sentence first, then what it rests on, then the decision. */
export function Judge() {
  useTheme("daylight")
  const { id = "" } = useParams()
  const [judge, me] = [useJudge(id), useMe()]
  if (judge.error) return <Failed error={judge.error} retry={() => void judge.refetch()} />
  if (!judge.data || !me.data) return <Loading what="the hold" />
  return <Room judge={judge.data} habit={habitFor(me.data.units, judge.data.plan.gauge_target)} />
}

function Room({ judge, habit }: { judge: JudgeState; habit: Habit }) {
  const { plan, verdict } = judge
  const held = judge.held_pressure != null ? [{ name: "held", pressure: judge.held_pressure, tone: "water" as const, figures: 4 }] : []
  const marks = [
    ...held,
    { name: "test", pressure: plan.gauge_target, tone: "brass" as const, figures: 4 },
    { name: "wanted", pressure: plan.working_pressure, tone: "brass" as const },
  ]
  const relief =
    plan.relief_set != null && plan.relief_set !== plan.working_pressure ? [{ name: "relief", pressure: plan.relief_set, tone: "brass" as const }] : []
  return (
    <>
      <TrialHead {...judge} note={verdict ? `held ${Math.round(verdict.hold / 60)} min` : judge.state} />
      <main className="grid flex-1 overflow-auto lg:grid-cols-[216px_1fr_340px] lg:grid-rows-1 lg:overflow-hidden">
        <section className="hidden border-r-[1.5px] border-rule lg:block" aria-label="The glass">
          <Glass habit={habit} plan={[...marks, ...relief]} level={judge.held_pressure} {...glassOf(plan)} lineFrom={null} />
        </section>
        <section className="flex min-w-0 flex-col gap-3 px-5 py-4 lg:min-h-0 lg:overflow-auto">
          {verdict ? <Verdict judge={judge} habit={habit} /> : <NotJudged judge={judge} habit={habit} />}
        </section>
        <Evidence judge={judge} habit={habit} />
      </main>
    </>
  )
}

const TONES = { tight: "text-moss", leaking: "text-vermilion", "cannot-tell": "text-brass-ink" }

function Verdict({ judge, habit }: { judge: JudgeState; habit: Habit }) {
  const v = judge.verdict!
  const [first, ...rest] = v.says.split(". ")
  return (
    <>
      <div>
        <h2 className="text-[28px]" data-testid="verdict">
          <span className={TONES[v.verdict]}>{first}.</span> <span className="font-[550]">{rest.join(". ")}</span>
        </h2>
        <p className="mt-1 text-[15.5px] text-quiet">{byEye(judge, habit)}</p>
        {v.settle_it.map((way) => (
          <p key={way} className="strip mt-2">
            {way}
          </p>
        ))}
      </div>
      <div className="lg:min-h-0 lg:flex-1">
        <HoldChart points={judge.points} verdict={v} habit={habit} />
      </div>
      <dl className="grid grid-cols-2 gap-3 md:grid-cols-[1.35fr_1fr_1fr_1.15fr]">
        {equivalents(judge, habit).map(([name, value]) => (
          <div key={name} className="border-l-[3px] border-water pl-3">
            <dt className="text-[13.5px] text-quiet">{name}</dt>
            <dd className="figure text-[15.5px] whitespace-nowrap">{value}</dd>
          </div>
        ))}
      </dl>
      <details>
        <summary className="w-fit text-[13.5px] text-water-ink underline decoration-dotted underline-offset-3">how this was worked out</summary>
        <div className="mt-2">
          <Lines lines={v.lines} />
        </div>
      </details>
      <p className="text-[13px] text-quiet">
        {v.readings} readings.{" "}
        <a className="underline" href={`/api/trials/${judge.id}/hold.csv`}>
          The hold as CSV
        </a>{" "}
        and{" "}
        <a className="underline" href={`/api/trials/${judge.id}/hold.json`}>
          its sheet
        </a>
        , as <code className="font-mono">toadbell judge</code> reads them.
      </p>
    </>
  )
}

/** What a person would say by the drop alone, and what the temperature explains of it. */
function byEye(judge: JudgeState, habit: Habit): string {
  const v = judge.verdict!
  const unit = unitOf("pressure", habit)
  const moved = v.drop >= 0 ? "fell" : "rose"
  const drop = `The needle ${moved} ${digits(Math.abs(inUnit(v.drop, "pressure", habit)), 2)} ${unit} in ${Math.round(v.hold / 60)} min.`
  const warm = v.drop_from_temperature
  const part =
    warm == null
      ? " No temperature was read, so warming or cooling cannot be told from a leak."
      : ` ${warm >= 0 ? "Cooling" : "Warming"} accounts for ${digits(Math.abs(inUnit(warm, "pressure", habit)), 2)} ${unit} of that${warm * v.drop < 0 ? ", the other way" : ""}.`
  const rule = acceptance(judge)
  const met = v.school.met == null ? "" : ` By the rule chosen (${rule}) the drop alone would ${v.school.met ? "pass" : "not pass"}.`
  return drop + part + met
}

export function acceptance(judge: JudgeState): string {
  const a = judge.acceptance as Record<string, unknown>
  if (a["max_drop"]) return `at most ${String(a["max_drop"])} over ${String(a["over"])}`
  if (a["max_leak"]) return `at most ${String(a["max_leak"])}`
  return "no drop to be seen"
}

function equivalents(judge: JudgeState, habit: Habit): [string, string][] {
  const v = judge.verdict!
  const half = (v.leak.high - v.leak.low) / 2
  const mlh = inUnit(v.leak.estimate, "leak", habit)
  const drops = (mlh * 20) / 60
  const leak = `${digits(mlh, 2)} ± ${digits(inUnit(half, "leak", habit), 2)} mL/h`
  return [
    ["leak, with its 95 % band", leak],
    ["drops", mlh <= 0 ? "none" : drops >= 1 ? `${digits(drops, 2)} a minute` : `one in ${digits(1 / drops, 2)} min`],
    ["pressure", `${digits(inUnit(v.pressure_rate * 3600, "pressure", habit), 2)} ${unitOf("pressure", habit)}/h`],
    ["cooling that would do it", v.temperature_rate_to_explain == null ? "not known" : `${digits(v.temperature_rate_to_explain * 3600, 2)} °C/h`],
  ]
}

function NotJudged({ judge, habit }: { judge: JudgeState; habit: Habit }) {
  const judgeIt = useJudgeIt(judge.id)
  const may = judge.state === "held"
  useKeys([{ key: "Enter", does: "judge the hold", act: () => judgeIt.mutate(), disabled: !may || judgeIt.isPending }])
  if (judge.state === "aborted" || judge.state === "closed") return <Dumped judge={judge} habit={habit} />
  return (
    <>
      <h2 className="text-[28px]">{may ? "The hold is over. Is it tight?" : "Nothing to judge yet"}</h2>
      {may ? (
        <>
          <p className="text-[15.5px] text-quiet">The readings are taken as they were logged; nothing is changed by judging.</p>
          <button className="btn btn-primary h-12 w-fit px-8" onClick={() => judgeIt.mutate()} disabled={judgeIt.isPending}>
            Judge the hold <kbd className="key">⏎</kbd>
          </button>
          {judgeIt.error && (
            <p role="alert" className="strip border-vermilion">
              {judgeIt.error.message}
            </p>
          )}
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

/** A run that was let go before a hold was finished: what it showed all the same. */
function Dumped({ judge, habit }: { judge: JudgeState; habit: Habit }) {
  const { data: record } = useRecord(judge.id)
  const started = record?.started_at ? Date.parse(record.started_at) : 0
  const shut = record?.log.find((line) => line.kind === "vent-shut")
  return (
    <>
      <h2 className="text-[28px]">
        <span className="text-vermilion">Dumped.</span> <span className="font-[550]">No hold was finished, so there is nothing to judge.</span>
      </h2>
      <p className="text-[15.5px] text-quiet">The run is on record all the same. Mend what it showed, and plan the next.</p>
      {record && (
        <>
          <div className="h-72 lg:h-auto lg:min-h-0 lg:flex-1">
            <CourseChart
              answer={judge.plan}
              habit={habit}
              trace={record.trace.map((p) => ({ time: (Date.parse(p.at) - started) / 1000, pressure: p.pressure }))}
              shift={shut ? (Date.parse(shut.at) - started) / 1000 : 0}
            />
          </div>
          <ol className="columns-2 gap-8 text-[14px]">
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

const SIGNS = { met: ["✓", "text-moss"], "not met": ["✗", "text-vermilion"], "not known": ["?", "text-brass-ink"] } as const

function Evidence({ judge, habit }: { judge: JudgeState; habit: Habit }) {
  const { advice, decision } = judge
  const [deciding, setDeciding] = useState(false)
  const may = judge.state === "judged" || judge.state === "aborted"
  useKeys([{ key: "Enter", does: "write the decision", act: () => setDeciding(true), disabled: !may || deciding }])
  const shown = decision ?? { fitness: advice.answer, pressure: advice.pressure ?? null }
  return (
    <aside className="flex flex-col border-t-[1.5px] border-rule lg:min-h-0 lg:border-t-0 lg:border-l-[1.5px]">
      <div className="flex-1 px-4 py-4 lg:overflow-auto">
        <Tag
          fitness={shown.fitness as Fitness}
          pressure={shown.pressure}
          habit={habit}
          large
          date={decision?.at ?? null}
          note={shown.fitness === "not proven" ? "no pressure" : ""}
        />
        <p className="mt-2 text-[15px]">
          {decision ? (
            <>
              Decided by {decision.by}.{decision.reason && <> “{decision.reason}”</>}
              {decision.less_cautious && <strong className="text-brass-ink"> Goes further than the evidence.</strong>}
            </>
          ) : (
            <>As far as the evidence goes: {advice.says}</>
          )}
        </p>
        {(decision?.next_proof ?? advice.next_proof) && (
          <p className="text-[14px] text-quiet">
            Relief valve at no more than {show(decision?.pressure ?? advice.relief_at_most, "pressure", habit)}. Next proof by{" "}
            {day(decision?.next_proof ?? advice.next_proof)}, earlier after any knock, mend or change.
          </p>
        )}
        <Why lines={advice.lines} figures={["pressure"]} />
        <h2 className="mt-3 mb-1 text-[17px]">What this rests on</h2>
        <ul>
          {advice.evidence.map((line) => (
            <li key={line.name} className="grid grid-cols-[20px_1fr] border-b border-rule py-[3.5px]">
              <span className={`font-bold ${SIGNS[line.state][1]}`} role="img" aria-label={line.state}>
                {SIGNS[line.state][0]}
              </span>
              <span>
                <span className="text-[14.5px] leading-tight font-semibold">{line.name}</span>
                <span className="block text-[13px] leading-tight text-quiet">{line.says}</span>
              </span>
            </li>
          ))}
        </ul>
      </div>
      <div className="border-t-[1.5px] border-rule px-4 py-3">
        {decision ? (
          <Link to={`/records/${judge.id}`} className="btn btn-primary h-11 w-full">
            To the record
          </Link>
        ) : (
          <button className="btn btn-primary h-11 w-full" disabled={!may} onClick={() => setDeciding(true)}>
            Write the decision <kbd className="key">⏎</kbd>
          </button>
        )}
        <p className="mt-1.5 text-center text-[12.5px] text-quiet">Own-use record. Not a certificate.</p>
      </div>
      {deciding && <DecisionForm judge={judge} habit={habit} close={() => setDeciding(false)} />}
    </aside>
  )
}
