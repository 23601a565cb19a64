import { Why } from "../parts/Lines"
import { aim, digits, show, unitOf, type Habit } from "../parts/units"
import { PumpedChart } from "./PumpedChart"
import type { BenchState } from "./queries"

const SIGNS = { straight: "✓", air: "!", yielding: "✕", "too-few": "" } as const
const TONES = { straight: "text-moss", air: "text-brass-ink", yielding: "text-vermilion", "too-few": "text-quiet" } as const

/** What was pumped, against what was expected, and what it tells: air left in, stiffness, yielding. */
export function PumpedPanel({ bench, habit }: { bench: BenchState; habit: Habit }) {
  const expected = bench.answer.pump.strokes
  const { pumped } = bench
  return (
    <section aria-label="Pumped against pressure" className="border-b-line border-rule pb-2.5">
      <div className="flex items-baseline justify-between gap-3">
        <h2 className="text-body whitespace-nowrap">{pumped ? "Pumped against pressure" : "Pumped"}</h2>
        <span className="shrink-0 text-note text-quiet">
          <span className="figure text-ink" data-testid="strokes">
            {bench.strokes}
          </span>{" "}
          {bench.strokes === 1 ? "stroke" : "strokes"}
        </span>
      </div>
      {expected != null && !pumped && (
        <p className="text-note text-quiet">
          About {digits(expected, 2)} expected to {aim(bench.answer.gauge_target, habit)} {unitOf("pressure", habit)}.
        </p>
      )}
      {pumped && (
        <>
          <PumpedChart pumped={pumped} habit={habit} />
          <p className="text-note" data-testid="pumped">
            <span className={TONES[pumped.state]} aria-hidden="true">
              {SIGNS[pumped.state]}{" "}
            </span>
            {pumped.says}
          </p>
          {pumped.settle_it.map((what) => (
            <p key={what} className="text-small text-quiet">
              {what}
            </p>
          ))}
          {pumped.compliance && pumped.expected_compliance != null && (
            <p className="text-small text-quiet">
              Water and wall take <span className="figure text-ink">{show(pumped.compliance.estimate, "compliance", habit)}</span>, expected{" "}
              <span className="figure">{show(pumped.expected_compliance, "compliance", habit)}</span>.
            </p>
          )}
          <Why lines={pumped.lines} figures={["air", "air_limit", "compliance", "expected_compliance", "ratio", "onset"]} />
        </>
      )}
    </section>
  )
}
