import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query"
import { api, asked, type Schema } from "../api/client"

export type Sought = { vessel: string; kind: string; year: string; tag: string; text: string }

/** The record of a trial that was started. */
export function useRecord(id: string) {
  return useQuery({
    queryKey: ["record", id],
    queryFn: () => asked(api.GET("/api/records/{trial_id}", { params: { path: { trial_id: id } } })),
  })
}

/** The trials that answer to what is remembered of them. What was found before stands until the answer is there. */
export function useLogbook(sought: Sought) {
  const query = {
    vessel: sought.vessel || null,
    kind: sought.kind,
    year: sought.year ? Number(sought.year) : null,
    tag: sought.tag,
    text: sought.text,
  }
  return useQuery({
    queryKey: ["logbook", sought],
    queryFn: () => asked(api.GET("/api/logbook", { params: { query } })),
    placeholderData: (before) => before,
  })
}

/** Two trials of one vessel. */
export function useCompare(one: string, other: string) {
  return useQuery({
    queryKey: ["compare", one, other],
    queryFn: () => asked(api.GET("/api/compare", { params: { query: { one, other } } })),
  })
}

/** What is due on every vessel. */
export function useDue() {
  return useQuery({ queryKey: ["due"], queryFn: () => asked(api.GET("/api/due")) })
}

/** Tick something off that was due. */
export function useCareDone() {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: ({ vessel, ...body }: Schema["CareIn"] & { vessel: string }) =>
      asked(api.POST("/api/vessels/{vessel_id}/cares", { params: { path: { vessel_id: vessel } }, body })),
    onSuccess: (due) => queries.setQueryData(["due"], due),
  })
}

/** A new address for calendars. */
export function useRenewCalendar() {
  const queries = useQueryClient()
  return useMutation({ mutationFn: () => asked(api.POST("/api/calendar")), onSuccess: (due) => queries.setQueryData(["due"], due) })
}

function form(file: File): { body: never; bodySerializer: () => FormData } {
  const data = new FormData()
  data.set("file", file)
  return { body: data as never, bodySerializer: () => data }
}

/** Look what a package holds, or take it in. */
export function usePackage() {
  const queries = useQueryClient()
  return {
    preview: useMutation({ mutationFn: (file: File) => asked(api.POST("/api/package/preview", form(file))) }),
    takeIn: useMutation({ mutationFn: (file: File) => asked(api.POST("/api/package", form(file))), onSuccess: () => queries.invalidateQueries() }),
  }
}

/** The backups that lie here; make one, or go back to one. */
export function useBackups() {
  const queries = useQueryClient()
  const keep = (found: Schema["BackupsOut"]) => queries.setQueryData(["backups"], found)
  return {
    list: useQuery({ queryKey: ["backups"], queryFn: () => asked(api.GET("/api/backups")) }),
    make: useMutation({ mutationFn: () => asked(api.POST("/api/backups")), onSuccess: keep }),
    restore: useMutation({
      mutationFn: (from: string | File) =>
        typeof from === "string"
          ? asked(api.POST("/api/backups/{name}/restore", { params: { path: { name: from } } }))
          : asked(api.POST("/api/restore", form(from))),
    }),
  }
}

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
        asked(api.POST("/api/attachments/{attachment_id}/hang", { params: { path: { attachment_id: id }, query: { taken_down: down } } })),
      onSuccess: () => queries.invalidateQueries({ queryKey: key }),
    }),
  }
}
