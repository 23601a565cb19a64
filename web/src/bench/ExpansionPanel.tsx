import { useState } from "react"
import { useKeys } from "../app/keys"
import { Alert } from "../parts/Alert"
import { Ask } from "../parts/Dialog"
import { Checks } from "../parts/Checks"
import { digits, inUnit, show, unitOf, type Habit } from "../parts/units"
import type { BenchState, Hands } from "./queries"

type Cell = { what: string; place: string; name: string; kind: "small" | "length" }
type Row = { name: string; cells: (Cell | null)[] }
const WHEN = ["before", "at", "after"] as const
const COLUMNS = ["Before", "At the test", "After"]
const PRESSED = new Set(["at test", "holding", "held"])
const OVER = new Set(["released", "vented", "emptied", "dried"])

/** What goes in and comes back, a jacket's burette or level, girths by tape: typed where it belongs, and what it shows so far. */
export function ExpansionPanel({ bench, hands, habit }: { bench: BenchState; hands: Hands; habit: Habit }) {
  const seen = new Map(bench.observed.map((one) => [`${one.what} ${one.place}`, one]))
  const [asking, setAsking] = useState<Cell | null>(null)
  const [says, setSays] = useState<string | null>(null)
  const told = bench.expansion
  const may = bench.allowed.includes("measured")
  const rows = rowsOf(bench)
  const due = PRESSED.has(bench.phase) ? 1 : OVER.has(bench.phase) ? 2 : bench.phase === "filling" ? 0 : -1
  const next = rows.map((row) => row.cells[due]).find((cell) => cell && !seen.has(key(cell))) ?? null
  const keep = (cell: Cell, body: Record<string, unknown>) => hands.step("measured", { what: cell.what, place: cell.place, ...body }, cell.name)
  const typed = async (cell: Cell, text: string) => {
    await keep(cell, { text: /[a-z"'″′]/i.test(text) ? text : `${text} ${unitOf(cell.kind, habit)}` })
  }
  const rig = bench.rig
  const simulated = rig?.came_back != null && rig.went_in != null && !seen.has("water-back 1")
  const take = () =>
    [
      [WATER_IN, rig?.went_in],
      [WATER_BACK, rig?.came_back],
    ].forEach(([cell, value]) => {
      void keep(cell as Cell, { value }).then(
        () => setSays(null),
        (problem: Error) => setSays(problem.message),
      )
    })
  useKeys([
    { key: "y", does: "write down what is measured next", act: () => setAsking(next), disabled: !may || !next },
    { key: "e", does: "read the simulated rig's measure", act: take, disabled: !may || !simulated },
  ])
  const judged = told?.judged
  return (
    <div className="min-h-0 flex-1 px-4 pt-2 pb-2 lg:overflow-auto" data-testid="expansion">
      <div className="flex flex-wrap items-start gap-x-6 gap-y-2">
        <table className="text-body">
          <thead>
            <tr className="text-left text-small text-quiet">
              <th />
              {COLUMNS.map((name) => (
                <th key={name} className="pr-2 font-normal">
                  {name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <tr key={row.name}>
                <th className="pr-2 text-left text-small font-normal sm:pr-3 sm:text-body">
                  {row.name}, {unitOf(row.cells.find((cell) => cell)!.kind, habit)}
                </th>
                {row.cells.map((cell, n) => (
                  <td key={n} className="py-1 pr-2">
                    {cell && (
                      <button
                        className={`btn h-11 w-16 border-line px-0 sm:w-24 ${next && key(next) === key(cell) ? "border-primary" : "border-rule"}`}
                        disabled={!may}
                        aria-label={cell.name}
                        onClick={() => setAsking(cell)}
                      >
                        <span className="figure">{shown(seen.get(key(cell))?.value, cell.kind, habit)}</span>
                      </button>
                    )}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
        <div className="grid max-w-64 gap-2 text-small text-quiet">
          {told?.counted != null && !seen.has("water-in 1") && (
            <p data-testid="counted">
              {told.strokes} strokes moved {show(told.counted, "small", habit, 4)}: that is taken for what went in, where nothing was measured.
            </p>
          )}
          <button className="btn btn-primary h-12" disabled={!may || !next} onClick={() => setAsking(next)}>
            {next ? next.name : due < 0 ? "At the test next" : "All is written down"} <kbd className="key hidden sm:inline-grid">Y</kbd>
          </button>
          {simulated && (
            <button className="btn h-12 border-line border-ink" disabled={!may} onClick={take}>
              Read the simulated measure <kbd className="key hidden sm:inline-grid">E</kbd>
            </button>
          )}
        </div>
      </div>
      {says && <Alert className="mt-2">{says}</Alert>}
      {judged && <p className="strip mt-2 text-body">{judged.says}</p>}
      {judged && <Checks checks={judged.checks} />}
      {judged && judged.settle_it.length > 0 && <p className="mt-1 text-small text-quiet">{judged.settle_it.join(" Or: ")}</p>}
      {asking && (
        <Ask
          title={asking.name}
          label={`${unitOf(asking.kind, habit)} where nothing else is said`}
          keep="Write it down"
          close={() => setAsking(null)}
          done={(text) => typed(asking, text)}
        />
      )}
    </div>
  )
}

const WATER_IN: Cell = { what: "water-in", place: "1", name: "Water that went in", kind: "small" }
const WATER_BACK: Cell = { what: "water-back", place: "1", name: "Water that came back", kind: "small" }

const key = (cell: Cell) => `${cell.what} ${cell.place}`

function shown(value: number | null | undefined, kind: Cell["kind"], habit: Habit): string {
  return value == null ? "–" : digits(inUnit(value, kind, habit), 5)
}

/** What is measured of this vessel: water always, a jacket where there is one, the tape's places. */
function rowsOf(bench: BenchState): Row[] {
  const jacket = bench.expansion?.jacket
  const three = (what: string, places: string[], name: string, kind: Cell["kind"]) =>
    WHEN.map((_, n): Cell => ({ what, place: places[n]!, name: `${name}, ${COLUMNS[n]!.toLowerCase()}`, kind }))
  const marks = bench.expansion?.marks ?? []
  return [
    { name: "Water", cells: [null, WATER_IN, WATER_BACK] },
    ...(jacket
      ? [
          {
            name: jacket === "level" ? "Jacket's level" : "Jacket's burette",
            cells: three(jacket, [...WHEN], jacket === "level" ? "The jacket's level" : "The jacket's burette", jacket === "level" ? "length" : "small"),
          },
        ]
      : []),
    ...marks.map((name, n) => ({
      name: `Girth, ${name}`,
      cells: three(
        "girth",
        WHEN.map((when) => `${n + 1} ${when}`),
        `Girth at ${name}`,
        "length",
      ),
    })),
  ]
}
