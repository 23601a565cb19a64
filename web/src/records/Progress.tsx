import type { useJob } from "./queries"

/** How far a long job is, and the key that stops it. */
export function Progress({ running, job, stop }: Pick<ReturnType<typeof useJob>, "running" | "job" | "stop">) {
  if (!job || (!running && job.state !== "stopped")) return null
  if (!running)
    return (
      <p role="status" className="strip mt-2">
        Stopped. Nothing was changed.
      </p>
    )
  return (
    <p role="status" className="mt-2 flex flex-wrap items-center gap-3">
      <progress className="progress progress-primary h-2 w-40" max={1} {...(job.part === null ? {} : { value: job.part })} aria-label="how far it is" />
      <span>
        {job.says}
        {job.part !== null && <span className="figure"> {Math.floor(job.part * 100)} %</span>}
      </span>
      <button className="btn btn-ghost btn-sm min-h-11" onClick={stop}>
        Stop
      </button>
    </p>
  )
}
