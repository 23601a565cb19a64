import { useEffect, useRef, useState, type KeyboardEvent } from "react"
import { useNavigate, useParams } from "react-router"
import { useMe } from "../api/me"
import { useKeys } from "../app/keys"
import { Loading } from "../app/Loading"
import { Failed } from "../app/states"
import { useTheme } from "../app/theme"
import { TrialHead } from "../app/TrialHead"
import { Glass } from "../parts/Glass"
import { glassOf, planOf } from "../parts/marks"
import { habitFor, type Habit } from "../parts/units"
import { Bases, type FieldsProps } from "./Bases"
import { Course } from "./Course"
import { Energy } from "./Energy"
import { Foot } from "./Foot"
import { HoldCurve } from "./HoldCurve"
import { HoldTab } from "./HoldTab"
import { KitTab } from "./KitTab"
import { movesOf } from "./moves"
import { OpeningsTab } from "./OpeningsTab"
import { Prepared } from "./Prepared"
import { useFreeze, usePlan, type Plan } from "./queries"
import { StagesTab } from "./StagesTab"
import { useDraft, type Drafting } from "./useDraft"
import { VesselChanged } from "./VesselChanged"
import { Changed, Warnings } from "./Warnings"

/** The plan board: one screen from the wanted pressure to a frozen plan. */
export function PlanBoard() {
  useTheme("daylight")
  const { id = "" } = useParams()
  const [plan, me] = [usePlan(id), useMe()]
  if (plan.error) return <Failed error={plan.error} retry={() => void plan.refetch()} />
  if (!plan.data || !me.data) return <Loading what="the plan" />
  const changed = plan.data.vessel_changes.length > 0
  return (
    <Board
      key={`${plan.data.id} ${plan.data.state === "planned"} ${changed}`}
      plan={plan.data}
      habit={habitFor(me.data.units, plan.data.answer.test_pressure)}
    />
  )
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
  const go = () => (open ? ready && freeze.mutate(plan.seen, { onSuccess: toBench }) : toBench())
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
    const label = { gauge: "Gauge reads to", water_temperature: answer.medium === "air" ? "Air at" : "Water at", acceptance: "Drop at most" }[field]
    setTimeout(() => [...(panel.current?.querySelectorAll("label") ?? [])].find((l) => l.textContent?.startsWith(label ?? " "))?.control?.focus())
  }
  return (
    <>
      <TrialHead {...plan} note={`planned by ${plan.planned_by}`} />
      <main className="grid flex-1 overflow-auto lg:grid-cols-[226px_1fr_356px] lg:grid-rows-1 lg:overflow-hidden">
        <section className="h-96 border-b-line border-rule lg:h-auto lg:border-r-line lg:border-b-0" aria-label="The glass">
          <Glass habit={habit} plan={planOf(answer, open ? movesOf(fields) : {})} {...glassOf(answer)} />
        </section>
        <div className="flex min-w-0 flex-col lg:min-h-0">
          {open && <VesselChanged plan={plan} />}
          {!seen && open && <Changed plan={plan} close={() => setSeen(true)} />}
          <Course {...fields} drafting={drafting} />
          <section className="grid gap-4 border-t-line border-rule px-4 pt-2 pb-2 lg:h-[340px] lg:grid-cols-[222px_1fr]">
            <Prepared {...fields} shape={shape} selected={selected} select={select} dial={tab === "Kit and water"} />
            <div className="flex min-h-0 min-w-0 flex-col">
              <Tabs tab={tab} choose={setTab} />
              <div ref={panel} id="panel" role="tabpanel" aria-labelledby={`tab-${tab}`} className="min-h-0 flex-1 pt-1.5 lg:overflow-auto">
                {tab === "Openings" && <OpeningsTab {...fields} vessel={plan.vessel_id} trial={plan.id} selected={selected} select={setSelected} />}
                {tab === "Kit and water" && <KitTab {...fields} trial={plan.id} version={plan.version} />}
                {tab === "Stages" && <StagesTab {...fields} />}
                {tab === "Hold" && <HoldTab {...fields} vessel={plan.vessel_id} number={plan.number} trial={plan.id} version={plan.version} />}
              </div>
            </div>
          </section>
        </div>
        <aside className="flex flex-col border-t-line border-rule lg:min-h-0 lg:border-t-0 lg:border-l-line">
          <div className="flex-1 space-y-3 px-4 py-3 lg:overflow-auto" tabIndex={0} role="region" aria-label="Test pressure, cautions, hold, energy">
            <Bases {...fields} />
            <Warnings
              plan={plan}
              answer={answer}
              problem={problem && problem.field == null && !drafting.elsewhere ? problem.message : null}
              draft={draft}
              change={change}
              habit={habit}
              disabled={!open}
              lead={lead}
            />
            <HoldCurve {...fields} />
            {answer.procedure !== "steam" && <Energy answer={answer} habit={habit} />}
          </div>
          <Foot
            plan={plan}
            stops={answer.stops.length}
            go={go}
            ready={ready}
            saving={saving || live !== null}
            error={freeze.error?.message ?? (drafting.elsewhere ? null : (problem?.message ?? null))}
            drafting={drafting}
            openings={answer.openings ?? []}
          />
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
    <div role="tablist" aria-label="Preparation" className="flex gap-1 border-b-line border-rule" onKeyDown={onKey}>
      {TABS.map((name, i) => (
        <button
          key={name}
          id={`tab-${name}`}
          role="tab"
          aria-selected={tab === name}
          aria-controls="panel"
          tabIndex={tab === name ? 0 : -1}
          className={`-mb-[1.5px] flex min-h-9 items-center gap-1.5 border-b-bold px-2.5 text-note ${tab === name ? "border-primary font-semibold" : "border-transparent text-quiet hover:text-ink"}`}
          onClick={() => choose(name)}
        >
          {name} <kbd className="key hidden sm:inline-grid">{i + 1}</kbd>
        </button>
      ))}
    </div>
  )
}
