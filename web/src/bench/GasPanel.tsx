import { useState } from "react"
import { useKeys } from "../app/keys"
import { Alert } from "../parts/Alert"
import { Ask } from "../parts/Dialog"
import { digits, inUnit, isMetric, span, unitOf, waterColumn, type Habit } from "../parts/units"
import type { BenchState, Hands } from "./queries"

type Cell = { what: string; name: string; unit: string; figure: (value: number) => string }

/** Gas that is held for hours: its column as the gauge shows it, and what is read beside it, each with when that was. */
export function GasPanel({ bench, hands, habit }: { bench: BenchState; hands: Hands; habit: Habit }) {
  const [asking, setAsking] = useState<Cell | null>(null)
  const [says, setSays] = useState<string | null>(null)
  const seen = new Map(bench.observed.map((one) => [one.what, one]))
  const may = bench.allowed.includes("observed")
  const cells = cellsOf(bench.gas_by_level, habit)
  const next = [...cells].sort((a, b) => Date.parse(seen.get(a.what)?.at ?? "1970") - Date.parse(seen.get(b.what)?.at ?? "1970"))[0]
  const keep = (cell: Cell, body: Record<string, unknown>) => hands.step("observed", { what: cell.what, place: "1", ...body }, cell.name)
  const rig = bench.rig
  const simulated = rig?.barometer != null
  const take = () => {
    const shown: [string, number | null | undefined][] = [
      ["barometer", rig?.barometer],
      ["gas-level", rig?.level],
    ]
    for (const [what, value] of shown) {
      const cell = cells.find((one) => one.what === what)
      if (cell && value != null)
        void keep(cell, { value }).then(
          () => setSays(null),
          (problem: Error) => setSays(problem.message),
        )
    }
  }
  useKeys([
    { key: "y", does: `write down: ${next?.name.toLowerCase() ?? ""}`, act: () => setAsking(next ?? null), disabled: !may },
    { key: "e", does: "read the simulated rig's barometer and level", act: take, disabled: !may || !simulated },
  ])
  const began = Date.parse(bench.started_at ?? "1970")
  return (
    <div className="min-h-0 flex-1 px-4 pt-2 pb-2 lg:overflow-auto" data-digits data-testid="gas">
      <dl className="flex flex-wrap gap-x-8 gap-y-2">
        <div>
          <dt className="text-small text-quiet">Column on the gauge</dt>
          <dd className="figure text-head">{bench.latest ? waterColumn(bench.latest.pressure) : "–"}</dd>
        </div>
        {bench.answer.hold.settle != null && (
          <div>
            <dt className="text-small text-quiet">Settles before the hold</dt>
            <dd className="figure text-head">{span(bench.answer.hold.settle)}</dd>
          </div>
        )}
      </dl>
      <div className="mt-2 flex flex-wrap gap-2">
        {cells.map((cell) => {
          const found = seen.get(cell.what)
          const when = found ? Math.max(0, (Date.parse(found.at) - began) / 1000) : null
          return (
            <button
              key={cell.what}
              className={`btn h-auto min-h-16 min-w-36 flex-col items-start gap-0 border-line px-3 py-1.5 ${cell === next ? "border-primary" : "border-rule"}`}
              disabled={!may}
              aria-label={cell.name}
              onClick={() => setAsking(cell)}
            >
              <span className="text-small font-normal text-quiet">
                {cell.name} {cell === next && <kbd className="key hidden sm:inline-grid">Y</kbd>}
              </span>
              <span className="figure text-lead">{found?.value == null ? "not read" : `${cell.figure(found.value)} ${cell.unit}`}</span>
              <span className="text-fine font-normal text-quiet">{when == null ? "read it at both ends, and between" : `${span(when)} into the run`}</span>
            </button>
          )
        })}
        {simulated && (
          <button className="btn h-auto min-h-16 border-line border-ink" disabled={!may} onClick={take}>
            Read the simulated ones <kbd className="key hidden sm:inline-grid">E</kbd>
          </button>
        )}
      </div>
      {says && <Alert className="mt-2">{says}</Alert>}
      <p className="mt-2 max-w-xl text-small text-quiet">
        The barometer as it stands where you are, not brought to sea level; its going counts, so always the same one. The gas's own temperature goes with each
        reading of the gauge.
      </p>
      {bench.hold?.says && <p className="strip mt-2 text-body">{bench.hold.says}</p>}
      {asking && (
        <Ask
          title={asking.name}
          label={`${asking.unit} where nothing else is said`}
          keep="Write it down"
          close={() => setAsking(null)}
          done={(text) => keep(asking, { text: /[a-z°"″]/i.test(text) ? text : `${text} ${asking.unit}` })}
        />
      )}
    </div>
  )
}

/** What is read beside the gauge: the level only of what keeps its pressure. */
function cellsOf(byLevel: boolean, habit: Habit): Cell[] {
  const warm = unitOf("temperature", habit)
  const long = isMetric(habit) ? "mm" : "in"
  return [
    ...(byLevel ? [{ what: "gas-level", name: "Level", unit: long, figure: (value: number) => digits(inUnit(value, "length", habit), 5) }] : []),
    { what: "barometer", name: "Barometer", unit: "hPa", figure: (value) => digits(value / 100, 5) },
    { what: "outside", name: "Outside", unit: warm, figure: (value) => digits(inUnit(value, "temperature", habit), 3) },
  ]
}
