import { useQuery } from "@tanstack/react-query"
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
