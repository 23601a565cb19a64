import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query"
import { useCallback, useMemo } from "react"
import { api, asked, type Schema } from "../api/client"
import { newId } from "../api/ids"
import { windowId, deviceName } from "../api/window"
import { useOutbox, type Item, type Outcome, type Send } from "./outbox"
import { arrived, sendItem, type BenchState } from "./sending"
import { merged, type TraceData } from "./trace"

export type { BenchState }

const path = (id: string) => ({ params: { path: { trial_id: id } } })
const POLL = 700

/** The bench as it stands; asked again while it runs, so that everybody who watches sees the same within a second. */
export function useBench(id: string) {
  const queries = useQueryClient()
  return useQuery({
    queryKey: ["bench", id],
    queryFn: async (): Promise<BenchState> => {
      const had = queries.getQueryData<BenchState>(["bench", id])
      if (!had) return arrived(await asked(api.GET("/api/trials/{trial_id}/bench", path(id))))
      const on = had.state === "running" || had.state === "held"
      const live = on ? api.POST("/api/trials/{trial_id}/look", path(id)) : api.GET("/api/trials/{trial_id}/bench/live", path(id))
      const seen = await asked<Schema["BenchLive"]>(live)
      // What answered a step meanwhile is newer than a look that was asked before it.
      const now = queries.getQueryData<BenchState>(["bench", id])
      return now && now.answered !== had.answered ? now : { ...had, ...seen, received: performance.now() }
    },
    refetchInterval: (query) => {
      const state = query.state.data?.state
      return state === "running" || state === "held" || query.state.error ? POLL : 4000
    },
    refetchIntervalInBackground: true,
    retry: false,
  })
}

/** The readings to draw: fetched whole once, then only what is new. */
export function useTrace(id: string, readings: number): TraceData {
  const queries = useQueryClient()
  const key = ["trace", id]
  const { data } = useQuery({
    queryKey: [...key, readings],
    queryFn: async (): Promise<TraceData> => {
      const had = queries.getQueryData<TraceData>(key)
      const after = had?.cursor || undefined
      const fresh = await asked(api.GET("/api/trials/{trial_id}/trace", { params: { path: { trial_id: id }, query: after ? { after } : {} } }))
      const now = merged(had, fresh)
      queries.setQueryData(key, now)
      return now
    },
    placeholderData: (before) => before ?? queries.getQueryData<TraceData>(key),
    gcTime: 5000,
    retry: false,
  })
  return data ?? NOTHING
}

const NOTHING: TraceData = { cursor: "", series: [] }

export type Hands = ReturnType<typeof useHands>

/** What hands do at the bench. What has to be kept goes through the outbox, with an id of its own: sent again, it is done once. */
export function useHands(id: string, now: () => string) {
  const queries = useQueryClient()
  const keep = useCallback((state: Schema["BenchOut"]) => queries.setQueryData<BenchState>(["bench", id], (before) => arrived(state, before)), [queries, id])
  const send: Send = useCallback((item, late) => sendItem(queries, item, late), [queries])
  const { outbox, items } = useOutbox(id, send)
  const add = useCallback(
    (kind: Item["kind"], says: string, body: Record<string, unknown>, photo?: Blob): Promise<Outcome> =>
      outbox.add({ id: newId(), trial: id, kind, says, at: now(), body, photo, tried: false, hand: windowId(), refused: null }),
    [outbox, id, now],
  )
  const direct = {
    start: useMutation({
      mutationFn: (body: Partial<Schema["StartIn"]> & Pick<Schema["StartIn"], "seen">) =>
        asked(api.POST("/api/trials/{trial_id}/start", { ...path(id), body: { ...START, ...body, hand_name: deviceName() } })),
      onSuccess: keep,
      onError: () => void queries.resetQueries({ queryKey: ["bench", id] }),
    }),
    rig: useMutation({
      mutationFn: (body: Partial<Schema["RigIn"]> & Pick<Schema["RigIn"], "action">) =>
        asked(api.POST("/api/trials/{trial_id}/rig", { ...path(id), body: { strokes: 0, which: 0, part: 0, ...body } })),
      onSuccess: keep,
    }),
    speed: useMutation({
      mutationFn: (speed: number) => asked(api.POST("/api/trials/{trial_id}/speed", { params: { path: { trial_id: id }, query: { speed } } })),
      onSuccess: keep,
    }),
    hold: useMutation({
      mutationFn: (how: Schema["HandIn"]["how"]) => asked(api.POST("/api/trials/{trial_id}/hand", { ...path(id), body: { name: deviceName(), how } })),
      onSuccess: keep,
    }),
    callStop: useMutation({
      mutationFn: (text: string) => asked(api.POST("/api/trials/{trial_id}/stop", { ...path(id), body: { id: newId(), text } })),
      onSuccess: keep,
    }),
  }
  const kept = useMemo(
    () => ({
      /** Take a step of the run. `says` stands in the log until the server's own words do. */
      step: (kind: string, data: Record<string, unknown> = {}, says = kind) => add("step", says, { kind, data }),
      read: (pressure: string, temperature: string | null) => add("reading", `reading ${pressure}`, { pressure, temperature }),
      photo: (picture: Blob, text: string, leak: string | null) => add("photo", text || "photo", { text, leak }, picture),
      dismiss: (item: string) => outbox.remove(item),
    }),
    [add, outbox],
  )
  return { ...direct, ...kept, items, keep, why: outbox.why }
}

const START = {
  source: "dial" as const,
  speed: 1,
  owner: "boundary" as const,
  where: "the lower seam",
  eased: 1,
  seed: 1,
  valve: "good" as const,
  steam: "good" as const,
  hunt: false,
  section: "",
  hand_name: "",
}
