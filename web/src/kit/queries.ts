import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query"
import { api, asked, type Schema } from "../api/client"

export type KitOut = Schema["KitOut"]

export function useKit() {
  return useQuery({ queryKey: ["kit"], queryFn: () => asked(api.GET("/api/kit")) })
}

export function useKeepKit(id: string | null) {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (body: Schema["KitIn"]) =>
      id === null ? asked(api.POST("/api/kit", { body })) : asked(api.PUT("/api/kit/{kit_id}", { params: { path: { kit_id: id } }, body })),
    onSuccess: () => void queries.invalidateQueries({ queryKey: ["kit"] }),
  })
}

/** The trials that a relief valve was lifted in. */
export function useTried(id: string) {
  return useQuery({ queryKey: ["kit", id, "tried"], queryFn: () => asked(api.GET("/api/kit/{kit_id}/tried", { params: { path: { kit_id: id } } })) })
}

/** What articles of a design bore. */
export function useProved(id: string) {
  return useQuery({ queryKey: ["kit", id, "proved"], queryFn: () => asked(api.GET("/api/kit/{kit_id}/proved", { params: { path: { kit_id: id } } })) })
}

export function useHang() {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: ({ id, down }: { id: string; down: boolean }) =>
      asked(api.PUT("/api/kit/{kit_id}/hung", { params: { path: { kit_id: id } }, body: { taken_down: down } })),
    onSuccess: () => void queries.invalidateQueries({ queryKey: ["kit"] }),
  })
}
