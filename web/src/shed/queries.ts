import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query"
import { api, asked, type Schema } from "../api/client"

export type VesselOut = Schema["VesselOut"]
export type ShelfRow = Schema["ShelfRow"]

/** Which vessels of the shelf, and in what order. */
export type Sought = {
  page: number
  text: string
  tag: "" | "fit" | "limited" | "tight" | "not fit" | "not proven" | "retired"
  order: "hung" | "name" | "due"
}

/** A page of the shelf; asked again every few seconds while something is on the bench. What did not change is not sent again. */
export function useShed(sought: Sought) {
  return useQuery({
    queryKey: ["trials", "shed", sought],
    queryFn: () => asked(api.GET("/api/shed", { params: { query: sought } })),
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

/** What a sheet would give. */
export const lookAt = (sheet: Schema["VesselSheet"]) => asked(api.POST("/api/vessels/look", { body: { sheet } }))

/** The same, while it is being typed. */
export function useLook(sheet: Schema["VesselSheet"] | null) {
  return useQuery({
    queryKey: ["look", sheet],
    enabled: sheet !== null,
    queryFn: () => lookAt(sheet!),
    placeholderData: (previous) => previous,
    retry: false,
  })
}

/** Take a vessel off the shelf of which nothing is on record. */
export function useTakeAway(id: string) {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: () => asked(api.DELETE("/api/vessels/{vessel_id}", { params: { path: { vessel_id: id } } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["trials"] }),
  })
}

/** Retire a vessel, or hang it up again; its records stay. */
export function useRetire(id: string) {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (retired: boolean) => asked(api.PUT("/api/vessels/{vessel_id}/hung", { params: { path: { vessel_id: id } }, body: { taken_down: retired } })),
    onSuccess: () => queries.invalidateQueries(),
  })
}

/** A plan that was thrown away, planned again as it was. */
export function usePlanAgain() {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: async ({ vessel, sheet }: { vessel: string; sheet: Schema["VesselSheet"] }) => {
      const plan = await asked(api.POST("/api/vessels/{vessel_id}/trials", { params: { path: { vessel_id: vessel } }, body: null }))
      return asked(api.PUT("/api/trials/{trial_id}/plan", { params: { path: { trial_id: plan.id } }, body: { sheet, version: plan.version } }))
    },
    onSuccess: () => queries.invalidateQueries({ queryKey: ["trials"] }),
  })
}

export function usePlanTrial() {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: ({
      vessel,
      basis,
      low,
      again,
    }: {
      vessel: string
      /** Of the kind of trial that is wanted; the last one's where none is named. */ basis?: string | null
      /** To look for a leak low and slow, with a little air and soap. */ low?: boolean
      /** The next round of the last trial that leaked. */ again?: boolean
    }) =>
      asked(
        api.POST("/api/vessels/{vessel_id}/trials", {
          params: { path: { vessel_id: vessel } },
          body: basis != null || low || again ? { basis: basis ?? null, low: low ?? false, again: again ?? false } : null,
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["trials"] }),
  })
}
