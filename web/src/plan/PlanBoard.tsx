import { Link, useNavigate, useParams } from "react-router"
import { useMe } from "../api/me"
import { useKeys } from "../app/keys"
import { Failed, Loading } from "../app/states"
import { useTheme } from "../app/theme"
import { TrialHead } from "../app/TrialHead"
import { CourseChart } from "../parts/CourseChart"
import { Elevation, extent } from "../parts/Elevation"
import { Glass } from "../parts/Glass"
import { Why } from "../parts/Lines"
import { glassOf, planOf } from "../parts/marks"
import { digits, energy, show, type Habit } from "../parts/units"
import { Bases } from "./Bases"
import { KitFields } from "./KitFields"
import { useDraft, useFreeze, usePlan, useThaw, type Plan } from "./queries"

/** The plan board: one screen from the wanted pressure to a frozen plan. */
export function PlanBoard() {
  useTheme("daylight")
  const { id = "" } = useParams()
  const [plan, me] = [usePlan(id), useMe()]
  if (plan.error) return <Failed error={plan.error} retry={() => void plan.refetch()} />
  if (!plan.data || !me.data) return <Loading what="the plan" />
  return <Board key={`${plan.data.id} ${plan.data.state === "planned"}`} plan={plan.data} habit={me.data.units} />
}

function Board({ plan, habit }: { plan: Plan; habit: Habit }) {
  const navigate = useNavigate()
  const { draft, change, problem, saving } = useDraft(plan)
  const freeze = useFreeze(plan.id)
  const { answer } = plan
  const open = plan.state === "planned"
  const toBench = () => void navigate(`/trials/${plan.id}/bench`)
  const ready = open && !problem && !saving && plan.missing.length === 0 && answer.stops.length === 0
  const go = () => (open ? ready && freeze.mutate(undefined, { onSuccess: toBench }) : toBench())
  useKeys([{ key: "Enter", does: open ? "freeze and go to the bench" : "go to the bench", act: go }])
  const strokes = answer.pump.strokes
  const minutes = Math.round((answer.profile.at(-1)?.time ?? 0) / 60)
  const fields = { draft, change, habit, problem, disabled: !open }
  return (
    <>
      <TrialHead {...plan} note={`proof · planned by ${plan.planned_by}`} />
      <main className="grid flex-1 overflow-auto lg:grid-cols-[226px_1fr_356px] lg:grid-rows-1 lg:overflow-hidden">
        <section className="hidden border-r-[1.5px] border-rule lg:block" aria-label="The glass">
          <Glass habit={habit} plan={planOf(answer)} {...glassOf(answer)} />
        </section>
        <div className="flex flex-col lg:min-h-0">
          <section className="flex flex-col px-4 pt-3 lg:min-h-0 lg:flex-1">
            <div className="flex flex-wrap items-baseline gap-x-4">
              <h2 className="text-[18px]">Raise in {answer.stages.length} stages</h2>
              <span className="text-quiet">
                {strokes != null && answer.pump.volume != null
                  ? `${digits(strokes, 2)} strokes, ${show(answer.pump.volume, "small", habit)} to the top (+ strokes at each stage), ${minutes} minutes in all`
                  : `${minutes} minutes in all; say which pump, and strokes are counted too`}
              </span>
            </div>
            <div className="h-72 lg:h-auto lg:min-h-0 lg:flex-1">
              <CourseChart answer={answer} habit={habit} named />
            </div>
          </section>
          <section className="grid gap-4 border-t-[1.5px] border-rule px-4 py-3 lg:grid-cols-[196px_1fr]">
            <Prepared plan={plan} habit={habit} />
            <KitFields {...fields} answer={answer} />
          </section>
        </div>
        <aside className="flex flex-col border-t-[1.5px] border-rule lg:min-h-0 lg:border-t-0 lg:border-l-[1.5px]">
          <div className="flex-1 space-y-3 px-4 py-3 lg:overflow-auto">
            <Bases {...fields} answer={answer} />
            <Warnings plan={plan} problem={problem?.field == null ? (problem?.message ?? null) : null} />
            <Energy plan={plan} />
          </div>
          <Foot plan={plan} go={go} ready={ready} saving={saving} error={freeze.error?.message ?? problem?.message ?? null} />
        </aside>
      </main>
    </>
  )
}

/** The vessel as it will be tested, with what the water weighs. */
function Prepared({ plan, habit }: { plan: Plan; habit: Habit }) {
  const { answer, shape } = plan
  const { along, across } = extent(shape)
  const plug = answer.end_forces.filter((f) => !f.closure).sort((a, b) => b.force - a.force)[0]
  const scale = shape.position === "standing" ? Math.min(150 / across, 130 / along) : Math.min(184 / along, 100 / across)
  return (
    <div>
      <h2 className="mb-1 text-[16px]">Full of water, {shape.position}</h2>
      <div className="grid place-items-center">
        <Elevation shape={shape} scale={scale} habit={habit} water />
      </div>
      <p className="mt-2 text-[13.5px] text-quiet">
        Holds <span className="figure text-ink">{show(answer.volume, "volume", habit)}</span>,{" "}
        <span className="figure text-ink">{show(answer.water.mass, "mass", habit)}</span> of water{answer.water.full_mass != null && <>, with the vessel about <span className="figure text-ink">{show(answer.water.full_mass, "mass", habit)}</span></>}. Check floor and legs.
        {plug && (
          <>
            {" "}
            {plug.name} holds back{" "}
            <span className="figure text-ink">
              {digits(plug.force, 3)} N ({digits(plug.force / 9.80665, 2)} kgf)
            </span>
            .
          </>
        )}
      </p>
    </div>
  )
}

function Warnings({ plan, problem }: { plan: Plan; problem: string | null }) {
  const { answer, missing } = plan
  return (
    <div className="space-y-2">
      {problem && (
        <p role="alert" className="strip border-vermilion">
          {problem}
        </p>
      )}
      {answer.stops.map((stop) => (
        <p key={stop.code + stop.says} className="strip border-vermilion" role="alert">
          <strong className="text-vermilion">Stop. </strong>
          {stop.says}
        </p>
      ))}
      {missing.map((gap) => (
        <p key={gap.field} className="strip border-water">
          <strong>Missing. </strong>
          {gap.says}{" "}
          {gap.field === "shell" && (
            <Link className="underline" to={`/vessels/${plan.vessel_id}`}>
              To the vessel
            </Link>
          )}
        </p>
      ))}
      {answer.cautions.map((caution) => (
        <p key={caution.code} className="strip py-1 text-[13.5px] leading-snug">
          {caution.says}
        </p>
      ))}
    </div>
  )
}

/** Stored energy, water against air: the reason for the whole job. */
function Energy({ plan }: { plan: Plan }) {
  const { energy: stored, energy: e } = plan.answer
  if (stored.air_at_test == null || stored.water == null) return null
  const part = Math.max(0.4, (100 * stored.water) / stored.air_at_test)
  return (
    <section>
      <h2 className="text-[16px]">If it let go at test pressure</h2>
      <div className="mt-1 grid grid-cols-2 gap-4 text-[13.5px] text-quiet">
        <div>
          full of water
          <div className="figure text-[16px] text-ink">{energy(stored.water)}</div>
          <div className="mt-1 h-2.5 bg-water" style={{ width: `${part}%`, minWidth: 2 }} />
        </div>
        <div>
          the same, full of air
          <div className="figure text-[16px] text-ink">{energy(stored.air_at_test)}</div>
          <div className="mt-1 h-2.5 bg-vermilion" />
        </div>
      </div>
      <p className="mt-1 text-[13px] text-quiet">
        Under air nobody should be within {digits(e.stand_off ?? 0, 2)} m, and fragments go further.
      </p>
      <Why lines={plan.answer.lines} figures={["energy.water", "energy.air_at_test", "energy.stand_off", "compliance", "pressure_per_kelvin"]} />
    </section>
  )
}

type FootProps = { plan: Plan; go: () => void; ready: boolean; saving: boolean; error: string | null }

function Foot({ plan, go, ready, saving, error }: FootProps) {
  const thaw = useThaw(plan.id)
  const open = plan.state === "planned"
  const waits = plan.missing.length + plan.answer.stops.length
  return (
    <div className="border-t-[1.5px] border-rule px-4 py-3">
      <button className="btn btn-primary h-11 w-full" onClick={go} disabled={open && !ready}>
        {open ? "Freeze and go to the bench" : "To the bench"} <kbd className="key">⏎</kbd>
      </button>
      <p className="mt-1.5 text-center text-[12.5px] text-quiet" aria-live="polite">
        {error ? <span className="text-vermilion">{error}</span> : saving ? "Keeping …" : open && waits ? `${waits} ${waits === 1 ? "thing stands" : "things stand"} in the way, above.` : "Own-use record. Not a certificate."}
      </p>
      <p className="mt-1 flex justify-center gap-4 text-[13px]">
        <a className="text-water-ink underline decoration-dotted underline-offset-3" href={`/api/trials/${plan.id}/sheet.json`}>
          Sheet as a file
        </a>
        {plan.state === "ready" && (
          <button className="text-water-ink underline decoration-dotted underline-offset-3" onClick={() => thaw.mutate()}>
            Open the plan again
          </button>
        )}
      </p>
    </div>
  )
}
