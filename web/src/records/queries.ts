import { useQuery } from "@tanstack/react-query"
import { api, asked } from "../api/client"

/** The record of a trial that was started. */
export function useRecord(id: string) {
  return useQuery({
    queryKey: ["record", id],
    queryFn: () => asked(api.GET("/api/records/{trial_id}", { params: { path: { trial_id: id } } })),
  })
}
