import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query"
import { api, asked, type Schema } from "../api/client"

export type JudgeState = Schema["JudgeOut"]

const path = (id: string) => ({ params: { path: { trial_id: id } } })

export function useJudge(id: string) {
  return useQuery({ queryKey: ["judge", id], queryFn: () => asked(api.GET("/api/trials/{trial_id}/judge", path(id))) })
}

function useKeep(id: string) {
  const queries = useQueryClient()
  return (state: JudgeState) => {
    queries.setQueryData(["judge", id], state)
    void queries.invalidateQueries({ queryKey: ["trials"] })
    void queries.invalidateQueries({ queryKey: ["bench", id] })
    void queries.invalidateQueries({ queryKey: ["record", id] })
  }
}

export function useJudgeIt(id: string) {
  return useMutation({
    mutationFn: (body: Schema["JudgeIn"]) => asked(api.POST("/api/trials/{trial_id}/judge", { ...path(id), body })),
    onSuccess: useKeep(id),
  })
}

export function useDecide(id: string) {
  return useMutation({
    mutationFn: (body: Schema["DecisionIn"]) => asked(api.POST("/api/trials/{trial_id}/decision", { ...path(id), body })),
    onSuccess: useKeep(id),
  })
}
