import { useQueryClient } from "@tanstack/react-query"
import { useCallback, useEffect, useRef, useState } from "react"
import { api, asked, Refusal, type Schema } from "../api/client"
import type { Plan, Sheet } from "./queries"

/** What a changed sheet gives, before the server has kept it. */
export type Live = { answer: Schema["DeriveAnswer"]; shape: Schema["Drawing"] }

type Kept = { version: number; sheet: Sheet }

const REST = 350
/** Changes nearer to each other than this are one step back, ms. */
const ONE_STEP = 900

/** The plan's sheet as a draft. Every change is worked out at once and kept soon after; saves run one after another, each from
 *  the version before it. What the server refuses, or has not taken yet, stays in the draft and outlives a reload. */
export function useDraft(plan: Plan) {
  const queries = useQueryClient()
  const key = `toadbell-plan-${plan.id}`
  const [begun] = useState(() => unsaved(key, plan))
  const [draft, setDraft] = useState<Sheet>(begun?.sheet ?? plan.sheet)
  const [live, setLive] = useState<Live | null>(null)
  const [problem, setProblem] = useState<Refusal | null>(null)
  const [elsewhere, setElsewhere] = useState(begun !== null && begun.version !== plan.version)
  const [saving, setSaving] = useState(begun !== null && begun.version === plan.version)
  const [past, setPast] = useState<Sheet[]>([])
  const [future, setFuture] = useState<Sheet[]>([])
  const version = useRef(plan.version)
  const wanted = useRef<Sheet | null>(null)
  const toLook = useRef<Sheet | null>(null)
  const busy = useRef({ save: false, look: false })
  const unkept = useRef(false)
  const last = useRef(-Infinity)
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined)

  const save = useCallback(async () => {
    if (busy.current.save || !wanted.current) return
    busy.current.save = true
    while (wanted.current) {
      const sheet = wanted.current
      wanted.current = null
      try {
        const kept = await asked(api.PUT("/api/trials/{trial_id}/plan", { params: { path: { trial_id: plan.id } }, body: { sheet, version: version.current } }))
        version.current = kept.version
        queries.setQueryData(["plan", plan.id], kept)
        if (!wanted.current) {
          unkept.current = false
          sessionStorage.removeItem(key)
          setLive(null)
        }
        setProblem(null)
      } catch (refusal) {
        setProblem(refusal as Refusal)
        if ((refusal as Refusal).status === 412) setElsewhere(true)
      }
    }
    busy.current.save = false
    setSaving(false)
  }, [plan.id, queries, key])

  const look = useCallback(async () => {
    if (busy.current.look) return
    busy.current.look = true
    while (toLook.current) {
      const sheet = toLook.current
      toLook.current = null
      try {
        const found = await asked(api.POST("/api/vessels/look", { body: { sheet } }))
        if (!unkept.current) break // it was kept meanwhile, and the kept plan is what counts
        if (found.answer && found.shape) setLive({ answer: found.answer, shape: found.shape })
        setProblem(found.says ? new Refusal(found.says, found.field ?? null, 422) : null)
      } catch (refusal) {
        setProblem(refusal as Refusal)
      }
    }
    busy.current.look = false
  }, [])

  // Whoever leaves the page before it was kept sends it on the way out; what is in flight then is not waited for.
  useEffect(() => {
    const leaving = () => {
      const sheet = wanted.current
      if (!sheet || busy.current.save) return
      wanted.current = null
      void api
        .PUT("/api/trials/{trial_id}/plan", { params: { path: { trial_id: plan.id } }, body: { sheet, version: version.current }, keepalive: true })
        .catch(() => undefined)
    }
    addEventListener("pagehide", leaving)
    return () => removeEventListener("pagehide", leaving)
  }, [plan.id])

  const put = useCallback(
    (sheet: Sheet) => {
      setDraft(sheet)
      setSaving(true)
      unkept.current = true
      sessionStorage.setItem(key, JSON.stringify({ version: version.current, sheet } satisfies Kept))
      wanted.current = toLook.current = sheet
      void look()
      clearTimeout(timer.current)
      timer.current = setTimeout(() => void save(), REST)
    },
    [key, look, save],
  )

  const change = useCallback(
    (next: Sheet) => {
      const clean = JSON.parse(JSON.stringify(next)) as Sheet
      const now = performance.now()
      if (now - last.current > ONE_STEP) setPast((steps) => [...steps.slice(-99), draft])
      last.current = now
      setFuture([])
      put(clean)
    },
    [draft, put],
  )
  const step = (from: Sheet[], setFrom: (steps: Sheet[]) => void, to: Sheet[], setTo: (steps: Sheet[]) => void) => {
    const sheet = from.at(-1)
    if (!sheet) return
    setFrom(from.slice(0, -1))
    setTo([...to, draft])
    last.current = 0
    put(sheet)
  }
  const undo = () => step(past, setPast, future, setFuture)
  const redo = () => step(future, setFuture, past, setPast)

  useEffect(() => {
    if (!begun || begun.version !== plan.version) return undefined
    wanted.current = toLook.current = begun.sheet
    unkept.current = true
    const soon = setTimeout(() => (void look(), void save()))
    return () => clearTimeout(soon)
  }, []) // eslint-disable-line react-hooks/exhaustive-deps

  /** After a change elsewhere: go on with what was typed here, or with what is kept. */
  const settle = async (mine: boolean) => {
    const kept = await asked(api.GET("/api/trials/{trial_id}/plan", { params: { path: { trial_id: plan.id } } }))
    version.current = kept.version
    setElsewhere(false)
    setProblem(null)
    queries.setQueryData(["plan", plan.id], kept)
    if (mine) return put(draft)
    wanted.current = null
    unkept.current = false
    sessionStorage.removeItem(key)
    setLive(null)
    setSaving(false)
    setDraft(kept.sheet)
  }
  return { draft, change, live, problem, saving, undo: past.length ? undo : null, redo: future.length ? redo : null, elsewhere: elsewhere ? settle : null }
}

export type Drafting = ReturnType<typeof useDraft>

const same = (one: unknown, other: unknown): boolean =>
  one === other ||
  (typeof one === "object" &&
    typeof other === "object" &&
    one !== null &&
    other !== null &&
    Object.keys(one).length === Object.keys(other).length &&
    Object.entries(one).every(([key, value]) => same(value, (other as Record<string, unknown>)[key])))

function unsaved(key: string, plan: Plan): Kept | null {
  if (plan.state !== "planned") return null
  try {
    const kept = JSON.parse(sessionStorage.getItem(key) ?? "null") as Kept | null
    return kept && same(kept.sheet, plan.sheet) ? null : kept // it was kept as the page was left
  } catch {
    return null
  }
}
