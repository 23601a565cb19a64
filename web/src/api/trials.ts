import { useQuery } from "@tanstack/react-query"
import { api, asked, type Schema } from "./client"

export type TrialRow = Schema["TrialRow"]

/** The trials of a vessel, the newest first; asked again every few seconds while one is on the bench. */
export function useTrialsOf(vessel: string) {
  return useQuery({
    queryKey: ["trials", vessel],
    queryFn: () => asked(api.GET("/api/trials", { params: { query: { vessel } } })),
    refetchInterval: (query) => (query.state.data?.some(onTheBench) ? 3000 : false),
  })
}

export const onTheBench = (trial: TrialRow) => trial.state === "running" || trial.state === "held"

/** The record of a trial that was started. */
export function useRecord(id: string) {
  return useQuery({
    queryKey: ["record", id],
    queryFn: () => asked(api.GET("/api/records/{trial_id}", { params: { path: { trial_id: id } } })),
  })
}
