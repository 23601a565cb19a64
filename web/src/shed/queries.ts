import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query"
import { api, asked, type Schema } from "../api/client"

export type VesselOut = Schema["VesselOut"]
export type TrialRow = Schema["TrialRow"]

export type ShelfRow = Schema["ShelfRow"]

/** A page of the shelf; asked again every few seconds while something is on the bench. What did not change is not sent again. */
export function useShed(page: number, text: string) {
  return useQuery({
    queryKey: ["trials", "shed", page, text],
    queryFn: () => asked(api.GET("/api/shed", { params: { query: { page, text } } })),
    placeholderData: (before) => before,
    refetchInterval: (query) => (query.state.data?.running.length ? 3000 : false),
  })
}

export function useVessel(id: string) {
  return useQuery({
    queryKey: ["vessels", id],
    queryFn: () => asked(api.GET("/api/vessels/{vessel_id}", { params: { path: { vessel_id: id } } })),
  })
}

/** The trials of a vessel, the newest first; asked again every few seconds while one is on the bench. */
export function useTrialsOf(vessel: string) {
  return useQuery({
    queryKey: ["trials", vessel],
    queryFn: () => asked(api.GET("/api/trials", { params: { query: { vessel } } })),
    refetchInterval: (query) => (query.state.data?.some(onTheBench) ? 3000 : false),
  })
}

export const onTheBench = (trial: TrialRow) => trial.state === "running" || trial.state === "held"

/** What a sheet would give, while it is being typed. */
export function useLook(sheet: Schema["VesselSheet"] | null) {
  return useQuery({
    queryKey: ["look", sheet],
    enabled: sheet !== null,
    queryFn: () => asked(api.POST("/api/vessels/look", { body: { sheet: sheet! } })),
    placeholderData: (previous) => previous,
    retry: false,
  })
}

export function useKeepVessel(id: string | null) {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (body: Schema["VesselIn"]) =>
      id === null ? asked(api.POST("/api/vessels", { body })) : asked(api.PUT("/api/vessels/{vessel_id}", { params: { path: { vessel_id: id } }, body })),
    onSuccess: () => queries.invalidateQueries(),
  })
}

/** What happened to a vessel and was done with it, the latest first. */
export function useHappened(id: string) {
  return useQuery({
    queryKey: ["vessels", id, "happened"],
    queryFn: () => asked(api.GET("/api/vessels/{vessel_id}/happened", { params: { path: { vessel_id: id } } })),
  })
}

/** Write down that something happened to it: its tag, its due dates and its advice go by that from now on. */
export function useSomethingHappened(id: string) {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (body: Schema["HappenedIn"]) => asked(api.POST("/api/vessels/{vessel_id}/happened", { params: { path: { vessel_id: id } }, body })),
    onSuccess: () => queries.invalidateQueries(),
  })
}

export function usePlanTrial() {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: ({ vessel, copy }: { vessel: string; copy?: string }) =>
      asked(api.POST("/api/vessels/{vessel_id}/trials", { params: { path: { vessel_id: vessel } }, body: copy ? { trial: copy } : null })),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["trials"] }),
  })
}
