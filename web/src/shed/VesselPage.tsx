import { useState } from "react"
import { useNavigate, useParams, useLocation } from "react-router"
import type { Schema } from "../api/client"
import { useDue } from "../api/due"
import { useLedger, type LedgerOut } from "../api/ledger"
import { useMe } from "../api/me"
import { useTrialsOf, type TrialRow } from "../api/trials"
import { useKeys } from "../app/keys"
import { Loading } from "../app/Loading"
import { Head } from "../app/Shell"
import { Failed } from "../app/states"
import { useTheme } from "../app/theme"
import { Alert } from "../parts/Alert"
import { Dialog, Keep, useKeeping } from "../parts/Dialog"
import { DueLine } from "../parts/DueLine"
import { roomFor } from "../parts/elevation/frame"
import { HappenedDialog } from "../parts/HappenedDialog"
import { LedgerLines } from "../parts/Ledger"
import { Undo } from "../parts/Undo"
import { day } from "../parts/units"
import { draftOf, readingsOf, sheetOf, thinnestWritten, type Draft } from "./draft"
import { DrawnVessel } from "./DrawnVessel"
import { Facts, History } from "./Facts"
import { Figures } from "./Figures"
import { HappenedList, TagLine } from "./Happened"
import { useGoodLook, useSettled } from "./looking"
import { ASIDE, BODY, LEFT } from "./page"
import { OtherTrials } from "./OtherTrials"
import { PartPanel, type Target } from "./PartPanel"
import { Pictures } from "./Pictures"
import { usePlanAgain, usePlanTrial, useRetire, useTakeAway, useVessel, type VesselOut } from "./queries"
import { useEdits } from "./useEdits"
import { VesselForm } from "./VesselForm"
import { WallStrip } from "./WallStrip"

/** A vessel: its drawing to change in place, its wall, its figures, its history. */
export function VesselPage() {
  useTheme("daylight")
  const { id = "" } = useParams()
  const [vessel, trials] = [useVessel(id), useTrialsOf(id)]
  return (
    <>
      <Head />
      {vessel.error ? (
        <Failed error={vessel.error} retry={() => void vessel.refetch()} />
      ) : !vessel.data ? (
        <Loading what="the vessel" />
      ) : (
        <Hung key={`${vessel.data.id} ${vessel.data.version}`} vessel={vessel.data} trials={trials.data ?? []} />
      )}
    </>
  )
}

function Hung({ vessel, trials }: { vessel: VesselOut; trials: TrialRow[] }) {
  const navigate = useNavigate()
  const { data: me } = useMe()
  const habit = me?.units ?? "metric"
  const { sheet, change, leave, keep, dirty, saving, refusal, asks, unask } = useEdits(vessel)
  const [telling, setTelling] = useState<string | null>(null)
  const [choosing, setChoosing] = useState(false)
  const [leaving, setLeaving] = useState(false)
  const { data: ledger, isPending: reading } = useLedger(vessel.id)
  const { isPending: looking } = useDue()
  const [target, setTarget] = useState<Target | null>(null)
  const [draft, setDraft] = useState<Draft | null>(null)
  const plan = usePlanTrial()
  const whole = draft ? (sheetOf(draft, sheet) ?? sheet) : sheet
  const { good, problem } = useGoodLook(useSettled(whole, draft ? 300 : 40))
  const shape = good?.shape ?? vessel.shape
  // What stands further down comes with what stands above it: nothing moves away from under a pointer.
  const here = (good || problem) && !reading && !looking
  const openForm = () => setDraft(draftOf(vessel.name, vessel.notes, sheet, thinnestWritten(sheet, good?.answer ?? vessel.answer)))
  const written = () => ({ name: draft?.name ?? vessel.name, notes: draft?.notes ?? vessel.notes, sheet: whole })
  const save = () => keep(written())
  const begin = (basis: string | null = ledger?.plan ?? null) =>
    plan.mutate({ vessel: vessel.id, basis }, { onSuccess: (trial) => void navigate(`/trials/${trial.id}/plan`) })
  const away = useTakeAway(vessel.id)
  const retire = useRetire(vessel.id)
  const out = vessel.retired_on != null
  const takeAway = async () => {
    const gone = await away.mutateAsync()
    await navigate("/", { state: { says: gone.says, vessel: { id: vessel.id, name: vessel.name, notes: vessel.notes, sheet: vessel.sheet } } })
  }
  const add = () => {
    const all = sheet.fittings ?? []
    let n = all.length + 1
    while (all.some((one) => one.name === `Opening ${n}`)) n++
    change({
      ...sheet,
      fittings: [
        ...all,
        {
          name: `Opening ${n}`,
          place: roomFor(
            shape,
            all.map((one) => one.place),
          ),
        },
      ],
    })
    setTarget({ opening: `Opening ${n}` })
  }
  useKeys([
    { key: "p", does: "plan a trial, what is asked for next", act: () => begin(), disabled: dirty || out },
    { key: "k", does: "plan another kind of trial", act: () => setChoosing(true), disabled: dirty || out },
    { key: "c", does: "change what is known", act: openForm, disabled: draft !== null },
    { key: "w", does: "write that something happened", act: () => setTelling("dropped"), disabled: draft !== null || telling !== null },
    { key: "o", does: "add an opening", act: add, disabled: shape.form === "unknown" },
  ])
  const wrong = refusal ? { says: refusal.message, field: refusal.field } : away.error ? { says: away.error.message, field: null } : problem
  return (
    <main className={BODY}>
      <section className={LEFT}>
        <div className="flex flex-wrap items-baseline gap-x-4 gap-y-2">
          <h1 className="text-2xl">{draft?.name.trim() || vessel.name}</h1>
          <span className="text-quiet">{me?.kinds.find((kind) => kind.id === whole["kind"])?.name}</span>
          <span className="ml-auto flex flex-wrap gap-2">
            {shape.form !== "unknown" && (
              <button className="btn btn-outline btn-sm border-line bg-ground min-h-9" onClick={add}>
                Add an opening <kbd className="key">O</kbd>
              </button>
            )}
            {!draft && trials.length === 0 && (
              <button className="btn btn-ghost btn-sm min-h-9 text-vermilion" onClick={() => setLeaving(true)} disabled={away.isPending}>
                Take it off the shelf
              </button>
            )}
            {!draft && (trials.length > 0 || away.isError) && !out && (
              <button className="btn btn-ghost btn-sm min-h-9 text-vermilion" onClick={() => retire.mutate(true)} disabled={retire.isPending}>
                Retire it
              </button>
            )}
            {!draft && (
              <button className="btn btn-outline btn-sm border-line bg-ground min-h-9" onClick={() => setTelling("dropped")}>
                Something happened <kbd className="key">W</kbd>
              </button>
            )}
            {!draft && (
              <button className="btn btn-outline btn-sm border-line bg-ground min-h-9" onClick={openForm}>
                Change <kbd className="key">C</kbd>
              </button>
            )}
            <button
              className="btn btn-primary btn-sm min-h-9"
              onClick={() => begin()}
              disabled={plan.isPending || dirty || out}
              title={dirty ? "Keep or leave what was changed first" : undefined}
            >
              Plan a trial <kbd className="key">P</kbd>
            </button>
            <button
              className="btn btn-outline btn-sm border-line bg-ground min-h-9"
              onClick={() => setChoosing(true)}
              disabled={plan.isPending || dirty || out}
            >
              Another kind <kbd className="key">K</kbd>
            </button>
          </span>
        </div>
        <ThrownAway vessel={vessel.id} />
        {retire.error && <Alert>{retire.error.message}</Alert>}
        {out && (
          <p className="strip flex flex-wrap items-center gap-x-4 border-brass" role="status">
            Retired on {day(vessel.retired_on)}: off the shelf, its records stay, nothing is due.
            <button className="btn btn-outline btn-sm border-line bg-ground min-h-9" onClick={() => retire.mutate(false)} disabled={retire.isPending}>
              Hang it up again
            </button>
          </p>
        )}
        {!draft && ledger && <TagLine ledger={ledger} trials={trials} habit={habit} />}
        {telling && <HappenedDialog vessel={vessel.id} first={telling} close={() => setTelling(null)} />}
        {leaving && <TakeAway name={vessel.name} done={takeAway} close={() => setLeaving(false)} />}
        {choosing && ledger && <OtherTrials ledger={ledger} plan={begin} busy={plan.isPending} close={() => setChoosing(false)} />}
        {plan.error && <Alert>{plan.error.message}</Alert>}
        {asks && <HappenedDialog vessel={vessel.id} close={unask} keep={(happened, happened_text) => keep({ ...written(), happened, happened_text })} />}
        {dirty && !draft && (
          <div className="flex flex-wrap items-center gap-3 border-l-4 border-water bg-paper px-3 py-1.5" role="status">
            <span>{wrong ? <span className="text-vermilion">{wrong.says}</span> : "Changed on the drawing, not kept yet."}</span>
            <button className="btn btn-primary btn-sm ml-auto min-h-9" onClick={save} disabled={saving || problem !== null}>
              Keep the changes
            </button>
            <button className="btn btn-ghost btn-sm min-h-9" onClick={() => (leave(), setTarget(null))}>
              Leave it as it was
            </button>
          </div>
        )}
        <DrawnVessel shape={shape} habit={habit} sheet={whole} change={draft ? undefined : change} target={target} open={draft ? undefined : setTarget}>
          {target && !draft && (
            <PartPanel sheet={sheet} change={change} target={target} habit={habit} problem={problem} close={() => setTarget(null)} retarget={setTarget} />
          )}
        </DrawnVessel>
        {good && problem && <p className="text-note text-brass-ink">Drawn as it was before the mistake.</p>}
        {here ? (
          <>
            {good?.answer && shape.form === "cylinder" && !draft && (
              <WallStrip sheet={sheet} change={change} answer={good.answer} shape={shape} habit={habit} />
            )}
            {!draft && <DueHere vessel={vessel.id} />}
            <Figures answer={good?.answer ?? null} habit={habit} />
            <History vessel={vessel.id} trials={trials} habit={habit} />
            <HappenedList vessel={vessel.id} />
            <Pictures vessel={vessel.id} openings={shape.openings.map((one) => one.name)} />
          </>
        ) : (
          <p className="text-quiet" aria-busy="true">
            Fetching its wall, its figures and its logbook …
          </p>
        )}
      </section>
      <aside className={ASIDE}>
        {draft ? (
          <VesselForm
            draft={draft}
            change={(next) => setDraft((before) => (before && typeof next === "function" ? next(before) : (next as Draft)))}
            habit={habit}
            problem={wrong}
            save={save}
            saving={saving}
            readings={readingsOf(sheet).filter((reading) => typeof reading !== "string").length}
            cancel={() => setDraft(null)}
          />
        ) : (
          <>
            {ledger && <Programme ledger={ledger} does={{ plan: begin, write: setTelling, busy: plan.isPending || dirty || out }} />}
            <Facts vessel={{ ...vessel, sheet: whole, shape }} />
          </>
        )}
      </aside>
    </main>
  )
}

/** What the vessel's kind asks for, and how each of it stands today. */
function Programme({ ledger, does }: { ledger: LedgerOut; does: { plan: (basis: string) => void; write: (what: string) => void; busy: boolean } }) {
  return (
    <section className="mb-4" aria-label="What is asked of it">
      <h2 className="mb-1 text-lg">What is asked of it</h2>
      <LedgerLines ledger={ledger} does={does} />
    </section>
  )
}

/** What is due on this vessel. */
function DueHere({ vessel }: { vessel: string }) {
  const due = useDue()
  const items = (due.data?.items ?? []).filter((one) => one.vessel_id === vessel)
  if (items.length === 0) return null
  return (
    <section aria-label="Due">
      <h2 className="text-lg">Due</h2>
      <ul className="border-t border-rule">
        {items.map((one) => (
          <DueLine key={one.what} item={one} named={false} />
        ))}
      </ul>
    </section>
  )
}

/** A plan that was thrown away a moment ago, and the way to have it back. */
function ThrownAway({ vessel }: { vessel: string }) {
  const navigate = useNavigate()
  const gone = useLocation().state as { says: string; plan: Schema["VesselSheet"] } | null
  const again = usePlanAgain()
  if (!gone?.plan) return null
  const undo = () => again.mutate({ vessel, sheet: gone.plan }, { onSuccess: (plan) => void navigate(`/trials/${plan.id}/plan`, { replace: true }) })
  return <Undo says={gone.says} undo={undo} busy={again.isPending} />
}

/** Is it to be taken off the shelf? Asked, for the key lies beside others. */
function TakeAway({ name, done, close }: { name: string; done: () => Promise<void>; close: () => void }) {
  const { says, busy, keep } = useKeeping(close)
  return (
    <Dialog title={`Take ${name} off the shelf?`} close={close}>
      <form
        onSubmit={(event) => {
          event.preventDefault()
          keep(done)
        }}
      >
        <p className="mb-4 text-lead">Nothing of it is on record. Its drawing and its figures go with it; on the next page they can be had back.</p>
        {says && <Alert className="mb-3">{says}</Alert>}
        <Keep keep="Take it off" close={close} busy={busy} />
      </form>
    </Dialog>
  )
}
