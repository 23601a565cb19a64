import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query"
import { api, asked } from "./client"

/** Pictures and papers of a vessel. */
export function useAttachments(vessel: string) {
  const queries = useQueryClient()
  const key = ["attachments", vessel]
  const path = { params: { path: { vessel_id: vessel } } }
  return {
    list: useQuery({ queryKey: key, queryFn: () => asked(api.GET("/api/vessels/{vessel_id}/attachments", path)) }),
    keep: useMutation({
      mutationFn: ({ id, file, text, opening }: { id: string; file: File; text: string; opening: string }) => {
        const data = new FormData()
        for (const [name, value] of Object.entries({ id, text, opening })) data.set(name, value)
        data.set("file", file)
        return asked(api.POST("/api/vessels/{vessel_id}/attachments", { ...path, body: data as never, bodySerializer: () => data }))
      },
      onSuccess: (found) => queries.setQueryData(key, found),
    }),
    hang: useMutation({
      mutationFn: ({ id, down }: { id: string; down: boolean }) =>
        asked(api.PUT("/api/attachments/{attachment_id}/hung", { params: { path: { attachment_id: id } }, body: { taken_down: down } })),
      onSuccess: () => queries.invalidateQueries({ queryKey: key }),
    }),
  }
}
