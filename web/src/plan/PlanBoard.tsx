import { useEffect, useRef, useState, type KeyboardEvent } from "react"
import { useNavigate, useParams } from "react-router"
import { useMe } from "../api/me"
import { useKeys } from "../app/keys"
import { Failed, Loading } from "../app/states"
import { useTheme } from "../app/theme"
import { TrialHead } from "../app/TrialHead"
import { CourseChart } from "../parts/CourseChart"
import { DetectCurve } from "../parts/DetectCurve"
import { Glass } from "../parts/Glass"
import { Why } from "../parts/Lines"
import { glassOf, planOf, type PlanMoves } from "../parts/marks"
import { withAt } from "../parts/path"
import { digits, habitFor, show, type Habit } from "../parts/units"
import { Bases, type FieldsProps } from "./Bases"
import { Energy } from "./Energy"
import { HoldTab } from "./HoldTab"
import { KitTab } from "./KitTab"
import { OpeningsTab } from "./OpeningsTab"
import { Prepared } from "./Prepared"
import { useFreeze, usePlan, useThaw, type Plan, type Sheet } from "./queries"
import { StageHandles } from "./StageHandles"
import { ownStages, pause, stepOf, withOneMore, within, written } from "./stages"
import { StagesTab } from "./StagesTab"
import { useDraft, type Drafting } from "./useDraft"
import { Changed, Warnings } from "./Warnings"

/** The plan board: one screen from the wanted pressure to a frozen plan. */
export function PlanBoard() {
  useTheme("daylight")
  const { id = "" } = useParams()
  const [plan, me] = [usePlan(id), useMe()]
  if (plan.error) return <Failed error={plan.error} retry={() => void plan.refetch()} />
  if (!plan.data || !me.data) return <Loading what="the plan" />
  return <Board key={`${plan.data.id} ${plan.data.state === "planned"}`} plan={plan.data} habit={habitFor(me.data.units, plan.data.answer.gauge_target)} />
}

const TABS = ["Openings", "Kit and water", "Stages", "Hold"] as const
type Tab = (typeof TABS)[number]

function Board({ plan, habit }: { plan: Plan; habit: Habit }) {
  const navigate = useNavigate()
  const drafting = useDraft(plan)
  const { draft, change, live, problem, saving } = drafting
  const freeze = useFreeze(plan.id)
  const [answer, shape] = [live?.answer ?? plan.answer, live?.shape ?? plan.shape]
  const open = plan.state === "planned"
  const [tab, setTab] = useState<Tab>(plan.missing.some((gap) => gap.field !== "shell") ? "Kit and water" : "Openings")
  const [selected, setSelected] = useState<string | null>(null)
  const [seen, setSeen] = useState(false)
  const toBench = () => void navigate(`/trials/${plan.id}/bench`)
  const ready = open && !problem && !saving && !live && plan.missing.length === 0 && answer.stops.length === 0
  const go = () => (open ? ready && freeze.mutate(undefined, { onSuccess: toBench }) : toBench())
  useKeys([
    { key: "Enter", does: open ? "freeze and go to the bench" : "go to the bench", act: go },
    ...TABS.map((name, i) => ({ key: String(i + 1), does: name.toLowerCase(), act: () => setTab(name) })),
    { key: "u", does: "take the last change back (Ctrl Z)", act: () => drafting.undo?.(), disabled: !drafting.undo },
    { key: "y", does: "do it again (Ctrl Shift Z)", act: () => drafting.redo?.(), disabled: !drafting.redo },
  ])
  useUndoKeys(drafting)
  const fields: FieldsProps = { draft, change, habit, problem, disabled: !open, answer }
  const select = (name: string) => {
    setSelected(name)
    setTab("Openings")
  }
  const panel = useRef<HTMLDivElement>(null)
  const lead = (field: string) => {
    setTab(field === "acceptance" ? "Hold" : "Kit and water")
    const label = { gauge: "Gauge reads to", water_temperature: "Water at", acceptance: "Drop at most" }[field]
    setTimeout(() => [...(panel.current?.querySelectorAll("label") ?? [])].find((l) => l.textContent?.startsWith(label ?? " "))?.control?.focus())
  }
  return (
    <>
      <TrialHead {...plan} note={`planned by ${plan.planned_by}`} />
      <main className="grid flex-1 overflow-auto lg:grid-cols-[226px_1fr_356px] lg:grid-rows-1 lg:overflow-hidden">
        <section className="hidden border-r-[1.5px] border-rule lg:block" aria-label="The glass">
          <Glass habit={habit} plan={planOf(answer, open ? movesOf(fields) : {})} {...glassOf(answer)} />
        </section>
        <div className="flex min-w-0 flex-col lg:min-h-0">
          {!seen && open && <Changed plan={plan} close={() => setSeen(true)} />}
          <Course {...fields} drafting={drafting} />
          <section className="grid gap-4 border-t-[1.5px] border-rule px-4 pt-2 pb-2 lg:h-[340px] lg:grid-cols-[222px_1fr]">
            <Prepared {...fields} shape={shape} selected={selected} select={select} dial={tab === "Kit and water"} />
            <div className="flex min-h-0 min-w-0 flex-col">
              <Tabs tab={tab} choose={setTab} />
              <div ref={panel} id="panel" role="tabpanel" aria-labelledby={`tab-${tab}`} className="min-h-0 flex-1 pt-1.5 lg:overflow-auto">
                {tab === "Openings" && <OpeningsTab {...fields} vessel={plan.vessel_id} trial={plan.id} selected={selected} select={setSelected} />}
                {tab === "Kit and water" && <KitTab {...fields} trial={plan.id} version={plan.version} />}
                {tab === "Stages" && <StagesTab {...fields} />}
                {tab === "Hold" && <HoldTab {...fields} />}
              </div>
            </div>
          </section>
        </div>
        <aside className="flex flex-col border-t-[1.5px] border-rule lg:min-h-0 lg:border-t-0 lg:border-l-[1.5px]">
          <div className="flex-1 space-y-3 px-4 py-3 lg:overflow-auto" tabIndex={0} role="region" aria-label="Test pressure, cautions, hold, energy">
            <Bases {...fields} />
            <Warnings plan={plan} answer={answer} problem={problem && problem.field == null && !drafting.elsewhere ? problem.message : null} draft={draft} change={change} habit={habit} disabled={!open} lead={lead} />
            <HoldCurve {...fields} />
            <Energy answer={answer} habit={habit} />
          </div>
          <Foot plan={plan} stops={answer.stops.length} go={go} ready={ready} saving={saving || live !== null} error={freeze.error?.message ?? (drafting.elsewhere ? null : (problem?.message ?? null))} drafting={drafting} openings={answer.openings ?? []} />
        </aside>
      </main>
    </>
  )
}

/** Ctrl Z and Ctrl Shift Z, but in a field those are the field's own. */
function useUndoKeys({ undo, redo }: Drafting) {
  useEffect(() => {
    const onKey = (event: globalThis.KeyboardEvent) => {
      const field = event.target instanceof HTMLElement && ["INPUT", "TEXTAREA"].includes(event.target.tagName)
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "z" || field) return
      event.preventDefault()
      if (event.shiftKey) redo?.()
      else undo?.()
    }
    window.addEventListener("keydown", onKey)
    return () => window.removeEventListener("keydown", onKey)
  }, [undo, redo])
}

/** What may be moved on the glass, and what follows in the sheet. */
function movesOf({ draft, change, habit, answer }: FieldsProps): PlanMoves {
  const step = stepOf(draft, habit)
  const head = answer.gauge_target - answer.test_pressure
  return {
    wanted: { step, does: "the wanted pressure, up and down", to: (pressure) => change({ ...draft, working_pressure: written(pressure, habit) }) },
    relief: { step, does: "where the relief valve is set", to: (pressure) => change({ ...draft, relief_set: written(pressure, habit) }) },
    test: {
      step,
      does: "the test, by a factor of your own",
      to: (pressure) => change({ ...draft, basis: "own", factor: Math.min(4, Math.max(1, Math.round(((pressure - head) / answer.base_pressure) * 100) / 100)) }),
    },
    stage: (index) => ({ step, does: "a stage, up and down", to: (pressure) => change(withStage(draft, answer, habit, index, pressure, step)) }),
  }
}

function withStage(draft: Sheet, answer: FieldsProps["answer"], habit: Habit, index: number, pressure: number, step: number): Sheet {
  const target = written(within(answer, index, pressure, step), habit)
  return { ...draft, stages: ownStages(draft, answer, habit).map((stage, i) => (i === index ? { ...stage, target } : stage)) }
}

/** The course over time, its stages moved where they are. */
function Course({ drafting, ...fields }: FieldsProps & { drafting: Drafting }) {
  const { draft, change, habit, answer, disabled } = fields
  const { strokes, volume } = answer.pump
  const minutes = Math.round((answer.profile.at(-1)?.time ?? 0) / 60)
  const step = stepOf(draft, habit)
  const stages = () => ownStages(draft, answer, habit)
  const pauseAt = (index: number, seconds: number) =>
    change({ ...draft, stages: stages().map((stage, i) => (i === index ? { ...stage, pause: pause(seconds) } : stage)) })
  const remove = (index: number) => answer.stages.length > 2 && change({ ...draft, stages: stages().filter((_, i) => i !== index) })
  const quiet = "btn btn-ghost btn-sm min-h-8 px-2 text-[13.5px]"
  return (
    <section className="flex flex-col px-4 pt-2 lg:min-h-0 lg:flex-1">
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h2 className="text-[18px]">Raise in {answer.stages.length} stages</h2>
        <span className="text-[14px] text-quiet">
          {strokes != null && volume != null ? `${digits(strokes, 2)} strokes, ${show(volume, volume >= 1e-3 ? "volume" : "small", habit)} to the top, ${minutes} min in all` : `${minutes} min in all; strokes once a pump is said`}
        </span>
        {!disabled && (
          <span className="ml-auto flex items-center">
            <button className={quiet} onClick={() => drafting.undo?.()} disabled={!drafting.undo} title="Ctrl Z">
              Undo
            </button>
            <button className={quiet} onClick={() => drafting.redo?.()} disabled={!drafting.redo} title="Ctrl Shift Z">
              Redo
            </button>
            <button className={quiet} onClick={() => change({ ...draft, stages: withOneMore(stages(), answer, habit) })}>
              Add a stage
            </button>
          </span>
        )}
      </div>
      <div className="h-72 lg:h-auto lg:min-h-0 lg:flex-1">
        <CourseChart
          answer={answer}
          habit={habit}
          named
          over={
            disabled
              ? undefined
              : (chart) => <StageHandles answer={answer} chart={chart} habit={habit} step={step} move={(index, pressure) => change(withStage(draft, answer, habit, index, pressure, step))} pauseAt={pauseAt} remove={remove} />
          }
        />
      </div>
    </section>
  )
}

function Tabs({ tab, choose }: { tab: Tab; choose: (tab: Tab) => void }) {
  const onKey = (event: KeyboardEvent) => {
    const way = { ArrowRight: 1, ArrowLeft: -1 }[event.key]
    if (!way) return
    event.preventDefault()
    const next = TABS[(TABS.indexOf(tab) + way + TABS.length) % TABS.length]!
    choose(next)
    document.getElementById(`tab-${next}`)?.focus()
  }
  return (
    <div role="tablist" aria-label="Preparation" className="flex gap-1 border-b-[1.5px] border-rule" onKeyDown={onKey}>
      {TABS.map((name, i) => (
        <button key={name} id={`tab-${name}`} role="tab" aria-selected={tab === name} aria-controls="panel" tabIndex={tab === name ? 0 : -1} className={`-mb-[1.5px] flex min-h-9 items-center gap-1.5 border-b-[3px] px-2.5 text-[14.5px] ${tab === name ? "border-primary font-semibold" : "border-transparent text-quiet hover:text-ink"}`} onClick={() => choose(name)}>
          {name} <kbd className="key hidden sm:inline-grid">{i + 1}</kbd>
        </button>
      ))}
    </div>
  )
}

/** What the hold can tell, with the chosen hold on it. */
function HoldCurve({ answer, habit, draft, change, disabled }: FieldsProps) {
  if (answer.hold.detect.length < 2) return null
  return (
    <section>
      <h2 className="text-[16px]">
        Hold {digits(answer.hold.minimum / 60, 3)} min <span className="font-sans text-[13.5px] font-normal text-quiet">smallest leak this kit can tell, mL/h</span>
      </h2>
      <DetectCurve hold={answer.hold} habit={habit} choose={disabled ? undefined : (seconds) => change(withAt(draft, "hold.minimum", pause(seconds)))} />
      <Why lines={answer.lines} figures={["hold.accepted_leak", "hold.smallest_leak", "hold.needed", "hold.minimum", "hold.every", "hold.look_pressure"]} />
    </section>
  )
}

type FootProps = { plan: Plan; stops: number; go: () => void; ready: boolean; saving: boolean; error: string | null; drafting: Drafting; openings: { ready: boolean }[] }

function Foot({ plan, stops, go, ready, saving, error, drafting, openings }: FootProps) {
  const thaw = useThaw(plan.id)
  const open = plan.state === "planned"
  const waits = plan.missing.length + stops
  const unready = openings.filter((one) => !one.ready).length
  const link = "text-water-ink underline decoration-dotted underline-offset-3"
  return (
    <div className="border-t-[1.5px] border-rule px-4 py-2.5">
      {drafting.elsewhere && (
        <div role="alert" className="strip mb-2 border-vermilion text-[13.5px]">
          This plan was changed in another window meanwhile. What you typed is still here.
          <span className="mt-1 flex gap-2">
            <button className="btn btn-outline btn-sm border-[1.5px] bg-ground min-h-9" onClick={() => void drafting.elsewhere?.(true)}>
              Keep mine
            </button>
            <button className="btn btn-outline btn-sm border-[1.5px] bg-ground min-h-9" onClick={() => void drafting.elsewhere?.(false)}>
              Take the other
            </button>
          </span>
        </div>
      )}
      <button className="btn btn-primary h-11 w-full" onClick={go} disabled={open && !ready}>
        {open ? "Freeze and go to the bench" : "To the bench"} <kbd className="key">⏎</kbd>
      </button>
      <p className="mt-1 text-center text-[12.5px] text-quiet" aria-live="polite">
        {error ? (
          <span className="text-vermilion">{error}</span>
        ) : saving ? (
          "Keeping …"
        ) : open && waits ? (
          `${waits} ${waits === 1 ? "thing stands" : "things stand"} in the way, above.`
        ) : open && unready ? (
          `${unready} ${unready === 1 ? "opening" : "openings"} still to prepare. Not a certificate.`
        ) : (
          "Own-use record. Not a certificate."
        )}
      </p>
      <p className="mt-0.5 flex justify-center gap-4 text-[13px]">
        <a className={link} href={`/api/trials/${plan.id}/sheet.json`}>
          Sheet as a file
        </a>
        {plan.state === "ready" && (
          <button className={link} onClick={() => thaw.mutate()}>
            Open the plan again
          </button>
        )}
      </p>
    </div>
  )
}
