import { useState } from "react"
import { clock, type Habit } from "../parts/units"
import { LeaksPanel } from "./LeaksPanel"
import { PumpedPanel } from "./PumpedPanel"
import type { BenchState, Hands } from "./queries"

const SHOWN = 40

/** What the bench watches for, before the run. */
function Guards({ bench }: { bench: BenchState }) {
  return (
    <section aria-label="Guards" className="border-b-line border-rule pb-3">
      <h2 className="text-lead">What stops you</h2>
      <ul className="mt-1 text-note">
        {bench.answer.guards.map((guard) => (
          <li key={guard.code} className="grid grid-cols-[1fr_auto] gap-3 border-b border-rule py-1.5">
            <span>{guard.watches}</span>
            <span className="text-quiet">{DOES[guard.does]}</span>
          </li>
        ))}
      </ul>
      <p className="mt-2 text-note text-quiet">Frozen with the plan, watched on every reading.</p>
    </section>
  )
}

const DOES = { dump: "dump", stop: "stop, look", vent: "vent again", fire: "fire out" } as const

/** What was pumped and found, and the log: on top what is not yet kept. */
export function Log({ bench, hands, started, habit, cut }: { bench: BenchState; hands: Hands; started: number | null; habit: Habit; cut: boolean }) {
  const [all, setAll] = useState(false)
  const lines = all ? bench.log : bench.log.slice(0, SHOWN)
  const here = hands.items.some((item) => item.refused !== null || item.tried) ? hands.items : []
  const since = (at: string) => (started && Date.parse(at) >= started ? clock((Date.parse(at) - started) / 1000) : "before")
  return (
    <aside className="col-start-2 border-t-line border-rule px-4 py-3 lg:col-start-auto lg:min-h-0 lg:overflow-auto lg:border-t-0 lg:border-l-line">
      {bench.state === "ready" ? <Guards bench={bench} /> : !bench.steam && <PumpedPanel bench={bench} habit={habit} />}
      <LeaksPanel bench={bench} hands={hands} />
      <div className="flex items-baseline justify-between pt-2">
        <h2 className="text-lead">Log</h2>
        <span className={`text-small ${here.length || cut ? "font-semibold text-brass-ink" : "text-quiet"}`} data-testid="kept">
          {here.length ? `${here.length} not yet kept` : cut ? "out of reach" : "all kept ✓"}
        </span>
      </div>
      {here.length > 0 && (
        <ol aria-label="Not yet kept" data-testid="waiting">
          {[...here].reverse().map((item) => (
            <li key={item.id} className="grid grid-cols-[auto_1fr_auto] gap-2.5 border-b border-dashed border-brass py-1.5 text-note">
              <time className="figure font-normal text-quiet">{since(item.at)}</time>
              <span>
                {item.says}
                <span className="block text-small text-brass-ink">
                  {item.refused ?? (item.loose ? "only in this page, not stored yet: leave it open" : "written down here, not yet kept")}
                </span>
              </span>
              {item.refused !== null && (
                <button className="btn btn-ghost btn-xs" onClick={() => void hands.dismiss(item.id)}>
                  Let it go
                </button>
              )}
            </li>
          ))}
        </ol>
      )}
      <ol data-testid="log" className="grid grid-cols-[minmax(52px,auto)_1fr] gap-x-2.5">
        {lines.map((line) => (
          <li
            key={line.id}
            className={`col-span-2 grid grid-cols-subgrid border-b border-rule py-1.5 text-note ${line.kind === "guard" ? "text-vermilion" : ""}`}
          >
            <time className="figure font-normal text-quiet" dateTime={line.at}>
              {since(line.at)}
            </time>
            <span>
              {line.says}
              {line.kind === "photo" && <img src={`/api/photos/${line.id}`} alt={line.says} className="mt-1 max-h-32" loading="lazy" />}
            </span>
          </li>
        ))}
      </ol>
      {bench.log.length > lines.length && (
        <button className="btn btn-ghost btn-sm mt-1" onClick={() => setAll(true)}>
          Show all {bench.log.length}
        </button>
      )}
    </aside>
  )
}
