import { useState } from "react"
import { useKeys } from "../app/keys"
import { Alert } from "../parts/Alert"
import { between, CircuitPicture } from "../parts/CircuitPicture"
import { clock, type Habit } from "../parts/units"
import { useSize } from "../parts/useSize"
import type { BenchState, Hands } from "./queries"

type Circuit = NonNullable<BenchState["circuit"]>

/** Sections shut off one after another: which are open now, what each hold told, and which to shut next. */
export function SectionsPanel({ bench, hands }: { bench: BenchState; hands: Hands; habit: Habit }) {
  const circuit = bench.circuit!
  const now = circuit.valves.filter((one) => one.shut).map((one) => one.name)
  const [turned, setTurned] = useState<string[] | null>(null)
  const [says, setSays] = useState<string | null>(null)
  const [ref, { width, height }] = useSize()
  const may = bench.hand.mine && bench.allowed.includes("valves")
  const shut = turned ?? now
  const next = circuit.next_shut ?? null
  const wanted = turned ?? next
  const set = (names: string[]) => {
    setSays(null)
    hands.step("valves", { shut: names }, names.length ? `shut: ${names.join(", ")}` : "all valves open").then(
      () => setTurned(null),
      (problem: Error) => setSays(problem.message),
    )
  }
  const turn = (name: string) => setTurned(shut.includes(name) ? shut.filter((one) => one !== name) : [...shut, name])
  useKeys([
    { key: "y", does: "set the valves, and hold", act: () => set(wanted ?? []), disabled: !may },
    ...circuit.valves.slice(0, 9).map((one, n) => ({ key: String(n + 1), does: `turn ${one.name}`, act: () => turn(one.name), disabled: !may })),
  ])
  const pictured = circuit.sections.map((one) => ({ ...one, note: between(one) ?? undefined, leaks: (one.low ?? 0) > 0 }))
  const valves = circuit.valves.map((one) => ({ ...one, shut: shut.includes(one.name), wanted: !turned && next?.includes(one.name) && !one.shut }))
  return (
    <div className="grid min-h-0 flex-1 gap-x-5 px-4 pt-2 pb-2 md:grid-cols-[1.2fr_1fr] lg:overflow-hidden" data-digits data-testid="sections">
      <div ref={ref} className="flex min-h-64 items-center justify-center overflow-hidden">
        {width > 0 && (
          <CircuitPicture
            sections={pictured}
            valves={valves}
            width={Math.max(300, width)}
            height={Math.max(240, Math.min(height, 380))}
            turn={may ? turn : undefined}
          />
        )}
      </div>
      <div className="min-h-0 lg:overflow-auto">
        {circuit.says && <p className={`text-lead ${circuit.sections.some((one) => (one.low ?? 0) > 0) ? "text-vermilion" : ""}`}>{circuit.says}</p>}
        <p className="mb-2 text-note text-quiet">
          {circuit.sections.filter((one) => one.open).length} of {circuit.sections.length} sections open to the gauge. Two or three readings over some minutes,
          then the next.
        </p>
        <button
          className="btn btn-primary h-auto min-h-12 w-full py-1 text-lead"
          disabled={!may || (!turned && next === null)}
          onClick={() => set(wanted ?? [])}
        >
          {label(wanted, turned)} <kbd className="key">Y</kbd>
        </button>
        {now.length > 0 && (
          <button className="btn mt-2 h-11 w-full border-line border-ink" disabled={!may} onClick={() => set([])}>
            Open them all
          </button>
        )}
        {!may && <p className="mt-1 text-note text-quiet">Valves between sections are set while there is pressure, and left alone while the hold runs.</p>}
        {says && <Alert className="mt-2">{says}</Alert>}
        <HoldsList holds={circuit.holds} />
      </div>
    </div>
  )
}

function label(wanted: string[] | null, turned: string[] | null): string {
  if (wanted === null) return "Every section was held"
  if (wanted.length === 0) return "Hold them all together"
  return `${turned ? "Set" : "Next:"} ${wanted.join(" and ")} shut, and hold`
}

function HoldsList({ holds }: { holds: Circuit["holds"] }) {
  if (holds.length === 0) return null
  return (
    <ol aria-label="Holds of sections" className="mt-2">
      {holds.map((one) => (
        <li key={one.began} className="border-b border-rule py-1 text-note">
          <span className="font-semibold">{one.open.join(", ")}</span>{" "}
          <span className="text-quiet">
            {one.ended ? clock((Date.parse(one.ended) - Date.parse(one.began)) / 1000) : "held now"}
            {one.shut.length > 0 && `, ${one.shut.join(" and ")} shut`}
          </span>
          <span className="block">{between(one) ?? <span className="text-quiet">{one.why_not ?? "being weighed"}</span>}</span>
        </li>
      ))}
    </ol>
  )
}
