import { Link, useNavigate, useSearchParams } from "react-router"
import type { Schema } from "../api/client"
import { useMe } from "../api/me"
import { Loading } from "../app/Loading"
import { Failed } from "../app/states"
import { HoldChart } from "../parts/HoldChart"
import { Why } from "../parts/Lines"
import { day, digits, habitFor, inUnit, ordinal, show, unitOf, type Habit } from "../parts/units"
import { useCompare } from "./queries"
import { RecordsRoom } from "./RecordsRoom"
import { Walls } from "./Walls"

type Change = Schema["Change"]
const TONES = { worse: "text-vermilion", better: "text-moss", same: "text-ink", "not known": "text-brass-ink" }
const SIGNS = { worse: "↗ worse", better: "↘ better", same: "= the same", "not known": "? not known" }
const NAMES = { leak: "Leak at shut-in", wall: "Thinnest wall", compliance: "Give under pressure" }

/** Two trials of one vessel side by side: is it getting worse? */
export function Compare() {
  const [address] = useSearchParams()
  const navigate = useNavigate()
  const [one, other] = [address.get("one") ?? "", address.get("other") ?? ""]
  const [found, me] = [useCompare(one, other), useMe()]
  if (found.error) return <Failed error={found.error} />
  if (!found.data || !me.data) return <Loading what="the two trials" />
  const { before, after, laid, trend, others } = found.data
  const habit = habitFor(me.data.units, after.shut_in ?? before.shut_in)
  const choose = (a: string, b: string) => void navigate(`/records/compare?one=${a}&other=${b}`, { replace: true })
  const [first, ...rest] = trend.says.split(/(?<=[.!?]) /)
  return (
    <RecordsRoom title={found.data.vessel}>
      <p className="flex flex-wrap items-center gap-3 text-body">
        <Chosen label="Earlier" value={before.id} not={after.id} rows={others} choose={(id) => choose(id, after.id)} />
        <span aria-hidden="true">→</span>
        <Chosen label="Later" value={after.id} not={before.id} rows={others} choose={(id) => choose(before.id, id)} />
      </p>
      <h2 className="mt-3 text-large leading-tight" data-testid="trend">
        <span className={TONES[trend.went]}>{first}</span> <span className="font-sturdy">{rest.join(" ")}</span>
      </h2>
      <div className="mt-3 grid gap-x-8 gap-y-5 lg:grid-cols-[1.5fr_1fr]">
        <div>
          <div className="h-80">
            {after.verdict && after.points.length > 1 ? (
              <HoldChart points={after.points} verdict={after.verdict} habit={habit} over={laid} />
            ) : (
              <p className="grid h-full place-items-center border-line border-dashed border-rule text-quiet">The later trial has no judged hold to draw.</p>
            )}
          </div>
          {!laid && after.points.length > 1 && <p className="text-note text-quiet">The earlier trial has no judged hold to lay over it.</p>}
          <Walls before={before} after={after} habit={me.data.units} />
        </div>
        <div>
          <table className="w-full text-left text-note">
            <thead className="text-small text-quiet">
              <tr className="border-b-line border-ink">
                <th className="py-1.5 font-normal" />
                {[before, after].map((side) => (
                  <th key={side.id} className="pr-2 text-right font-normal">
                    <Link className="dotted" to={`/records/${side.id}`}>
                      {ordinal(side.number)}
                    </Link>
                    <span className="block">{day(side.on)}</span>
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {trend.changes.map((change) => (
                <Line key={change.what} change={change} habit={habit} />
              ))}
              <Plain name="Shut in at" values={[before, after].map((side) => (side.shut_in == null ? "no hold" : show(side.shut_in, "pressure", habit, 4)))} />
              <Plain name="Hold said" values={[before, after].map((side) => side.verdict?.verdict.replace("-", " ") ?? "no hold")} />
              <Plain name="Decided" values={[before, after].map((side) => side.fitness)} />
            </tbody>
          </table>
          <ul className="mt-3 space-y-2 text-note">
            {trend.changes.map((change) => (
              <li key={change.what}>
                {change.says}
                <Why lines={change.lines} figures={[change.what]} />
              </li>
            ))}
          </ul>
        </div>
      </div>
    </RecordsRoom>
  )
}

type ChosenProps = { label: string; value: string; not: string; rows: Schema["TrialRow"][]; choose: (id: string) => void }

function Chosen({ label, value, not, rows, choose }: ChosenProps) {
  return (
    <label className="flex items-center gap-2 text-quiet">
      {label}
      <select className="select h-11 bg-paper text-ink" value={value} onChange={(event) => choose(event.target.value)}>
        {rows
          .filter((row) => row.id !== not)
          .map((row) => (
            <option key={row.id} value={row.id}>
              {ordinal(row.number)} trial, {day(row.started_at)}
            </option>
          ))}
      </select>
    </label>
  )
}

function Line({ change, habit }: { change: Change; habit: Habit }) {
  return (
    <tr className="border-b border-rule">
      <th className="py-2 pr-2 font-normal">
        {NAMES[change.what]}
        <span className={`block text-small font-semibold ${TONES[change.went]}`}>{SIGNS[change.went]}</span>
      </th>
      {[change.before, change.after].map((value, index) => (
        <td key={index} className="figure pr-2 text-right whitespace-nowrap">
          {value == null ? "not known" : figure(change.what, value, habit)}
        </td>
      ))}
    </tr>
  )
}

function figure(what: Change["what"], value: number, habit: Habit): string {
  if (what === "compliance") return show(value, "compliance", habit, 3)
  return what === "wall" ? show(value, "length", habit, 3) : `${digits(inUnit(value, "leak", habit), 2)} ${unitOf("leak", habit)}`
}

function Plain({ name, values }: { name: string; values: string[] }) {
  return (
    <tr className="border-b border-rule">
      <th className="py-2 pr-2 font-normal">{name}</th>
      {values.map((value, index) => (
        <td key={index} className="pr-2 text-right whitespace-nowrap">
          {value}
        </td>
      ))}
    </tr>
  )
}
