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
import { Pins } from "../bench/Pins"
import { Elevation } from "../parts/elevation/Elevation"
import { Openings } from "../parts/elevation/Openings"
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

const AWAY = "text-water-ink underline decoration-dotted underline-offset-3"
const PAPERS = { A4: "210mm", Letter: "215.9mm" } as const

function Page({ record, habit }: { record: RecordOut; habit: Habit }) {
  const { judge } = record
  const [paper, setPaper] = useState<keyof typeof PAPERS>("A4")
  const pdf = (full: boolean) => `/api/records/${judge.id}/report.pdf?paper=${paper}&full=${full}`
  useKeys([{ key: "p", does: "the report as PDF, two pages", act: () => window.open(pdf(false), "_blank", "noreferrer") }])
  return (
    <>
      <TrialHead {...judge} note="record" />
      <main className="flex-1 overflow-auto print:overflow-visible">
        <div className="no-print mx-auto flex max-w-[215.9mm] flex-wrap items-center gap-x-4 gap-y-2 px-4 pt-4 text-[14px]">
          <a className={AWAY} href={`/api/trials/${judge.id}/package.zip`} download>
            Carry it away
          </a>
          <a className={AWAY} href={`/api/trials/${judge.id}/hold.csv`} download>
            hold as CSV
          </a>
          {judge.verdict && (
            <a className={AWAY} href={`/api/records/${judge.id}/hold.svg`} download>
              hold as SVG
            </a>
          )}
          <a className={AWAY} href={`/api/records/${judge.id}/run.svg`} download>
            run as SVG
          </a>
          <span className="ml-auto flex flex-wrap items-center gap-3">
            <label className="flex items-center gap-2 text-quiet">
              Paper
              <select className="select h-11 w-24 bg-paper text-ink" value={paper} onChange={(event) => setPaper(event.target.value as keyof typeof PAPERS)}>
                {Object.keys(PAPERS).map((name) => (
                  <option key={name}>{name}</option>
                ))}
              </select>
            </label>
            <a className="btn btn-primary h-11" href={pdf(false)} target="_blank" rel="noreferrer">
              PDF, two pages <kbd className="key">P</kbd>
            </a>
            <a className="btn btn-outline h-11 border-[1.5px] bg-ground" href={pdf(true)} target="_blank" rel="noreferrer">
              PDF, all of it
            </a>
          </span>
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
          <Leaks record={record} />
          <Decided record={record} habit={habit} />
          <Kept record={record} />
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
        <p className="text-quiet">
          {record.sheet["medium"] === "air" || record.judge.plan.medium === "air" ? "Record of a trial under air" : "Record of a hydrostatic trial"}
        </p>
        <h1 className="text-[28px]">{judge.vessel}</h1>
        <p>
          {ordinal(judge.number)} trial, begun {day(record.started_at)}. Planned by {record.planned_by}
          {record.ran_by.length > 0 && `, run by ${record.ran_by.join(", ")}`}.
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
  const { plan } = record.judge
  const shell = (sheet["shell"] ?? {}) as { [key: string]: unknown }
  const { wide, tall } = extent(shape)
  const scale = Math.min(220 / wide, 120 / tall)
  const text = (value: unknown) => (value == null ? "not known" : String(value))
  return (
    <Part title="The vessel">
      <div className="grid grid-cols-[1fr_auto] gap-6">
        <Rows
          rows={[
            ["Kind", record.kind_name],
            ["Plate", text(sheet["plate_pressure"])],
            ["Made, in service until", `${text(sheet["made"])}, ${text(sheet["retire"])}`],
            ["Inside diameter × length", `${text(shell["inside_diameter"])} × ${text(shell["length"])}`],
            ["Wall, thinnest reading", `${text(shell["wall"])}${shell["wall_measured"] ? " measured" : " assumed"}, ${show(shape.thinnest, "length", habit)}`],
            ["Material", text(shell["material"])],
            ["Volume", show(record.judge.plan.volume, "volume", habit)],
          ]}
        />
        <Elevation
          shape={shape}
          scale={scale}
          habit={habit}
          water={plan.medium === "water"}
          room={26}
          over={(px) => (
            <>
              <Openings shape={shape} px={px} order={plan.openings.map((one) => one.name)} />
              <Pins leaks={record.leaks} px={px} />
            </>
          )}
        />
      </div>
      {plan.openings.length > 0 && (
        <p className="mt-1 text-[12.5px] text-quiet">Openings: {plan.openings.map((one, i) => `${i + 1} ${one.name}, ${one.do}`).join("; ")}.</p>
      )}
      <div className="mt-2">
        <Rows
          rows={[
            ["Gauge", kit(sheet["gauge"], true)],
            ["Thermometer", kit(sheet["thermometer"])],
            ["Pump", kit(sheet["pump"])],
          ]}
        />
      </div>
    </Part>
  )
}

function kit(value: unknown, calibrated = false): string {
  if (!value) return "none on record"
  const { name, calibrated: on, ...rest } = value as { [key: string]: unknown }
  const particulars = Object.entries(rest).map(([key, what]) => `${key.replaceAll("_", " ")} ${String(what)}`)
  const seen = on ? `calibrated ${day(String(on))}` : calibrated ? "no calibration on record" : ""
  return [name ? String(name) : "", ...particulars, seen].filter(Boolean).join(", ")
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
      <table className="mt-2 w-full max-w-xl text-left text-[13px]">
        <thead className="text-quiet">
          <tr className="border-b border-rule">
            {["stage", "planned", "reached", "at"].map((name, i) => (
              <th key={name} className={`py-0.5 font-normal ${i ? "text-right" : ""}`}>
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {record.stages.map((stage) => (
            <tr key={stage.name} className="border-b border-rule">
              <td className="py-0.5">{stage.name}</td>
              <td className="figure text-right">{show(stage.target, "pressure", habit, 4)}</td>
              <td className="figure text-right">{stage.pressure == null ? "not reached" : show(stage.pressure, "pressure", habit, 4)}</td>
              <td className="figure text-right">
                {stage.at && record.started_at ? clock((Date.parse(stage.at) - Date.parse(record.started_at)) / 1000) : "–"}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-2">
        Hold of {digits(plan.hold.minimum / 60)} min; accepted: {acceptance(record.judge)}.
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
  const dates = record.next_dates.map((due) => `${due.what} ${due.on ? `by ${day(due.on)}` : due.says}`).join("; ")
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
            ...(decision.pressure == null
              ? []
              : ([
                  ["Relief valve, and switch", `set at no more than ${show(decision.pressure, "pressure", habit, 4)}`],
                  ["Next", `${dates || `proof by ${day(decision.next_proof)}`}. Sooner after any knock, mend or change.`],
                ] as [string, ReactNode][])),
          ]}
        />
      ) : (
        <p>Not decided. The evidence says: {advice.says}</p>
      )}
    </Part>
  )
}

const OWNERS: Record<string, string> = { boundary: "the vessel's own", rig: "the rig's" }

function Leaks({ record }: { record: RecordOut }) {
  return (
    <Part title="Leaks and mends">
      {record.leaks.length === 0 && <p>None was found.</p>}
      <ol>
        {record.leaks.map((leak, i) => (
          <li key={leak.id} className="flex break-inside-avoid items-start gap-3 py-1">
            <span
              className={`mt-0.5 grid h-5 w-5 shrink-0 place-items-center text-[12px] font-bold text-paper ${leak.owner === "boundary" ? "bg-vermilion" : "rounded-full bg-brass-ink"}`}
            >
              {i + 1}
            </span>
            <span>
              <b>{leak.where}</b>, {OWNERS[leak.owner] ?? leak.owner}, {leak.shows}. {leak.mend ? `Mended: ${leak.mend}.` : "Not mended in this trial."}
            </span>
            {record.attachments
              .filter((one) => one.event === leak.id)
              .map((one) => (
                <img key={one.id} src={`/api/photos/${one.id}?small=true`} alt={one.text} className="ml-auto h-24 border border-rule" />
              ))}
          </li>
        ))}
      </ol>
    </Part>
  )
}

/** Pictures and papers that are no leak's. */
function Kept({ record }: { record: RecordOut }) {
  const leaks = new Set(record.leaks.map((leak) => leak.id))
  const rest = record.attachments.filter((one) => !one.event || !leaks.has(one.event))
  if (rest.length === 0) return null
  return (
    <Part title="Pictures and papers">
      <ul className="flex flex-wrap gap-3 text-[12.5px]">
        {rest.map((one) => (
          <li key={one.id} className="w-36 break-inside-avoid">
            {one.kind === "photo" ? (
              <img src={`/api/photos/${one.id}?small=true`} alt={one.text} className="h-24 w-36 border border-rule object-cover" />
            ) : (
              <a className={AWAY} href={`/api/papers/${one.id}`} download>
                PDF, {one.pages} {one.pages === 1 ? "page" : "pages"}
              </a>
            )}
            <span className="block">
              {one.text || one.name}, {day(one.at)}
            </span>
          </li>
        ))}
      </ul>
    </Part>
  )
}
