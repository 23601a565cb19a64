import { useEffect, useState } from "react"
import { Link, useNavigate, useParams } from "react-router"
import type { Refusal, Schema } from "../api/client"
import { useMe } from "../api/me"
import { Head } from "../app/Shell"
import { Failed, Loading } from "../app/states"
import { useTheme } from "../app/theme"
import { Elevation, extent } from "../parts/Elevation"
import { Why } from "../parts/Lines"
import { Tag, type Fitness } from "../parts/Tag"
import { day, energy, ordinal, show, type Habit } from "../parts/units"
import { useSize } from "../parts/useSize"
import { draftOf, EMPTY, sheetOf, thinnestWritten, type Draft } from "./draft"
import { useKeepVessel, useLook, usePlanTrial, useTrials, useVessel, type TrialRow, type VesselOut } from "./queries"
import { VesselForm } from "./VesselForm"

/** Hang up a vessel: the form, and the vessel drawn from it as it is typed. */
export function HangUp() {
  useTheme("daylight")
  return (
    <>
      <Head />
      <Editor vessel={null} trials={[]} />
    </>
  )
}

/** A vessel: its drawing, its figures, its history, and the form to change it. */
export function VesselPage() {
  useTheme("daylight")
  const { id = "" } = useParams()
  const [vessel, trials] = [useVessel(id), useTrials()]
  return (
    <>
      <Head />
      {vessel.error ? (
        <Failed error={vessel.error} retry={() => void vessel.refetch()} />
      ) : !vessel.data ? (
        <Loading what="the vessel" />
      ) : (
        <Editor key={vessel.data.id} vessel={vessel.data} trials={(trials.data ?? []).filter((trial) => trial.vessel_id === id)} />
      )}
    </>
  )
}

const KEPT = "toadbell-new-vessel"

function firstDraft(vessel: VesselOut | null): Draft {
  if (vessel) return draftOf(vessel.name, vessel.notes, vessel.sheet, thinnestWritten(vessel.sheet))
  const kept = sessionStorage.getItem(KEPT)
  return kept ? { ...EMPTY, ...(JSON.parse(kept) as Partial<Draft>) } : EMPTY
}

function Editor({ vessel, trials }: { vessel: VesselOut | null; trials: TrialRow[] }) {
  const navigate = useNavigate()
  const { data: me } = useMe()
  const habit: Habit = me?.units ?? "metric"
  const [draft, setDraft] = useState<Draft>(() => firstDraft(vessel))
  const [editing, setEditing] = useState(vessel === null)
  const [settled, setSettled] = useState(draft)
  const keep = useKeepVessel(vessel?.id ?? null)
  const plan = usePlanTrial()
  useEffect(() => {
    const timer = setTimeout(() => setSettled(draft), 300)
    if (!vessel) sessionStorage.setItem(KEPT, JSON.stringify(draft))
    return () => clearTimeout(timer)
  }, [draft, vessel])
  const look = useLook(sheetOf(settled, vessel?.sheet))
  const [good, setGood] = useState<Schema["Looked"] | undefined>(undefined)
  if (look.data?.answer && look.data !== good) setGood(look.data)
  const refusal = keep.error as Refusal | null
  const save = () => {
    const sheet = sheetOf(draft, vessel?.sheet)
    if (!sheet || keep.isPending) return
    keep.mutate(
      { name: draft.name, sheet, notes: draft.notes, version: vessel?.version ?? 1 },
      {
        onSuccess: (kept) => {
          sessionStorage.removeItem(KEPT)
          if (vessel) setEditing(false)
          else void navigate(`/vessels/${(kept as VesselOut).id}`)
        },
      },
    )
  }
  const begin = () => vessel && plan.mutate(vessel.id, { onSuccess: (trial) => void navigate(`/trials/${trial.id}/plan`) })
  return (
    <main className="grid flex-1 content-start overflow-auto lg:grid-cols-[1fr_430px] lg:overflow-hidden">
      <section className="flex flex-col gap-4 px-4 py-4 sm:px-7 lg:overflow-auto">
        <div className="flex flex-wrap items-baseline gap-4">
          <h1 className="text-2xl">{draft.name.trim() || (vessel ? vessel.name : "A vessel to hang up")}</h1>
          {vessel && !editing && (
            <>
              <span className="text-quiet">{me?.kinds.find((kind) => kind.id === vessel.kind)?.name}</span>
              <button className="btn btn-sm ml-auto" onClick={() => setEditing(true)}>
                Change
              </button>
              <button className="btn btn-primary btn-sm" onClick={begin} disabled={plan.isPending}>
                Plan a trial
              </button>
            </>
          )}
        </div>
        <Drawing look={good} habit={habit} />
        {good && look.data?.says && <p className="text-[14px] text-brass-ink">Drawn as it was before the mistake at the right.</p>}
        <Figures answer={good?.answer ?? null} habit={habit} />
        {vessel && <History trials={trials} habit={habit} />}
      </section>
      <aside className="border-t-[1.5px] border-rule bg-paper px-5 pt-4 lg:overflow-auto lg:border-t-0 lg:border-l-[1.5px]">
        {editing ? (
          <VesselForm
            draft={draft}
            change={setDraft}
            habit={habit}
            problem={refusal ? { says: refusal.message, field: refusal.field } : problemOf(look.data)}
            save={save}
            saving={keep.isPending}
            cancel={vessel ? () => (setDraft(firstDraft(vessel)), setEditing(false)) : undefined}
          />
        ) : (
          <Facts vessel={vessel!} habit={habit} />
        )}
      </aside>
    </main>
  )
}

function problemOf(look: Schema["Looked"] | undefined) {
  return look?.says ? { says: look.says, field: look.field ?? null } : null
}

function Drawing({ look, habit }: { look: Schema["Looked"] | undefined; habit: Habit }) {
  const [ref, { width }] = useSize()
  const shape = look?.shape
  return (
    <div ref={ref} className="grid min-h-[300px] shrink-0 place-items-center border-b-[1.5px] border-rule pb-3">
      {shape?.diameter && width > 0 ? (
        <Elevation shape={shape} habit={habit} dimensions scale={fit(shape, Math.min(width - 130, 640), 210)} />
      ) : (
        <p className="max-w-sm text-center text-quiet">It is drawn here to scale, as soon as there are a wanted pressure, an inside diameter and a length.</p>
      )}
    </div>
  )
}

function fit(shape: Schema["VesselShape"], width: number, height: number): number {
  const { along, across } = extent(shape)
  return shape.position === "standing" ? Math.min(width / across, height / along) : Math.min(width / along, height / across)
}

/** What the core makes of the vessel, each figure with its lines. */
function Figures({ answer, habit }: { answer: Schema["DeriveAnswer"] | null; habit: Habit }) {
  if (!answer) return null
  const rows: [string, string, string[]][] = [
    ["Volume", show(answer.volume, "volume", habit), ["volume"]],
    ["Water in it", show(answer.water.mass, "mass", habit), []],
    ["May work at", show(answer.allowable.pressure, "pressure", habit), ["allowable"]],
    ["Ceiling of a test", show(answer.ceiling.pressure, "pressure", habit), ["ceiling"]],
    ["Stored, full of air at test", energy(answer.energy.air_at_test), ["energy.air_at_test"]],
    ["Stored, full of water", energy(answer.energy.water), ["energy.water"]],
  ]
  return (
    <div>
      <dl className="grid grid-cols-2 gap-x-6 gap-y-3 md:grid-cols-3">
        {rows.map(([name, value, figures]) => (
          <div key={name} className="border-l-[3px] border-water pl-3">
            <dt className="text-[13px] text-quiet">{name}</dt>
            <dd>
              <span className="figure text-[17px]">{value}</span>
              <Why lines={answer.lines} figures={figures} />
            </dd>
          </div>
        ))}
      </dl>
      <div className="mt-4 space-y-2">
        {answer.stops.map((stop) => (
          <p key={stop.code} className="strip border-vermilion">
            <strong className="text-vermilion">Stop. </strong>
            {stop.says}
          </p>
        ))}
        {answer.cautions.map((caution) => (
          <p key={caution.code} className="strip">
            {caution.says}
          </p>
        ))}
      </div>
    </div>
  )
}

function History({ trials, habit }: { trials: TrialRow[]; habit: Habit }) {
  return (
    <section>
      <h2 className="mb-1 text-lg">Logbook</h2>
      {trials.length === 0 && <p className="text-quiet">Nothing yet. Plan its first trial, and what is done is written here.</p>}
      <ul>
        {trials.map((trial) => (
          <li key={trial.id} className="flex flex-wrap items-center gap-x-5 border-t-[1.5px] border-rule py-2">
            <span className="w-28 text-quiet">{day(trial.started_at ?? trial.planned_at)}</span>
            <Link className="text-water-ink underline decoration-dotted underline-offset-3" to={roomOf(trial)}>
              {ordinal(trial.number)} trial
            </Link>
            <span>
              {trial.basis_name} {trial.test_pressure != null && `to ${show(trial.test_pressure, "pressure", habit)}`}
            </span>
            <span className="ml-auto">
              {trial.decision ? (
                <Tag fitness={trial.decision.fitness as Fitness} pressure={trial.decision.pressure} habit={habit} />
              ) : (
                <span className="text-quiet">{trial.state}</span>
              )}
            </span>
          </li>
        ))}
      </ul>
    </section>
  )
}

function roomOf(trial: TrialRow): string {
  if (trial.state === "planned") return `/trials/${trial.id}/plan`
  if (trial.state === "ready" || trial.state === "running" || trial.state === "held") return `/trials/${trial.id}/bench`
  return trial.decision ? `/records/${trial.id}` : `/trials/${trial.id}/judge`
}

function Facts({ vessel, habit }: { vessel: VesselOut; habit: Habit }) {
  const { data: me } = useMe()
  const sheet = vessel.sheet as Record<string, string | number | undefined>
  const shell = (vessel.sheet["shell"] ?? {}) as Record<string, string | number | boolean | undefined>
  const ends = (vessel.sheet["ends"] ?? []) as { form: string; wall?: string }[]
  const rows: [string, string | number | undefined][] = [
    ["Wanted", sheet["working_pressure"]],
    ["Plate", sheet["plate_pressure"] ?? "not known"],
    ["Relief valve set at", sheet["relief_set"] ?? "not known"],
    ["Made", sheet["made"] ?? "not known"],
    ["In service until", sheet["retire"] ?? "no year is known"],
    ["Material", me?.materials.find((material) => material.id === shell["material"])?.name ?? String(shell["material"] ?? "not known")],
    ["Wall", `${String(shell["wall"] ?? "not known")}${shell["wall_measured"] ? ", measured" : ", assumed"}`],
    ["Thinnest reading", vessel.shape.thinnest != null ? show(vessel.shape.thinnest, "length", habit) : "none"],
    ["Ends", ends.length ? ends.map((end) => `${end.form}${end.wall ? `, ${end.wall}` : ""}`)[0] : "not known"],
    ["Tested", vessel.shape.position],
  ]
  const notes = me?.kinds.find((kind) => kind.id === vessel.kind)?.notes
  return (
    <>
      <h2 className="mb-2 text-lg">What is known of it</h2>
      <dl>
        {rows.map(([name, value]) => (
          <div key={name} className="flex justify-between gap-4 border-b border-rule py-1.5">
            <dt className="text-quiet">{name}</dt>
            <dd className="text-right font-semibold">{value}</dd>
          </div>
        ))}
      </dl>
      {vessel.notes && <p className="mt-4 whitespace-pre-line">{vessel.notes}</p>}
      {notes && <p className="strip mt-4">{notes} Local codes, your club's inspector and the maker come first.</p>}
    </>
  )
}
