import { Elevation } from "../parts/elevation/Elevation"
import { extent } from "../parts/elevation/frame"
import { Pins } from "../parts/elevation/Pins"
import { OtherSides } from "../parts/elevation/Seen"
import { clock } from "../parts/units"
import { useSize } from "../parts/useSize"
import { OpeningsList } from "./OpeningsList"
import type { BenchState, Hands } from "./queries"

/** After the hold: the way down and out, each step with its time, the vessel with its pins, the openings to put back. */
export function AfterPanel({ bench, hands, started }: { bench: BenchState; hands: Hands; started: number }) {
  const [ref, { width, height }] = useSize()
  const done = new Map(bench.log.map((line) => [line.kind, (Date.parse(line.at) - started) / 1000]))
  const next = bench.after.find(({ kind }) => !done.has(kind))?.kind
  const { wide, tall } = extent(bench.shape)
  const scale = Math.max(1, Math.min((width - 70) / wide, (Math.max(180, height) - 130) / tall))
  return (
    <div className="grid min-h-0 flex-1 gap-x-6 px-4 pt-3 pb-2 md:grid-cols-[1.15fr_1fr] lg:overflow-hidden">
      <div ref={ref} className="flex min-h-52 items-end justify-center overflow-hidden">
        {width > 0 && (
          <Elevation
            shape={bench.shape}
            scale={scale}
            water={bench.answer.medium === "water" && !done.has("emptied") && bench.phase !== "dumped"}
            room={20}
            over={(px) => <Pins leaks={bench.leaks} px={px} />}
          />
        )}
        <OtherSides shape={bench.shape} order={bench.answer.openings.map((one) => one.name)} leaks={bench.leaks} fit={[110, 90]} />
      </div>
      <div className="min-h-0 lg:overflow-auto">
        {bench.low_offer && (
          <p className="strip mb-3">
            {bench.low_offer} Let it down, and <kbd className="key">K</kbd>
          </p>
        )}
        {bench.phase !== "dumped" && (
          <ol className="mb-3" aria-label="After the hold">
            {bench.after.map(({ kind, says }) => (
              <li key={kind} className={`grid grid-cols-[24px_1fr_auto] border-b border-rule py-1 text-body ${kind === next ? "font-semibold" : ""}`}>
                <span className={done.has(kind) ? "text-moss" : "text-quiet"} aria-hidden="true">
                  {done.has(kind) ? "✓" : kind === next ? "▸" : "·"}
                </span>
                <span className={done.has(kind) || kind === next ? "" : "text-quiet"}>{says}</span>
                <span className="figure font-normal text-quiet">{done.has(kind) ? clock(done.get(kind)!) : kind === next ? "next" : ""}</span>
              </li>
            ))}
          </ol>
        )}
        {bench.phase === "dumped" && bench.reads ? (
          <p className="strip">Nothing is undone or put back before zero was read.</p>
        ) : (
          <OpeningsList bench={bench} hands={hands} what="undone" />
        )}
      </div>
    </div>
  )
}
