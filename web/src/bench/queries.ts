import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query"
import { api, asked, type Schema } from "../api/client"

export type BenchState = Schema["BenchOut"]

const path = (id: string) => ({ params: { path: { trial_id: id } } })

/** The bench as it stands; asked again every second while it runs. */
export function useBench(id: string) {
  return useQuery({
    queryKey: ["bench", id],
    queryFn: () => asked(api.GET("/api/trials/{trial_id}/bench", path(id))),
    refetchInterval: (query) => {
      const state = query.state.data?.state
      return state === "running" || state === "held" || query.state.error ? 1000 : 5000
    },
    refetchIntervalInBackground: true,
    retry: false,
  })
}

/** What hands do at the bench. Every step carries an id of its own, so that sending it again does it once. */
export function useHands(id: string) {
  const queries = useQueryClient()
  const keep = (state: BenchState) => queries.setQueryData(["bench", id], state)
  const again = () => queries.invalidateQueries({ queryKey: ["bench", id] })
  const retry = (count: number, error: Error) => "status" in error && error.status === 0 && count < 3
  return {
    start: useMutation({
      mutationFn: (body: Schema["StartIn"]) => asked(api.POST("/api/trials/{trial_id}/start", { ...path(id), body })),
      onSuccess: keep,
    }),
    step: useMutation({
      mutationFn: (body: Schema["StepIn"]) => asked(api.POST("/api/trials/{trial_id}/steps", { ...path(id), body })),
      onSuccess: keep,
      retry,
    }),
    read: useMutation({
      mutationFn: (reading: Schema["ReadingIn"]) => asked(api.POST("/api/trials/{trial_id}/readings", { ...path(id), body: [reading] })),
      onSuccess: again,
      retry,
    }),
    rig: useMutation({
      mutationFn: (body: Schema["RigIn"]) => asked(api.POST("/api/trials/{trial_id}/rig", { ...path(id), body })),
      onSuccess: keep,
    }),
    speed: useMutation({
      mutationFn: (speed: number) => asked(api.POST("/api/trials/{trial_id}/speed", { params: { path: { trial_id: id }, query: { speed } } })),
      onSuccess: keep,
    }),
  }
}

/** A new id; in order of time. */
export function newId(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16))
  const now = Date.now()
  for (let i = 0; i < 6; i++) bytes[i] = Math.floor(now / 2 ** (8 * (5 - i))) & 0xff
  bytes[6] = (bytes[6]! & 0x0f) | 0x70
  bytes[8] = (bytes[8]! & 0x3f) | 0x80
  const hex = [...bytes].map((byte) => byte.toString(16).padStart(2, "0")).join("")
  return [hex.slice(0, 8), hex.slice(8, 12), hex.slice(12, 16), hex.slice(16, 20), hex.slice(20)].join("-")
}
