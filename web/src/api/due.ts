import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query"
import { api, asked, type Schema } from "./client"

/** What is due on every vessel. */
export function useDue() {
  return useQuery({ queryKey: ["due"], queryFn: () => asked(api.GET("/api/due")) })
}

/** Tick something off that was due. */
export function useCareDone() {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: ({ vessel, ...body }: Schema["CareIn"] & { vessel: string }) =>
      asked(api.POST("/api/vessels/{vessel_id}/cares", { params: { path: { vessel_id: vessel } }, body })),
    onSuccess: (due) => queries.setQueryData(["due"], due),
  })
}
