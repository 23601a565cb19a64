import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query"
import { useCallback, useRef, useState } from "react"
import { api, asked, type Refusal, type Schema } from "../api/client"

export type Plan = Schema["PlanOut"]
export type Sheet = Record<string, unknown>

const path = (id: string) => ({ params: { path: { trial_id: id } } })

export function usePlan(id: string) {
  return useQuery({ queryKey: ["plan", id], queryFn: () => asked(api.GET("/api/trials/{trial_id}/plan", path(id))) })
}

/** The plan's sheet as a draft that is kept as it is typed: saves run one after another, each from the version before it.
 *  What the server refuses stays in the draft, with its words beside it. */
export function useDraft(plan: Plan) {
  const queries = useQueryClient()
  const [draft, setDraft] = useState<Sheet>(plan.sheet)
  const [problem, setProblem] = useState<Refusal | null>(null)
  const [saving, setSaving] = useState(false)
  const wanted = useRef<Sheet | null>(null)
  const version = useRef(plan.version)
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined)
  const busy = useRef(false)

  const send = useCallback(async () => {
    if (busy.current || !wanted.current) return
    busy.current = true
    setSaving(true)
    while (wanted.current) {
      const sheet = wanted.current
      wanted.current = null
      try {
        const kept = await asked(api.PUT("/api/trials/{trial_id}/plan", { ...path(plan.id), body: { sheet, version: version.current } }))
        version.current = kept.version
        queries.setQueryData(["plan", plan.id], kept)
        setProblem(null)
      } catch (refusal) {
        setProblem(refusal as Refusal)
      }
    }
    busy.current = false
    setSaving(false)
  }, [plan.id, queries])

  const change = useCallback(
    (next: Sheet) => {
      const clean = JSON.parse(JSON.stringify(next)) as Sheet
      setDraft(clean)
      wanted.current = clean
      clearTimeout(timer.current)
      timer.current = setTimeout(() => void send(), 300)
    },
    [send],
  )
  return { draft, change, problem, saving }
}

export function useFreeze(id: string) {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: () => asked(api.POST("/api/trials/{trial_id}/freeze", path(id))),
    onSuccess: (plan) => {
      queries.setQueryData(["plan", id], plan)
      void queries.invalidateQueries({ queryKey: ["trials"] })
    },
  })
}

export function useThaw(id: string) {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: () => asked(api.POST("/api/trials/{trial_id}/thaw", path(id))),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["plan", id] }),
  })
}
