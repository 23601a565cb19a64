import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query"
import { api, asked, type Schema } from "./client"

export type LedgerOut = Schema["LedgerAnswer"]
export type LedgerLine = Schema["LedgerLine"]

/** What a vessel may be used at today: its programme line by line, and what is to be done next. */
export function useLedger(vessel: string) {
  return useQuery({
    queryKey: ["vessels", vessel, "ledger"],
    queryFn: () => asked(api.GET("/api/vessels/{vessel_id}/ledger", { params: { path: { vessel_id: vessel } } })),
  })
}

/** What happened to a vessel and was done with it, the latest first. */
export function useHappened(vessel: string) {
  return useQuery({
    queryKey: ["vessels", vessel, "happened"],
    queryFn: () => asked(api.GET("/api/vessels/{vessel_id}/happened", { params: { path: { vessel_id: vessel } } })),
  })
}

/** Write down that something happened to it: its tag, its due dates and its advice go by that from now on. */
export function useSomethingHappened(vessel: string) {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (body: Schema["HappenedIn"]) => asked(api.POST("/api/vessels/{vessel_id}/happened", { params: { path: { vessel_id: vessel } }, body })),
    onSuccess: () => queries.invalidateQueries(),
  })
}

/** Take back what was written by mistake. */
export function useTakeBack(vessel: string) {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (care: string) =>
      asked(api.POST("/api/vessels/{vessel_id}/happened/{care_id}/withdrawn", { params: { path: { vessel_id: vessel, care_id: care } } })),
    onSuccess: () => queries.invalidateQueries(),
  })
}
