import { Link, useLocation, useNavigate, useSearchParams } from "react-router"
import type { Schema } from "../api/client"
import { useDue } from "../api/due"
import { useMe } from "../api/me"
import { onTheBench, type TrialRow } from "../api/trials"
import { useKeys } from "../app/keys"
import { Loading } from "../app/Loading"
import { Head } from "../app/Shell"
import { Failed } from "../app/states"
import { useTheme } from "../app/theme"
import { Elevation } from "../parts/elevation/Elevation"
import { extent } from "../parts/elevation/frame"
import { Undo } from "../parts/Undo"
import { useKeepVessel } from "../api/vessels"
import { Tag, type Fitness } from "../parts/Tag"
import { day, habitFor, month, ordinal, reading, show, unitOf, type Units } from "../parts/units"
import { FEW, Finder, ORDERS, TAGS } from "./Finder"
import { FirstVisit } from "./FirstVisit"
import { usePlanTrial, useShed, type ShelfRow, type Sought } from "./queries"

type Shed = Schema["ShedOut"]

/** The shed: every vessel to one scale, with its tag and what to do next. */
export function Shed() {
  useTheme("daylight")
  const navigate = useNavigate()
  const [sought, setSought] = useSearchParams()
  const wanted: Sought = {
    page: Number(sought.get("page") ?? 1) || 1,
    text: sought.get("name") ?? "",
    tag: TAGS.find((tag) => tag === sought.get("tag")) ?? "",
    order: ORDERS.find(([order]) => order === sought.get("order"))?.[0] ?? "hung",
  }
  const [shed, me] = [useShed(wanted), useMe()]
  useKeys([{ key: "n", does: "hang up a vessel", act: () => void navigate("/vessels/new") }])
  const action = (
    <Link to="/vessels/new" className="btn btn-outline h-9 border-line border-ink bg-paper">
      Hang up a vessel <kbd className="key hidden sm:inline-grid">N</kbd>
    </Link>
  )
  if (shed.error) return <Failed error={shed.error} retry={() => void shed.refetch()} />
  const habit: Units = me.data?.units ?? "metric"
  const seek = (to: Partial<Sought>) => {
    const next = { ...wanted, page: 1, ...to }
    const words = { name: next.text, tag: next.tag, order: next.order === "hung" ? "" : next.order, page: next.page > 1 ? String(next.page) : "" }
    setSought(Object.fromEntries(Object.entries(words).filter(([, word]) => word)), { replace: true })
  }
  return (
    <>
      <Head action={shed.data && shed.data.in_all + shed.data.retired ? action : undefined} />
      {!shed.data ? (
        <Loading what="the shelf" />
      ) : shed.data.in_all + shed.data.retired === 0 ? (
        <>
          <TakenAway />
          <FirstVisit />
        </>
      ) : (
        <>
          {shed.data.running.map((trial) => (
            <Running key={trial.id} trial={trial} habit={habit} />
          ))}
          <Overdue />
          <main className="flex flex-1 flex-col overflow-auto px-4 sm:px-9">
            <h1 className="sr-only">The shed</h1>
            <TakenAway />
            {(shed.data.in_all > FEW || wanted.tag !== "") && <Finder shed={shed.data} wanted={wanted} seek={seek} />}
            <Shelf vessels={shed.data.rows} habit={habit} />
            {shed.data.retired > 0 && (
              <p className="pt-4 text-note">
                <button className="text-water-ink dotted" onClick={() => seek({ tag: wanted.tag === "retired" ? "" : "retired", text: "" })}>
                  {wanted.tag === "retired" ? "Back to the vessels in use" : `${shed.data.retired} retired`}
                </button>
              </p>
            )}
            <Lately shed={shed.data} habit={habit} />
            <p className="mt-auto pt-8 pb-4 text-small text-quiet">
              Local codes, your club's inspector and the maker come first. Own-use records, not certificates.
            </p>
          </main>
        </>
      )}
    </>
  )
}

function Running({ trial, habit }: { trial: TrialRow; habit: Units }) {
  return (
    <Link to={`/trials/${trial.id}/bench`} className="flex flex-wrap items-baseline gap-x-5 border-l-8 border-water bg-water-soft px-4 py-3 text-ink">
      <strong>{trial.vessel} is on the bench</strong>
      {trial.latest_pressure != null && (
        <span className="figure text-title">
          {reading(trial.latest_pressure, habit, trial.test_pressure)} {unitOf("pressure", habit)}
        </span>
      )}
      <span>{trial.state === "held" ? "the hold is over, to be released and judged" : `${ordinal(trial.number)} trial, running`}</span>
      <span className="ml-auto font-semibold">Back to the bench →</span>
    </Link>
  )
}

/** A vessel that was taken off the shelf a moment ago, and the way to have it back. */
function TakenAway() {
  const navigate = useNavigate()
  const gone = useLocation().state as { says: string; vessel: Pick<Schema["VesselIn"], "id" | "name" | "notes" | "sheet"> } | null
  const keep = useKeepVessel(null)
  if (!gone?.vessel) return null
  const undo = () =>
    keep.mutate({ ...gone.vessel, version: 1, happened_text: "" }, { onSuccess: (kept) => void navigate(`/vessels/${kept.id}`, { replace: true }) })
  return <Undo says={gone.says} undo={undo} busy={keep.isPending} />
}

/** What is overdue, on top of everything but a run. */
function Overdue() {
  const late = (useDue().data?.items ?? []).filter((one) => one.overdue)
  if (late.length === 0) return null
  return (
    <p className="flex flex-wrap items-baseline gap-x-5 border-l-8 border-vermilion bg-vermilion-soft px-4 py-2 text-ink" data-testid="overdue">
      <strong>Overdue</strong>
      {late.slice(0, 3).map((one) => (
        <Link key={one.vessel_id + one.what} className="dotted" to={`/vessels/${one.vessel_id}`}>
          {one.vessel}: {one.what}, {day(one.on)}
        </Link>
      ))}
      <Link className="ml-auto font-semibold" to="/records/due">
        {late.length > 3 ? `all ${late.length} →` : "all that is due →"}
      </Link>
    </p>
  )
}

/** Largest vessel on the shelf, px: one row has room for larger drawings. */
const ROOM = { oneRow: { wide: 282, tall: 216 }, more: { wide: 236, tall: 170 } }

function Shelf({ vessels, habit }: { vessels: ShelfRow[]; habit: Units }) {
  const sizes = vessels.map((vessel) => extent(vessel.shape))
  const [widest, tallest] = [Math.max(...sizes.map((s) => s.wide)), Math.max(...sizes.map((s) => s.tall))]
  const room = vessels.length <= 4 ? ROOM.oneRow : ROOM.more
  const scale = Math.min(room.wide / widest, room.tall / tallest)
  return (
    <ul className="grid grid-cols-[repeat(auto-fill,minmax(250px,1fr))] gap-y-2">
      {vessels.map((vessel) => (
        <Hung key={vessel.id} vessel={vessel} scale={scale} habit={habit} />
      ))}
    </ul>
  )
}

function Hung({ vessel, scale, habit }: { vessel: ShelfRow; scale: number; habit: Units }) {
  const [decided, past] = [vessel.stands, vessel.past]
  const fitness = past ? "not fit" : ((decided?.tag?.fitness ?? "not proven") as Fitness)
  const next = whatNext(vessel)
  const navigate = useNavigate()
  const plan = usePlanTrial()
  const begin = () => plan.mutate({ vessel: vessel.id }, { onSuccess: (trial) => void navigate(`/trials/${trial.id}/plan`) })
  return (
    <li className="flex flex-col">
      <Link to={`/vessels/${vessel.id}`} className="group flex flex-1 flex-col items-center text-ink">
        <span className="flex w-full flex-1 flex-col items-center justify-end pt-3">
          <span className="relative z-10 translate-x-8">
            <Tag
              fitness={fitness}
              habit={habit}
              pressure={past ? null : decided?.tag?.pressure}
              note={past ? `past ${vessel.retire}` : decided?.tag?.says ? "see why" : decided ? "" : vessel.practised ? "practised only" : "never tested"}
            />
            <svg width="40" height="30" className="absolute -bottom-[26px] left-2" aria-hidden="true">
              <path d="M30 4 q-6 16 -22 24" fill="none" stroke="var(--quiet)" strokeWidth="1.2" />
            </svg>
          </span>
          <span className="h-6" />
          <span className="flex w-full flex-col items-center border-b-2 border-ink group-hover:bg-paper">
            <Elevation shape={vessel.shape} scale={scale} habit={habit} ground={false} />
          </span>
          <span className="h-[7px] w-full bg-[repeating-linear-gradient(135deg,var(--color-rule)_0_1.5px,transparent_1.5px_7px)]" />
        </span>
        <span className="mt-1.5 font-display text-lead font-bold group-hover:underline">{vessel.name}</span>
        <span className="text-small text-quiet">
          {vessel.problem ? (
            <span className="text-vermilion">{vessel.kind} · cannot be worked out as it stands</span>
          ) : (
            <>
              {vessel.kind} · {show(vessel.volume, "volume", habit, 2)} · wanted{" "}
              {show(vessel.working_pressure, "pressure", habitFor(habit, vessel.working_pressure))}
            </>
          )}
        </span>
      </Link>
      <p className="text-center text-note">
        {next.plans ? (
          <button className="text-water-ink dotted" onClick={begin} disabled={plan.isPending}>
            {next.says}
          </button>
        ) : next.to ? (
          <Link to={next.to} className="text-water-ink dotted">
            {next.says}
          </Link>
        ) : (
          <span className={next.bad ? "text-vermilion" : ""}>{next.says}</span>
        )}
      </p>
    </li>
  )
}

function whatNext(vessel: ShelfRow): { says: string; to?: string; bad?: boolean; plans?: boolean } {
  const latest = vessel.latest
  const fallen = vessel.stands?.tag?.says ? vessel.stands : null
  if (vessel.problem) return { says: "mend its figures", to: `/vessels/${vessel.id}`, bad: true }
  if (vessel.past) return { says: "scrap it: stop using", bad: true }
  if (!latest) return { says: "plan its first trial", plans: true }
  const name = `${ordinal(latest.number)} trial`
  if (latest.state === "planned") return { says: `${name} planned`, to: `/trials/${latest.id}/plan` }
  if (latest.state === "ready") return { says: `${name} ready for the bench`, to: `/trials/${latest.id}/bench` }
  if (onTheBench(latest)) return { says: `${name} is on the bench`, to: `/trials/${latest.id}/bench` }
  if (latest.state === "judged" || latest.state === "aborted") return { says: `${name}: write the decision`, to: `/trials/${latest.id}/judge` }
  if (fallen)
    return {
      says: fallen.tag!.fitness === "not fit" ? "do not use it" : fallen.tag!.fitness === "limited" ? "used for less: see why" : "prove it anew",
      to: `/vessels/${vessel.id}`,
      bad: true,
    }
  if (latest.practice) return { says: "plan its trial: practice proves nothing", plans: true }
  if (latest.decision?.next_proof) return { says: `next proof ${month(latest.decision.next_proof)}` }
  return { says: "plan the next trial", plans: true }
}

/** What is to be done, and what was done last. */
function Lately({ shed, habit }: { shed: Shed; habit: Units }) {
  const [todo, done] = [shed.to_do, shed.lately]
  const next = (useDue().data?.items ?? []).find((one) => one.on && !one.overdue)
  return (
    <div className="mt-8 grid gap-x-12 gap-y-6 md:grid-cols-2">
      <section>
        <h2 className="border-b-line border-ink pb-1 text-lead">To do</h2>
        {todo.length === 0 && <p className="py-2 text-quiet">Nothing is planned. Open a vessel and plan its next trial.</p>}
        {todo.map((trial) => (
          <Link
            key={trial.id}
            to={`/trials/${trial.id}/${trial.state === "ready" ? "bench" : trial.state === "judged" ? "judge" : "plan"}`}
            className="flex items-baseline gap-3 border-b border-rule py-1.5 hover:bg-paper"
          >
            <span className="font-semibold">{trial.vessel}</span>
            <span className="text-quiet">
              {ordinal(trial.number)} trial, {trial.state === "ready" ? "frozen and ready" : trial.state === "judged" ? "decision to be written" : "planned"}
            </span>
            <span className="ml-auto whitespace-nowrap text-water-ink">
              {trial.state === "ready" ? "to the bench" : trial.state === "judged" ? "decide" : "finish the plan"} →
            </span>
          </Link>
        ))}
        {shed.to_do_in_all > todo.length && <p className="py-1.5 text-note text-quiet">and {shed.to_do_in_all - todo.length} more, on their vessels' pages</p>}
      </section>
      <section>
        <h2 className="border-b-line border-ink pb-1 text-lead">Lately in the logbook</h2>
        {done.length === 0 && <p className="py-2 text-quiet">No trial was decided yet.</p>}
        {done.map((trial) => (
          <Link key={trial.id} to={`/records/${trial.id}`} className="flex items-baseline gap-3 border-b border-rule py-1.5 hover:bg-paper">
            <span className="w-24 text-quiet">{day(trial.decision!.at)}</span>
            <span className="font-semibold">{trial.vessel}</span>
            <span className="ml-auto whitespace-nowrap">
              {trial.practice ? "practice" : trial.decision!.says}
              {!trial.practice && trial.decision!.pressure != null && <span className="figure"> {show(trial.decision!.pressure, "pressure", habit)}</span>}
            </span>
          </Link>
        ))}
        {next && (
          <p className="py-2 text-note text-quiet">
            Due next:{" "}
            <Link className="dotted" to="/records/due">
              {next.vessel}, {next.what} by {day(next.on)}
            </Link>
          </p>
        )}
      </section>
    </div>
  )
}
