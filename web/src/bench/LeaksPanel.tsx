import { useState } from "react"
import { MendDialog } from "./MendDialog"
import { digits } from "../parts/units"
import type { BenchState, Hands } from "./queries"

const rate = (value: number) => digits(value * 3.6e9, 2)

/** The leaks that were found, with what was done about each. */
export function LeaksPanel({ bench, hands }: { bench: BenchState; hands: Hands }) {
  const [mending, setMending] = useState<string | null>(null)
  const look = bench.look_next ?? []
  if (bench.leaks.length === 0 && look.length > 0)
    return (
      <section aria-label="Where to look next" className="border-b-line border-rule py-2">
        <h2 className="text-lead">{bench.hold?.verdict === "leaking" ? "It leaks. Look first at" : "Look first at"}</h2>
        <ol className="text-note">
          {look.map((one, i) => (
            <li key={one.name} className="grid grid-cols-[20px_1fr] py-0.5">
              <span className="figure text-brass-ink">{i + 1}</span>
              <span>
                {one.name} <span className="text-quiet">{one.why}</span>
              </span>
            </li>
          ))}
        </ol>
      </section>
    )
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
              {leak.rate && (
                <span className="block text-quiet">
                  counted: {rate(leak.rate.rate)}, {rate(leak.rate.low)} to {rate(leak.rate.high)} mL/h
                </span>
              )}
              {leak.mend && <span className="block text-quiet">{leak.mend}</span>}
            </span>
            {bench.state !== "closed" && (
              <button className="btn btn-sm" onClick={() => setMending(leak.id)} aria-label={`What was done about ${leak.where}`}>
                {leak.mend ? "Again" : "Mended"}
              </button>
            )}
          </li>
        ))}
      </ul>
      {at && <MendDialog bench={bench} leak={at} hands={hands} close={() => setMending(null)} />}
    </section>
  )
}
