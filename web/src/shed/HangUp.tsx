import { useEffect, useState } from "react"
import { useNavigate } from "react-router"
import type { Refusal } from "../api/client"
import { useMe } from "../api/me"
import { useKeepVessel } from "../api/vessels"
import { Head } from "../app/Shell"
import { useTheme } from "../app/theme"
import { draftOf, EMPTY, sheetOf, thinnestWritten, USUAL, type Draft, type Sheet } from "./draft"
import { DrawnVessel } from "./DrawnVessel"
import { Figures } from "./Figures"
import { useGoodLook, useSettled } from "./looking"
import { ASIDE, BODY, LEFT } from "./page"
import { lookAt, type VesselOut } from "./queries"
import { VesselForm } from "./VesselForm"

const KEPT = "toadbell-new-vessel"

/** Hang up a vessel: the form, and the vessel drawn from it as it is typed. */
export function HangUp() {
  useTheme("daylight")
  const navigate = useNavigate()
  const { data: me } = useMe()
  const habit = me?.units ?? "metric"
  const [base, setBase] = useState<Partial<Sheet>>({})
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
      { name: draft.name, sheet, notes: draft.notes, version: 1, happened_text: "" },
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
      const looked = await lookAt(sheet).catch(() => null)
      setBase(sheet)
      setDraft(draftOf(file.name.replace(/(-trial-\d+)?\.json$/i, "").replaceAll("-", " "), "", sheet, thinnestWritten(sheet, looked?.answer)))
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
          {good && problem && <p className="text-note text-brass-ink">Drawn as it was before the mistake at the right.</p>}
          <Figures answer={good?.answer ?? null} habit={habit} />
        </section>
        <aside className={`order-first lg:order-none ${ASIDE}`}>
          <VesselForm
            draft={draft}
            change={setDraft}
            habit={habit}
            problem={wrong}
            save={save}
            saving={keep.isPending}
            readings={0}
            load={(file) => void load(file)}
          />
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
    <div className="max-w-xl border-b-line border-rule pt-4 pb-8">
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
