import { useMemo, useState, type ReactNode } from "react"
import { useParams } from "react-router"
import type { Schema } from "../api/client"
import { useMe } from "../api/me"
import { useKeys } from "../app/keys"
import { Failed, Loading } from "../app/states"
import { useTheme } from "../app/theme"
import { TrialHead } from "../app/TrialHead"
import { acceptance } from "../judge/Judge"
import { HoldChart } from "../judge/HoldChart"
import { CourseChart } from "../parts/CourseChart"
import { Elevation } from "../parts/elevation/Elevation"
import { extent } from "../parts/elevation/frame"
import { Lines } from "../parts/Lines"
import { Tag, type Fitness } from "../parts/Tag"
import { clock, day, digits, habitFor, ordinal, show, type Habit } from "../parts/units"

import { useRecord } from "./queries"

type RecordOut = Schema["RecordOut"]

/** The record of a trial: one sheet, the same on the screen and on A4 or Letter. */
export function Record() {
  useTheme("daylight")
  const { id = "" } = useParams()
  const me = useMe()
  const record = useRecord(id)
  if (record.error) return <Failed error={record.error} retry={() => void record.refetch()} />
  if (!record.data || !me.data) return <Loading what="the record" />
  return <Page record={record.data} habit={habitFor(me.data.units, record.data.judge.plan.gauge_target)} />
}

const PAPERS = { A4: "210mm", Letter: "215.9mm" } as const

function Page({ record, habit }: { record: RecordOut; habit: Habit }) {
  const { judge } = record
  const [paper, setPaper] = useState<keyof typeof PAPERS>("A4")
  useKeys([{ key: "p", does: "print the record", act: () => window.print() }])
  return (
    <>
      <TrialHead {...judge} note="record" />
      <main className="flex-1 overflow-auto print:overflow-visible">
        <div className="no-print mx-auto flex max-w-[215.9mm] items-center justify-end gap-3 px-4 pt-4">
          <label className="flex items-center gap-2 text-quiet">
            Paper
            <select className="select h-9 w-28 bg-paper text-ink" value={paper} onChange={(event) => setPaper(event.target.value as keyof typeof PAPERS)}>
              {Object.keys(PAPERS).map((name) => (
                <option key={name}>{name}</option>
              ))}
            </select>
          </label>
          <button className="btn btn-primary h-9" onClick={() => window.print()}>
            Print <kbd className="key">P</kbd>
          </button>
        </div>
        <article
          className={`mx-auto my-4 border-[1.5px] border-rule bg-paper p-[12mm] text-[13.5px] print:m-0 print:border-0 print:bg-white print:p-0 paper-${paper.toLowerCase()}`}
          style={{ width: PAPERS[paper], maxWidth: "100%" }}
          data-testid="record"
        >
          <Title record={record} habit={habit} />
          <Vessel record={record} habit={habit} />
          <Plan record={record} habit={habit} />
          <Course record={record} habit={habit} />
          {judge.verdict && <Hold record={record} habit={habit} />}
          <Decided record={record} habit={habit} />
          <footer className="mt-5 border-t-[1.5px] border-ink pt-2 text-[12px] text-quiet">
            <strong className="text-ink">Own-use record. Not a certificate.</strong> Local codes, the club's inspector and the maker come first. Worked out by
            Toad Bell's core {record.core}; trial {judge.id}.
          </footer>
        </article>
      </main>
    </>
  )
}

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="mt-5">
      <h2 className="mb-1.5 break-after-avoid border-b-[1.5px] border-ink pb-0.5 text-[16px]">{title}</h2>
      {children}
    </section>
  )
}

function Rows({ rows }: { rows: [string, ReactNode][] }) {
  return (
    <dl className="grid grid-cols-[auto_1fr] gap-x-4 gap-y-0.5">
      {rows.map(([name, value]) => (
        <div key={name} className="contents">
          <dt className="text-quiet">{name}</dt>
          <dd className="font-semibold">{value}</dd>
        </div>
      ))}
    </dl>
  )
}

function Title({ record, habit }: { record: RecordOut; habit: Habit }) {
  const { judge } = record
  return (
    <div className="flex items-start justify-between gap-4">
      <div>
        <p className="text-quiet">Record of a hydrostatic trial</p>
        <h1 className="text-[28px]">{judge.vessel}</h1>
        <p>
          {ordinal(judge.number)} trial, begun {day(record.started_at)}, planned by {record.planned_by}
        </p>
      </div>
      {judge.decision ? (
        <Tag fitness={judge.decision.fitness as Fitness} pressure={judge.decision.pressure} habit={habit} date={judge.decision.at} />
      ) : (
        <span className="text-quiet">not decided</span>
      )}
    </div>
  )
}

function Vessel({ record, habit }: { record: RecordOut; habit: Habit }) {
  const { shape, sheet } = record
  const shell = (sheet["shell"] ?? {}) as { [key: string]: unknown }
  const { wide, tall } = extent(shape)
  const scale = Math.min(230 / wide, 130 / tall)
  const text = (value: unknown) => (value == null ? "not known" : String(value))
  return (
    <Part title="The vessel">
      <div className="grid grid-cols-[1fr_auto] gap-6">
        <Rows
          rows={[
            ["Kind", record.kind],
            ["Plate", text(sheet["plate_pressure"])],
            ["Made, in service until", `${text(sheet["made"])}, ${text(sheet["retire"])}`],
            ["Inside diameter × length", `${text(shell["inside_diameter"])} × ${text(shell["length"])}`],
            ["Wall, thinnest reading", `${text(shell["wall"])}${shell["wall_measured"] ? " measured" : " assumed"}, ${show(shape.thinnest, "length", habit)}`],
            ["Material", text(shell["material"])],
            ["Volume", show(record.judge.plan.volume, "volume", habit)],
            ["Gauge", kit(sheet["gauge"])],
            ["Thermometer", kit(sheet["thermometer"])],
            ["Pump", kit(sheet["pump"])],
          ]}
        />
        <Elevation shape={shape} scale={scale} habit={habit} />
      </div>
    </Part>
  )
}

function kit(value: unknown): string {
  if (!value) return "none on record"
  return Object.entries(value as { [key: string]: unknown })
    .map(([key, what]) => `${key.replaceAll("_", " ")} ${String(what)}`)
    .join(", ")
}

function Plan({ record, habit }: { record: RecordOut; habit: Habit }) {
  const { plan } = record.judge
  const keys = ["test_pressure", "gauge_target", "ceiling", "allowable", "volume", "compliance", "energy.water", "energy.air_at_test"]
  return (
    <Part
      title={`The plan: ${plan.bases.find((basis) => basis.id === plan.basis)?.name ?? plan.basis} to ${show(plan.gauge_target, "pressure", habit, 4)} on the gauge`}
    >
      <div className="columns-2 gap-6 text-[12px]">
        <Lines lines={plan.lines.filter((line) => keys.includes(line.figure))} />
      </div>
      <p className="mt-2">
        Stages: {plan.stages.map((stage) => `${stage.name} ${show(stage.target, "pressure", habit)}`).join(", ")}. Hold {digits(plan.hold.minimum / 60)} min;
        accepted: {acceptance(record.judge)}.
      </p>
    </Part>
  )
}

function Course({ record, habit }: { record: RecordOut; habit: Habit }) {
  const started = record.started_at ? Date.parse(record.started_at) : null
  const trace = useMemo(() => record.trace.map((p) => ({ time: (Date.parse(p.at) - (started ?? 0)) / 1000, pressure: p.pressure })), [record.trace, started])
  const shut = record.log.find((line) => line.kind === "vent-shut")
  const log = record.log.filter((line) => started && Date.parse(line.at) >= started)
  return (
    <Part title="The run">
      <div className="h-52 break-inside-avoid print:h-auto">
        <CourseChart answer={record.judge.plan} habit={habit} trace={trace} shift={shut && started ? (Date.parse(shut.at) - started) / 1000 : 0} />
      </div>
      <ol className="mt-2 columns-2 gap-6 text-[12px]">
        {log.map((line) => (
          <li key={line.id} className="grid break-inside-avoid grid-cols-[52px_1fr] gap-2">
            <span className="figure font-normal text-quiet">{started ? clock((Date.parse(line.at) - started) / 1000) : ""}</span>
            <span>{line.says}</span>
          </li>
        ))}
      </ol>
    </Part>
  )
}

function Hold({ record, habit }: { record: RecordOut; habit: Habit }) {
  const { verdict, points } = record.judge
  if (!verdict) return null
  return (
    <Part title="The hold">
      <p className="text-[15px] font-semibold">{verdict.says}</p>
      {verdict.school_says && <p className="text-[13px]">{verdict.school_says}</p>}
      {[...verdict.steps.map((step) => `${step.says} ${step.put_back ? "Put back by hand." : "Cut out."}`), ...verdict.notes].map((note) => (
        <p key={note} className="text-[13px] text-quiet">
          {note}
        </p>
      ))}
      <div className="h-72 break-inside-avoid print:h-auto">
        <HoldChart points={points} verdict={verdict} habit={habit} />
      </div>
      <div className="columns-2 gap-6 text-[12px]">
        <Lines lines={verdict.lines} />
      </div>
    </Part>
  )
}

function Decided({ record, habit }: { record: RecordOut; habit: Habit }) {
  const { decision, advice } = record.judge
  return (
    <Part title="Fitness and decision">
      <ul className="mb-2 columns-2 gap-6 text-[12.5px]">
        {advice.evidence.map((line) => (
          <li key={line.name} className="break-inside-avoid">
            <strong>{line.state}</strong>: {line.name}. <span className="text-quiet">{line.says}</span>
          </li>
        ))}
      </ul>
      {decision ? (
        <Rows
          rows={[
            ["Decided", `${decision.fitness}${decision.pressure != null ? `, for ${show(decision.pressure, "pressure", habit, 4)}` : ""}`],
            ["By, on", `${decision.by}, ${day(decision.at)}`],
            ["Reason", decision.reason || "none written"],
            ["The evidence said", `${advice.answer}: ${advice.says}${decision.less_cautious ? " The decision goes further." : ""}`],
            ["Relief valve", decision.pressure != null ? `set at no more than ${show(decision.pressure, "pressure", habit, 4)}` : "–"],
            ["Next proof", day(decision.next_proof)],
          ]}
        />
      ) : (
        <p>Not decided. The evidence says: {advice.says}</p>
      )}
    </Part>
  )
}
