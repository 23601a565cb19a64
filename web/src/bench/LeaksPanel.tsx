import { useState } from "react"
import { Ask } from "../parts/Dialog"
import type { BenchState, Hands } from "./queries"

/** The leaks that were found, with what was done about each. */
export function LeaksPanel({ bench, hands }: { bench: BenchState; hands: Hands }) {
  const [mending, setMending] = useState<string | null>(null)
  if (bench.leaks.length === 0) return null
  const at = bench.leaks.find((leak) => leak.id === mending)
  return (
    <section aria-label="Leaks" className="border-b-line border-rule py-2">
      <h2 className="text-lead">Leaks</h2>
      <ul>
        {bench.leaks.map((leak, i) => (
          <li key={leak.id} className="flex items-center gap-2 py-0.5 text-note">
            <span className={`figure ${leak.owner === "boundary" ? "text-vermilion" : "text-brass-ink"}`}>{leak.mend ? "✓" : i + 1}</span>
            <span className="min-w-0 flex-1">
              {leak.where}, {leak.shows} <span className="text-quiet">({leak.whose})</span>
              {leak.mend && <span className="block text-quiet">{leak.mend}</span>}
            </span>
            {!leak.mend && bench.state !== "closed" && (
              <button className="btn btn-sm" onClick={() => setMending(leak.id)} aria-label={`What was done about ${leak.where}`}>
                Mended
              </button>
            )}
          </li>
        ))}
      </ul>
      {at && (
        <Ask
          title={`${at.where}: what was done?`}
          label="Tightened by how much, re-sealed with what, replaced"
          keep="Write it down"
          close={() => setMending(null)}
          done={(did) => hands.step("mended", { leak: at.id, did }, `${at.where}: ${did}`)}
        >
          <p className="mb-3 text-quiet">{bench.mending}</p>
        </Ask>
      )}
    </section>
  )
}
