import { useEffect, useRef } from "react"
import { Link } from "react-router"
import type { Refusal } from "../api/client"
import { Head } from "./Shell"
import { useTheme } from "./theme"
import { Toad } from "./Toad"

/** A page with one thing to say and the way on. */
export function Notice({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <main className="mx-auto flex max-w-xl flex-1 flex-col justify-center gap-3 p-8">
      <Toad size={64} />
      <h1 className="text-3xl">{title}</h1>
      <div className="space-y-3 text-lead">{children}</div>
    </main>
  )
}

/** A question to the server that was refused; or not answered, and then it is asked again by itself. */
export function Failed({ error, retry }: { error: Error; retry?: () => void }) {
  const status = (error as Refusal).status
  const again = useRef(retry)
  useEffect(() => void (again.current = retry))
  useEffect(() => {
    if (status !== 0) return
    const timer = setInterval(() => again.current?.(), 3_000)
    return () => clearInterval(timer)
  }, [status])
  return (
    <Notice title={status === 404 ? "Nothing hangs here" : status === 0 ? "The server does not answer" : "That did not work"}>
      <p>{error.message}</p>
      <p className="flex gap-3">
        {retry && (
          <button className="btn btn-primary" onClick={retry}>
            Try again
          </button>
        )}
        <Link className="btn" to="/">
          Back to the shed
        </Link>
      </p>
    </Notice>
  )
}

export function NotFound() {
  useTheme("daylight")
  return (
    <>
      <Head />
      <Notice title="Nothing hangs here">
        <p>There is no room under this address. A link may have been cut short when it was copied.</p>
        <Link className="btn btn-primary w-fit" to="/">
          Back to the shed
        </Link>
      </Notice>
    </>
  )
}

/** A room that was not fetched before the server went away. */
export function Away() {
  return (
    <>
      <Head />
      <Notice title="The server does not answer">
        <p>This room was not fetched yet. It opens by itself as soon as the server is back; whatever was done at the bench is kept here until then.</p>
        <button className="btn w-fit" onClick={() => history.back()}>
          Back to where you were
        </button>
      </Notice>
    </>
  )
}

/** What React could not draw: say so, keep what is stored, lead back. */
export function Broken({ error }: { error: unknown }) {
  return (
    <div className="flex h-full flex-col">
      <Notice title="This page fell over">
        <p>What was stored before is kept. Load the page again; if it falls over again, these words help whoever mends it:</p>
        <pre className="overflow-auto border-line border-rule bg-paper p-3 font-mono text-sm">{String(error)}</pre>
        <p className="flex gap-3">
          <button className="btn btn-primary" onClick={() => location.reload()}>
            Load again
          </button>
          <a className="btn" href="/">
            Back to the shed
          </a>
        </p>
      </Notice>
    </div>
  )
}
