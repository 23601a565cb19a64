import { useState } from "react"
import { Alert } from "../parts/Alert"
import type { BenchState, Hands } from "./queries"

type OpeningsListProps = { bench: BenchState; hands: Hands; what: "ready" | "undone" }

/** The openings to prepare before the run, or to put back as they were after it; each tick is kept in the log. */
export function OpeningsList({ bench, hands, what }: OpeningsListProps) {
  const [says, setSays] = useState<string | null>(null)
  const { openings } = bench
  if (openings.length === 0) return null
  const left = openings.filter((opening) => !opening[what]).length
  const tick = (name: string, done: boolean) => {
    setSays(null)
    hands.step("opening", { name, what, done }, `${name}: ${done ? "done" : "not done"}`).catch((problem: Error) => setSays(problem.message))
  }
  return (
    <section aria-label={what === "ready" ? "Openings to prepare" : "Openings to put back"}>
      <h3 className="text-xl">{what === "ready" ? "The openings" : "Put back what was changed for the test"}</h3>
      <ul className={`mt-1 grid gap-x-8 ${what === "ready" ? "xl:grid-cols-2" : ""}`}>
        {openings.map((opening, i) => (
          <li key={opening.name} className="border-b border-rule">
            <label className="flex min-h-12 cursor-pointer items-center gap-3 text-plain">
              <input type="checkbox" className="checkbox" checked={opening[what]} onChange={(event) => tick(opening.name, event.target.checked)} />
              <span className="figure w-5">{i + 1}</span>
              {opening.name}
              <span className="ml-auto text-right text-quiet">{what === "ready" ? opening.do : "as it was"}</span>
            </label>
          </li>
        ))}
      </ul>
      <p className="mt-1 text-quiet">{left === 0 ? "All done." : `${left} of ${openings.length} to do.`}</p>
      {says && <Alert>{says}</Alert>}
    </section>
  )
}
