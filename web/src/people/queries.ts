import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query"
import { api, asked, type Schema } from "../api/client"

export type Person = Schema["PersonOut"]
export type Share = Schema["ShareOut"]

/** Everybody of the workshop. */
export function usePeople() {
  return useQuery({ queryKey: ["people"], queryFn: () => asked(api.GET("/api/people")) })
}

/** Take in, describe, give a secret, let go: each answers with everybody. */
export function useHousehold() {
  const queries = useQueryClient()
  const done = (found: Schema["PeopleOut"]) => {
    queries.setQueryData(["people"], found)
    void queries.invalidateQueries({ queryKey: ["me"] })
    void queries.invalidateQueries({ queryKey: ["signed-in"] })
    return found
  }
  const one = (id: string) => ({ params: { path: { person_id: id } } })
  return {
    takeIn: (body: Schema["PersonIn"]) => asked(api.POST("/api/people", { body })).then(done),
    describe: (id: string, body: Schema["PersonIn"]) => asked(api.PUT("/api/people/{person_id}", { ...one(id), body })).then(done),
    secret: (id: string, body: Schema["SecretIn"]) => asked(api.POST("/api/people/{person_id}/secret", { ...one(id), body })).then(done),
    left: (id: string, left: boolean) => asked(api.POST("/api/people/{person_id}/left", { ...one(id), body: { left } })).then(done),
  }
}

/** Who may sign in at this browser, asked before anybody has. */
export function useWho() {
  return useQuery({ queryKey: ["who"], queryFn: () => asked(api.GET("/api/who")), staleTime: 0 })
}

/** Somebody else is at this browser now: everything on screen is theirs from here on. */
export function useSwitch() {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (body: Schema["SwitchIn"]) => asked(api.POST("/api/switch", { body })),
    onSuccess: () => void queries.invalidateQueries(),
  })
}

/** Nobody is at this browser any more. */
export function useSignOut() {
  const queries = useQueryClient()
  return useMutation({ mutationFn: () => asked(api.POST("/api/sign-out")), onSuccess: () => queries.resetQueries() })
}

/** Browsers and phones that are let in. */
export function useSignedIn() {
  const queries = useQueryClient()
  return {
    list: useQuery({ queryKey: ["signed-in"], queryFn: () => asked(api.GET("/api/signed-in")), refetchInterval: 5_000 }),
    end: useMutation({
      mutationFn: (id: string) => asked(api.POST("/api/signed-in/{one_id}/end", { params: { path: { one_id: id } } })),
      onSuccess: (found) => queries.setQueryData(["signed-in"], found),
    }),
  }
}

/** The door to the workshop's own network. */
export function useShare() {
  const queries = useQueryClient()
  const done = (found: Share) => queries.setQueryData(["share"], found)
  return {
    now: useQuery({ queryKey: ["share"], queryFn: () => asked(api.GET("/api/share")), refetchInterval: 5_000 }),
    open: useMutation({ mutationFn: (body: Schema["ShareIn"]) => asked(api.POST("/api/share", { body })), onSuccess: done }),
    close: useMutation({ mutationFn: () => asked(api.DELETE("/api/share")), onSuccess: done }),
  }
}

/** Words for the next phone, and whether it came. */
export function useInvitation() {
  const queries = useQueryClient()
  const made = useMutation({
    mutationFn: (body: Schema["InvitationIn"]) => asked(api.POST("/api/invitations", { body })),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["people"] }),
  })
  const id = made.data?.id
  const answered = useQuery({
    queryKey: ["invitation", id],
    queryFn: () => asked(api.GET("/api/invitations/{invitation_id}", { params: { path: { invitation_id: id! } } })),
    enabled: id !== undefined,
    refetchInterval: (query) => (query.state.data?.used ? false : 1_000),
  })
  return { made, answered: answered.data ?? null }
}
