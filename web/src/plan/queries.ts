import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query"
import { api, asked, type Schema } from "../api/client"

export type Plan = Schema["PlanOut"]
export type Sheet = Schema["VesselSheet"]

const path = (id: string) => ({ params: { path: { trial_id: id } } })

export function usePlan(id: string) {
  return useQuery({ queryKey: ["plan", id], queryFn: () => asked(api.GET("/api/trials/{trial_id}/plan", path(id))) })
}

/** What rigs known tight did by themselves, and how alike this plan is to each as it stands at a version. */
export function useBaselines(id: string, version: number) {
  return useQuery({
    queryKey: ["baselines", id, version],
    queryFn: () => asked(api.GET("/api/trials/{trial_id}/baselines", path(id))),
    placeholderData: (previous) => previous,
  })
}

export function useFreeze(id: string) {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (seen: string) => asked(api.POST("/api/trials/{trial_id}/freeze", { ...path(id), body: { seen } })),
    onSuccess: (plan) => {
      queries.setQueryData(["plan", id], plan)
      void queries.invalidateQueries({ queryKey: ["trials"] })
    },
    onError: () => queries.invalidateQueries({ queryKey: ["plan", id] }),
  })
}

/** Take what was changed of the vessel since into the plan, or leave it. */
export function useFollow(id: string) {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (body: Schema["FollowIn"]) => asked(api.POST("/api/trials/{trial_id}/vessel", { ...path(id), body })),
    onSuccess: (plan) => queries.setQueryData(["plan", id], plan),
    onError: () => queries.invalidateQueries({ queryKey: ["plan", id] }),
  })
}

/** Throw away a plan that was never run. */
export function useThrowAway(id: string) {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: () => asked(api.DELETE("/api/trials/{trial_id}", path(id))),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["trials"] }),
  })
}

export function useThaw(id: string) {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: () => asked(api.POST("/api/trials/{trial_id}/thaw", path(id))),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["plan", id] }),
  })
}
