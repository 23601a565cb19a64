import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query"
import { useCallback, useEffect, useRef, useState } from "react"
import { api, asked, type Refusal, type Schema } from "../api/client"

export type Sought = { vessel: string; kind: string; year: string; tag: string; text: string }

/** The trials that answer to what is remembered of them. What was found before stands until the answer is there. */
export function useLogbook(sought: Sought, page: number) {
  const query = {
    vessel: sought.vessel || null,
    kind: sought.kind,
    year: sought.year ? Number(sought.year) : null,
    tag: sought.tag,
    text: sought.text,
    page,
  }
  return useQuery({
    queryKey: ["logbook", sought, page],
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

/** A new address for calendars. */
export function useRenewCalendar() {
  const queries = useQueryClient()
  return useMutation({ mutationFn: () => asked(api.POST("/api/calendar")), onSuccess: (due) => queries.setQueryData(["due"], due) })
}

export type Job = Schema["JobOut"]
type OnFile = "preview" | "import" | "restore"

/** A long job, done beside: begin one, see how far it is, stop it. `done` is called once with what came of it. */
export function useJob(done: (job: Job) => void) {
  const [job, setJob] = useState<Job | null>(null)
  const [problem, setProblem] = useState<string | null>(null)
  const end = useRef(done)
  useEffect(() => void (end.current = done))
  const running = job?.state === "running"
  const id = job?.id
  const hear = useCallback((found: Job) => {
    setJob(found)
    if (found.state === "done") end.current(found)
    else if (found.state === "failed") setProblem(found.says)
  }, [])
  useEffect(() => {
    if (!running || !id) return
    const timer = setInterval(() => {
      asked(api.GET("/api/jobs/{job_id}", { params: { path: { job_id: id } } })).then(
        (found) => {
          if (found.state !== "running") clearInterval(timer)
          hear(found)
        },
        (refusal: Refusal) => {
          if (refusal.status === 0) return
          clearInterval(timer)
          setJob(null)
          setProblem(refusal.message)
        },
      )
    }, 400)
    return () => clearInterval(timer)
  }, [id, running, hear])
  const begun = (call: Promise<Job>) => {
    setProblem(null)
    setJob(null)
    call.then(hear, (refusal: Error) => setProblem(refusal.message))
  }
  return {
    job,
    running,
    problem,
    begin: (body: Schema["JobIn"]) => begun(asked(api.POST("/api/jobs", { body }))),
    beginOn: (what: OnFile, file: File) => {
      const data = new FormData()
      data.set("what", what)
      data.set("file", file)
      begun(asked(api.POST("/api/jobs/with-file", { body: data as never, bodySerializer: () => data })))
    },
    stop: () => {
      if (id) asked(api.DELETE("/api/jobs/{job_id}", { params: { path: { job_id: id } } })).then(setJob, () => null)
    },
    forget: () => {
      setJob(null)
      setProblem(null)
    },
  }
}

/** The backups that lie here. */
export function useBackups() {
  return useQuery({ queryKey: ["backups"], queryFn: () => asked(api.GET("/api/backups")) })
}
