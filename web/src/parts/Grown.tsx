import type { Schema } from "../api/client"
import { Checks } from "./Checks"
import { Lines } from "./Lines"

/** What a vessel gave under pressure and what it kept, line by line, with what would settle what is open. */
export function Grown({ told }: { told: Schema["ExpansionAnswer"] }) {
  return (
    <section data-testid="expansion" className="text-small">
      <p className="text-body font-semibold">{told.says}</p>
      <Checks checks={told.checks} />
      {told.settle_it.length > 0 && (
        <p className="text-quiet">
          <b>To settle it:</b> {told.settle_it.join(" Or: ")}
        </p>
      )}
      {told.lines.length > 0 && (
        <details>
          <summary className="w-fit text-small text-water-ink dotted">how this was worked out</summary>
          <div className="mt-2">
            <Lines lines={told.lines} />
          </div>
        </details>
      )}
    </section>
  )
}
