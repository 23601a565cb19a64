import { useMemo, type ReactNode } from "react"
import type { Schema } from "../api/client"
import { Checks } from "../parts/Checks"
import { between, CircuitPicture } from "../parts/CircuitPicture"
import { CourseChart } from "../parts/CourseChart"
import { Elevation } from "../parts/elevation/Elevation"
import { extent } from "../parts/elevation/frame"
import { Openings } from "../parts/elevation/Openings"
import { bubbles } from "../parts/elevation/bubbles"
import { Pins } from "../parts/elevation/Pins"
import { OtherSides } from "../parts/elevation/Seen"
import { HoldChart } from "../parts/HoldChart"
import { Lines } from "../parts/Lines"
import { DecidedTag } from "../parts/Tag"
import { Witnesses } from "../parts/Witnesses"
import { clock, day, ordinal, show, type Habit, span } from "../parts/units"

type RecordOut = Schema["RecordOut"]
const AWAY = "text-water-ink dotted"

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="mt-5">
      <h2 className="mb-1.5 break-after-avoid border-b-line border-ink pb-0.5 text-plain">{title}</h2>
      {children}
    </section>
  )
}

function Rows({ rows }: { rows: [string, ReactNode][] }) {
  return (
    <dl className="grid grid-cols-[auto_1fr] content-start gap-x-4 gap-y-0.5">
      {rows.map(([name, value]) => (
        <div key={name} className="contents">
          <dt className="text-quiet">{name}</dt>
          <dd className="font-semibold">{value}</dd>
        </div>
      ))}
    </dl>
  )
}

/** Whose record it is, and its tag. */
export function Title({ record, habit }: { record: RecordOut; habit: Habit }) {
  const { judge } = record
  return (
    <div className="flex flex-wrap items-start justify-between gap-4 sm:flex-nowrap">
      <div>
        <p className="text-quiet">
          {record.judge.plan.procedure === "steam"
            ? "Record of a first steam"
            : record.sheet["medium"] === "air" || record.judge.plan.medium === "air"
              ? "Record of a trial under air"
              : "Record of a hydrostatic trial"}
        </p>
        <h1 className="text-head">{judge.vessel}</h1>
        <p className="first-letter:uppercase">
          {judge.practice && <strong>Practice on the simulated rig, it proves nothing. </strong>}
          {ordinal(judge.number)} trial, begun {day(record.started_at)}. Planned by {record.planned_by}
          {record.ran_by.length > 0 && `, run by ${record.ran_by.join(", ")}`}.
        </p>
      </div>
      {judge.decision ? (
        <DecidedTag decision={judge.decision} habit={habit} date={judge.decision.at} practice={judge.practice} />
      ) : (
        <span className="text-quiet">{judge.practice ? "practice, not decided" : "not decided"}</span>
      )}
    </div>
  )
}

/** The vessel with its openings and pins, and the kit. */
export function Vessel({ record, habit }: { record: RecordOut; habit: Habit }) {
  const { shape, sheet } = record
  const { plan } = record.judge
  const { wide, tall } = extent(shape)
  const scale = Math.min(220 / wide, 120 / tall)
  return (
    <Part title="The vessel">
      <div className="grid gap-6 sm:grid-cols-[1fr_auto] print:grid-cols-[1fr_auto]">
        <Rows rows={record.facts.map((fact) => [fact.name, fact.value])} />
        <div>
          <Elevation
            shape={shape}
            scale={scale}
            habit={habit}
            water={plan.medium === "water"}
            room={26}
            over={(px) => (
              <>
                <Openings shape={shape} px={px} order={plan.openings.map((one) => one.name)} />
                <Pins leaks={record.leaks} px={px} beside={[...bubbles(shape, px).values()]} />
              </>
            )}
          />
          <OtherSides shape={shape} order={plan.openings.map((one) => one.name)} leaks={record.leaks} fit={[110, 80]} />
        </div>
      </div>
      {plan.openings.length > 0 && (
        <p className="mt-1 text-fine text-quiet">Openings: {plan.openings.map((one, i) => `${i + 1} ${one.name}, ${one.do}`).join("; ")}.</p>
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

/** The plan with its lines, and the stages as they were reached. */
export function Plan({ record, habit }: { record: RecordOut; habit: Habit }) {
  const { plan } = record.judge
  const keys = ["test_pressure", "gauge_target", "ceiling", "allowable", "volume", "compliance", "energy.water", "energy.air_at_test"]
  return (
    <Part
      title={`The plan: ${plan.bases.find((basis) => basis.id === plan.basis)?.name ?? plan.basis} to ${show(plan.gauge_target, "pressure", habit, 4)} on the gauge`}
    >
      <div className="gap-6 text-fine break-words sm:columns-2 print:columns-2">
        <Lines lines={plan.lines.filter((line) => keys.includes(line.figure))} />
      </div>
      <table className="mt-2 w-full max-w-xl text-left text-small">
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
            <tr key={stage.id} className="border-b border-rule">
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
        Hold of {span(plan.hold.minimum)}; accepted: {record.judge.accepted}.
      </p>
    </Part>
  )
}

/** The run over the plan, and its log. */
export function Course({ record, habit }: { record: RecordOut; habit: Habit }) {
  const started = record.started_at ? Date.parse(record.started_at) : null
  const trace = useMemo(() => record.trace.map((p) => ({ time: (Date.parse(p.at) - (started ?? 0)) / 1000, pressure: p.pressure })), [record.trace, started])
  const log = record.log.filter((line) => started && Date.parse(line.at) >= started)
  return (
    <Part title="The run">
      {record.ended && <p className="mb-2 text-body font-semibold">{record.ended}</p>}
      <div className="h-52 break-inside-avoid print:h-auto">
        <CourseChart answer={record.judge.plan} habit={habit} trace={trace} shift={record.course_from} />
      </div>
      <ol className="mt-2 gap-6 text-fine break-words sm:columns-2 print:columns-2">
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

type CheckedProps = {
  title: string
  told: Schema["ReliefAnswer"] | Schema["SteamAnswer"] | Schema["ExpansionAnswer"] | Schema["TighteningAnswer"] | Schema["BurstAnswer"]
  habit: Habit
}

/** What a relief valve's rounds or a first steam prove, line by line. */
export function Checked({ title, told, habit }: CheckedProps) {
  return (
    <Part title={title}>
      <p className="text-body font-semibold">{told.says}</p>
      {"witnesses" in told && <Witnesses witnesses={told.witnesses} habit={habit} />}
      <Checks checks={told.checks} />
    </Part>
  )
}

/** The hold with its verdict and lines. */
export function Hold({ record, habit }: { record: RecordOut; habit: Habit }) {
  const { verdict, points } = record.judge
  if (!verdict) return null
  return (
    <Part title="The hold">
      <p className="text-body font-semibold">{verdict.says}</p>
      {verdict.school_says && <p className="text-small">{verdict.school_says}</p>}
      {[...verdict.steps.map((step) => `${step.says} ${step.put_back ? "Put back by hand." : "Cut out."}`), ...verdict.notes].map((note) => (
        <p key={note} className="text-small text-quiet">
          {note}
        </p>
      ))}
      <div className="h-72 break-inside-avoid print:h-auto">
        <HoldChart points={points} verdict={verdict} habit={habit} />
      </div>
      <div className="gap-6 text-fine break-words sm:columns-2 print:columns-2">
        <Lines lines={verdict.lines} />
      </div>
      {record.judge.expansion && <Checked title="What it gave and kept" told={record.judge.expansion} habit={habit} />}
      {record.judge.joint && <Checked title="The joint" told={record.judge.joint} habit={habit} />}
    </Part>
  )
}

/** What it rests on, and what was decided. */
export function Decided({ record, habit }: { record: RecordOut; habit: Habit }) {
  const { decision, advice } = record.judge
  const dates = record.next_dates.map((due) => `${due.what} ${due.on ? `by ${day(due.on)}` : due.says}`).join("; ")
  return (
    <Part title="Fitness and decision">
      <ul className="mb-2 gap-6 text-fine break-words sm:columns-2 print:columns-2">
        {advice.evidence.map((line) => (
          <li key={line.name} className="break-inside-avoid">
            <strong>{line.state}</strong>: {line.name}. <span className="text-quiet">{line.says}</span>
          </li>
        ))}
      </ul>
      {advice.lines.length > 0 && (
        <div className="mb-2 text-fine">
          <Lines lines={advice.lines} />
        </div>
      )}
      {decision ? (
        <Rows
          rows={[
            ["Decided", `${decision.says}${decision.pressure != null ? `, for ${show(decision.pressure, "pressure", habit, 4)}` : ""}`],
            ["By, on", `${decision.by}, ${day(decision.at)}`],
            ["Reason", decision.reason || "none written"],
            ["The evidence said", `${advice.answer}: ${advice.says}${decision.less_cautious ? " The decision goes further." : ""}`],
            ...Object.entries(decision.overruled).map(([code, why]): [string, ReactNode] => [
              `Beyond “${advice.evidence.find((line) => line.code === code)?.name ?? code}”`,
              why,
            ]),
            ...(decision.pressure == null || decision.fitness === "tight"
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

/** The leak of each section that valves parted, where any was held. */
export function Sections({ record }: { record: RecordOut }) {
  const { circuit } = record
  if (!circuit?.says) return null
  const told = circuit.sections.map((one) => ({ ...one, note: between(one) ?? undefined, leaks: (one.low ?? 0) > 0 }))
  return (
    <Part title="Sections">
      <p>{circuit.says}</p>
      <div className="max-w-full overflow-x-auto">
        <CircuitPicture sections={told} valves={circuit.valves} width={460} height={220} />
      </div>
    </Part>
  )
}

/** The leaks as they were pinned, with their pictures. */
export function Leaks({ record }: { record: RecordOut }) {
  return (
    <Part title="Leaks and mends">
      {record.leaks.length === 0 && <p>None was found.</p>}
      <ol>
        {record.leaks.map((leak, i) => (
          <li key={leak.id} className="flex break-inside-avoid items-start gap-3 py-1">
            <span
              className={`mt-0.5 grid h-5 w-5 shrink-0 place-items-center text-fine font-bold text-paper ${leak.owner === "boundary" ? "bg-vermilion" : "rounded-full bg-brass-ink"}`}
            >
              {i + 1}
            </span>
            <span>
              <b>{leak.where}</b>, {leak.whose}, {leak.shows}
              {leak.pin && leak.pin.view !== "front" ? `, ${leak.pin.seen}` : ""}. {leak.mend ? `Mended: ${leak.mend}.` : "Not mended in this trial."}
              {leak.story.length > 2 && (
                <span className="block text-quiet">
                  {leak.story.slice(1).map((one, n) => (
                    <span key={n} className="block">
                      {ordinal(one.trial)} trial, {day(one.at.slice(0, 10))}: {one.says}
                    </span>
                  ))}
                </span>
              )}
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
export function Kept({ record }: { record: RecordOut }) {
  const leaks = new Set(record.leaks.map((leak) => leak.id))
  const rest = record.attachments.filter((one) => !one.event || !leaks.has(one.event))
  if (rest.length === 0) return null
  return (
    <Part title="Pictures and papers">
      <ul className="flex flex-wrap gap-3 text-fine">
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
