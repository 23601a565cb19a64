import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query"
import { tellIn } from "../parts/units"
import { api, asked, type Schema } from "./client"

const told = (me: Schema["Me"]) => (tellIn(me.zone), me)

/** Who is signed in, their habits, and what there is to choose from. */
export function useMe() {
  return useQuery({ queryKey: ["me"], queryFn: async () => told(await asked(api.GET("/api/me"))), staleTime: Infinity })
}

/** Change the unit habit or the name on records; everything on screen follows. */
export function useHabits() {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (body: Schema["Habits"]) => asked(api.PUT("/api/me", { body })),
    onSuccess: (me) => {
      told(me)
      queries.setQueryData(["me"], me)
      void queries.invalidateQueries({ predicate: (query) => query.queryKey[0] !== "me" })
    },
  })
}
