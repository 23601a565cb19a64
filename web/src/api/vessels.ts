import { useMutation, useQueryClient } from "@tanstack/react-query"
import { api, asked, type Schema } from "./client"

/** Hang a vessel up, or keep what was changed of one. */
export function useKeepVessel(id: string | null) {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (body: Schema["VesselIn"]) =>
      id === null ? asked(api.POST("/api/vessels", { body })) : asked(api.PUT("/api/vessels/{vessel_id}", { params: { path: { vessel_id: id } }, body })),
    onSuccess: () => queries.invalidateQueries(),
  })
}
