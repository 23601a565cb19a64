import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query"
import { api, asked, type Schema } from "./client"

export type Suit = Schema["Suit"]

/** The board, judged for a plan as it stands at a version. */
export function useSuited(trial: string, version: number) {
  return useQuery({
    queryKey: ["suited", trial, version],
    queryFn: () => asked(api.GET("/api/trials/{trial_id}/kit", { params: { path: { trial_id: trial } } })),
    placeholderData: (previous) => previous,
  })
}

/** What is said once of the workshop itself. */
export function useWorkshop() {
  return useQuery({ queryKey: ["workshop"], queryFn: () => asked(api.GET("/api/workshop")) })
}

/** Say how high it stands; the plan that is open is worked out anew. */
export function useStands(trial?: string) {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (altitude: string | null) => asked(api.PUT("/api/workshop", { body: { altitude } })),
    onSuccess: (kept) => {
      queries.setQueryData(["workshop"], kept)
      if (trial) void queries.invalidateQueries({ queryKey: ["plan", trial] })
    },
  })
}
