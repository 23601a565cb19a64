import { useEffect, useState } from "react"
import { useNavigate, useParams } from "react-router"
import type { Refusal, Schema } from "../api/client"
import { useMe } from "../api/me"
import { useKeys } from "../app/keys"
import { Head } from "../app/Shell"
import { Failed, Loading } from "../app/states"
import { useTheme } from "../app/theme"
import { Why } from "../parts/Lines"
import { energy, habitFor, show, type Units } from "../parts/units"
import { draftOf, EMPTY, readingsOf, sheetOf, thinnestWritten, USUAL, type Draft, type Sheet } from "./draft"
import { DrawnVessel } from "./DrawnVessel"
import { Facts, History } from "./Facts"
import { PartPanel, type Target } from "./PartPanel"
import { useKeepVessel, useLook, usePlanTrial, useTrials, useVessel, type TrialRow, type VesselOut } from "./queries"
import { useEdits } from "./useEdits"
import { VesselForm } from "./VesselForm"
import { WallStrip } from "./WallStrip"

const KEPT = "toadbell-new-vessel"
const BODY = "grid flex-1 content-start overflow-auto lg:grid-cols-[1fr_430px] lg:content-stretch lg:overflow-hidden"
const ASIDE = "border-t-[1.5px] border-rule bg-paper px-5 pt-4 lg:overflow-auto lg:border-t-0 lg:border-l-[1.5px]"
const LEFT = "flex flex-col gap-3 px-4 py-3 sm:px-7 lg:overflow-auto"

type Found = Schema["Looked"] | undefined

/** A draft that has rested for a moment: asking at every key would be asking too much. */
function useSettled<T>(value: T, rest: number): T {
  const [settled, setSettled] = useState(value)
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), rest)
    return () => clearTimeout(timer)
  }, [value, rest])
  return settled
}

/** The last look that could be drawn, and what is wrong with the present one. */
function useGoodLook(sheet: Sheet | null) {
  const look = useLook(sheet)
  const [good, setGood] = useState<Found>(undefined)
  if (look.data?.answer && look.data !== good) setGood(look.data)
  const problem = look.data?.says ? { says: look.data.says, field: look.data.field ?? null } : null
  return { good, problem }
}

/** Hang up a vessel: the form, and the vessel drawn from it as it is typed. */
export function HangUp() {
  useTheme("daylight")
  const navigate = useNavigate()
  const { data: me } = useMe()
  const habit = me?.units ?? "metric"
  const [base, setBase] = useState<Sheet>({})
  const [draft, setDraft] = useState<Draft>(() => ({ ...EMPTY, ...USUAL["receiver"], ...(JSON.parse(sessionStorage.getItem(KEPT) ?? "{}") as Partial<Draft>) }))
  const [unread, setUnread] = useState<string | null>(null)
  const keep = useKeepVessel(null)
  useEffect(() => sessionStorage.setItem(KEPT, JSON.stringify(draft)), [draft])
  const { good, problem } = useGoodLook(sheetOf(useSettled(draft, 300), base))
  const refusal = keep.error as Refusal | null
  const save = () => {
    const sheet = sheetOf(draft, base)
    if (!sheet || keep.isPending) return
    keep.mutate(
      { name: draft.name, sheet, notes: draft.notes, version: 1 },
      {
        onSuccess: (kept) => {
          sessionStorage.removeItem(KEPT)
          void navigate(`/vessels/${(kept as VesselOut).id}`)
        },
      },
    )
  }
  const load = async (file: File) => {
    try {
      const sheet = JSON.parse(await file.text()) as Sheet
      if (typeof sheet !== "object" || sheet === null || Array.isArray(sheet)) throw new SyntaxError("no sheet")
      setBase(sheet)
      setDraft(draftOf(file.name.replace(/(-trial-\d+)?\.json$/i, "").replaceAll("-", " "), "", sheet, thinnestWritten(sheet)))
      setUnread(null)
    } catch {
      setUnread(`${file.name} is no sheet: a sheet is a JSON object such as the plan board writes.`)
    }
  }
  const wrong = refusal ? { says: refusal.message, field: refusal.field } : unread ? { says: unread, field: null } : problem
  return (
    <>
      <Head />
      <main className={BODY}>
        <section className={LEFT}>
          <h1 className="text-2xl">{draft.name.trim() || "A vessel to hang up"}</h1>
          {good?.shape ? <DrawnVessel shape={good.shape} habit={habit} /> : <BeforeYouBegin />}
          {good && problem && <p className="text-[14px] text-brass-ink">Drawn as it was before the mistake at the right.</p>}
          <Figures answer={good?.answer ?? null} habit={habit} />
        </section>
        <aside className={ASIDE}>
          <VesselForm draft={draft} change={setDraft} habit={habit} problem={wrong} save={save} saving={keep.isPending} readings={0} load={(file) => void load(file)} />
        </aside>
      </main>
    </>
  )
}

/** What to have at hand, and what will stand here. */
function BeforeYouBegin() {
  const steps = [
    ["The plate", "if it has one: rated pressure, year, how long it may serve."],
    ["A tape", "inside diameter and length from seam to seam, or what its shape asks for."],
    ["A wall gauge", "where water stood. A guessed wall is said to be guessed."],
    ["What it has been through", "dents, rust, welds, years in a barn. Look inside."],
  ]
  return (
    <div className="max-w-xl border-b-[1.5px] border-rule pt-4 pb-8">
      <svg width="420" height="170" viewBox="0 0 420 170" aria-hidden="true" className="mb-5 max-w-full" fill="none" stroke="var(--quiet)" strokeWidth="2">
        <path d="M95 40 H325 A38 50 0 0 1 325 140 H95 A38 50 0 0 1 95 40 Z" strokeDasharray="7 6" />
        <path d="M95 22 v12 M325 22 v12 M95 28 H325 M130 140 L124 166 M290 140 L296 166 M20 166 H400" strokeWidth="1.5" />
        <text x="210" y="95" textAnchor="middle" fontSize="15" fill="var(--quiet)" stroke="none">
          drawn here to scale as you type
        </text>
      </svg>
      <h2 className="mb-2 text-lg">Have at hand</h2>
      <dl className="grid grid-cols-[auto_1fr] gap-x-5 gap-y-1.5">
        {steps.map(([name, what]) => (
          <div key={name} className="contents">
            <dt className="font-semibold">{name}</dt>
            <dd className="text-quiet">{what}</dd>
          </div>
        ))}
      </dl>
      <p className="mt-4 text-quiet">Units as you like: bar or psi, millimetres or inches, 14 1/2 in or 3/8".</p>
    </div>
  )
}

/** A vessel: its drawing to change in place, its wall, its figures, its history. */
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
        <Hung key={`${vessel.data.id} ${vessel.data.version}`} vessel={vessel.data} trials={(trials.data ?? []).filter((trial) => trial.vessel_id === id)} />
      )}
    </>
  )
}

function Hung({ vessel, trials }: { vessel: VesselOut; trials: TrialRow[] }) {
  const navigate = useNavigate()
  const { data: me } = useMe()
  const habit = me?.units ?? "metric"
  const { sheet, change, leave, keep, dirty, saving, refusal } = useEdits(vessel)
  const [target, setTarget] = useState<Target | null>(null)
  const [draft, setDraft] = useState<Draft | null>(null)
  const plan = usePlanTrial()
  const whole = draft ? (sheetOf(draft, sheet) ?? sheet) : sheet
  const { good, problem } = useGoodLook(useSettled(whole, draft ? 300 : 40))
  const shape = good?.shape ?? vessel.shape
  const openForm = () => setDraft(draftOf(vessel.name, vessel.notes, sheet, thinnestWritten(sheet)))
  const save = () => keep({ name: draft?.name ?? vessel.name, notes: draft?.notes ?? vessel.notes, sheet: whole })
  const begin = () => plan.mutate({ vessel: vessel.id }, { onSuccess: (trial) => void navigate(`/trials/${trial.id}/plan`) })
  const add = () => {
    const all = (sheet["fittings"] as { name: string }[] | undefined) ?? []
    let n = all.length + 1
    while (all.some((one) => one.name === `Opening ${n}`)) n++
    const place = shape.form === "drum" || shape.form === "box" ? { on: "top" } : { on: "shell", along: `${Math.round(((shape.length ?? shape.diameter ?? 0.4) * 1000) / 2)} mm` }
    change({ ...sheet, fittings: [...all, { name: `Opening ${n}`, place }] })
    setTarget({ opening: `Opening ${n}` })
  }
  useKeys([
    { key: "p", does: "plan a trial", act: begin, disabled: dirty },
    { key: "c", does: "change what is known", act: openForm, disabled: draft !== null },
    { key: "o", does: "add an opening", act: add, disabled: shape.form === "unknown" },
  ])
  const wrong = refusal ? { says: refusal.message, field: refusal.field } : problem
  return (
    <main className={BODY}>
      <section className={LEFT}>
        <div className="flex flex-wrap items-baseline gap-x-4 gap-y-2">
          <h1 className="text-2xl">{draft?.name.trim() || vessel.name}</h1>
          <span className="text-quiet">{me?.kinds.find((kind) => kind.id === whole["kind"])?.name}</span>
          <span className="ml-auto flex gap-2">
            {shape.form !== "unknown" && (
              <button className="btn btn-outline btn-sm border-[1.5px] bg-ground min-h-9" onClick={add}>
                Add an opening <kbd className="key">O</kbd>
              </button>
            )}
            {!draft && (
              <button className="btn btn-outline btn-sm border-[1.5px] bg-ground min-h-9" onClick={openForm}>
                Change <kbd className="key">C</kbd>
              </button>
            )}
            <button className="btn btn-primary btn-sm min-h-9" onClick={begin} disabled={plan.isPending || dirty} title={dirty ? "Keep or leave what was changed first" : undefined}>
              Plan a trial <kbd className="key">P</kbd>
            </button>
          </span>
        </div>
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
          {target && !draft && <PartPanel sheet={sheet} change={change} target={target} habit={habit} problem={problem} close={() => setTarget(null)} retarget={setTarget} left={rightOf(target, shape)} />}
        </DrawnVessel>
        {good && problem && <p className="text-[14px] text-brass-ink">Drawn as it was before the mistake.</p>}
        {good?.answer && shape.form === "cylinder" && !draft && <WallStrip sheet={sheet} change={change} answer={good.answer} shape={shape} habit={habit} />}
        <Figures answer={good?.answer ?? null} habit={habit} />
        <History trials={trials} habit={habit} />
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
          <Facts vessel={{ ...vessel, sheet: whole, shape }} habit={habit} />
        )}
      </aside>
    </main>
  )
}

/** What the core makes of the vessel, each figure with its lines. */
function Figures({ answer, habit }: { answer: Schema["DeriveAnswer"] | null; habit: Units }) {
  if (!answer) return null
  const low = habitFor(habit, answer.working_pressure)
  const rows: [string, string, string[]][] = [
    ["Volume", show(answer.volume, "volume", habit), ["volume", "height"]],
    ["Full of water it weighs", show(answer.water.full_mass ?? answer.water.mass, "mass", habit), ["water.mass", "water.empty_mass", "water.full_mass"]],
    ["May work at", show(answer.allowable.pressure, "pressure", low), ["allowable"]],
    ["Ceiling of a test", show(answer.ceiling.pressure, "pressure", low), ["ceiling"]],
    ["Stored at the wanted pressure, air", energy(answer.energy.air_at_working), ["energy.air_at_working"]],
    ["Stored at test, full of water", energy(answer.energy.water), ["energy.water", "energy.trapped_air"]],
  ]
  if (answer.energy.steam_at_working != null) rows.push(["Stored, hot at the wanted pressure", energy(answer.energy.steam_at_working), ["energy.steam_at_working"]])
  return (
    <div>
      <dl className="grid grid-cols-2 gap-x-6 gap-y-2 md:grid-cols-3">
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
      <div className="mt-3 space-y-2">
        {answer.stops.map((stop) => (
          <p key={stop.code} className="strip border-vermilion">
            <strong className="text-vermilion">Stop. </strong>
            {stop.says}
          </p>
        ))}
        {answer.cautions.filter((caution) => !OF_THE_DAY.has(caution.code)).map((caution) => (
          <p key={caution.code} className="strip">
            {caution.says}
          </p>
        ))}
      </div>
    </div>
  )
}

/** Is what is open on the right half of the drawing? */
function rightOf(target: Target, shape: Schema["Drawing"]): boolean {
  if ("part" in target) return target.part === "end 2" && shape.position === "lying"
  const opening = shape.openings.find((one) => one.name === target.opening)
  return opening !== undefined && shape.position === "lying" && opening.x > (shape.length ?? shape.diameter ?? 0) / 2
}

/** Cautions about the kit and the day of a test: they stand on the plan board. */
const OF_THE_DAY = new Set(["temperature-unknown", "no-thermometer", "gauge-not-calibrated", "no-strength-proof"])
