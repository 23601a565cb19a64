import { useQuery } from "@tanstack/react-query"
import { api, asked } from "./client"

/** Every leak of a vessel, once, with what was tried on it. */
export function useVesselLeaks(id: string) {
  return useQuery({
    queryKey: ["vessel", id, "leaks"],
    queryFn: () => asked(api.GET("/api/vessels/{vessel_id}/leaks", { params: { path: { vessel_id: id } } })),
  })
}
