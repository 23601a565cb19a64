import { CircuitPicture, ringOf } from "../parts/CircuitPicture"
import { at } from "../parts/path"
import { QuantityField } from "../parts/QuantityField"
import { Text } from "../parts/Fields"
import type { FieldsProps } from "./Bases"
import type { Sheet } from "./queries"

type Piece = { name: string; volume?: string }
type Valve = { name: string; between: [string, string] }
type Circuit = { sections: Piece[]; valves: Valve[] }

const LETTERS = "ABCDEFGHIJKL"

/** Sections in a row, a valve between each two; in a ring the last leads back to the first. */
export function circuitOf(sections: Piece[], ring: boolean): Circuit {
  const pairs = sections.slice(1).map((one, i): [string, string] => [sections[i]!.name, one.name])
  if (ring && sections.length > 2) pairs.push([sections.at(-1)!.name, sections[0]!.name])
  return { sections, valves: pairs.map((between, i) => ({ name: LETTERS[i]!, between })) }
}

/** Valves that part the rig into sections, so that the one that leaks can be found by shutting one after another. */
export function Sections({ draft, change, disabled, problem }: FieldsProps) {
  const circuit = at(draft, "circuit") as Circuit | undefined
  const put = (made: Circuit | undefined) => change({ ...draft, circuit: made } as Sheet)
  if (!circuit)
    return (
      <p className="mt-2 text-small">
        <button
          className="btn btn-outline btn-sm border-line min-h-9 bg-ground"
          disabled={disabled}
          onClick={() => put(circuitOf([{ name: "the vessel" }, { name: "the hose" }], false))}
        >
          Valves part it into sections
        </button>{" "}
        <span className="text-quiet">then a leak is found by shutting one after another</span>
      </p>
    )
  const pictured = circuit.sections.map((one, i) => ({ ...one, gauged: i === 0 }))
  const ring = ringOf(pictured, circuit.valves) !== null
  const edit = (sections: Piece[], round = ring) => put(circuitOf(sections, round))
  const set = (i: number, piece: Piece) => edit(circuit.sections.map((one, j) => (i === j ? piece : one)))
  const says = problem?.field?.startsWith("circuit") ? problem.message : null
  return (
    <fieldset className="mt-3 min-w-0 border-t border-rule pt-2" disabled={disabled}>
      <legend className="sr-only">Sections and the valves between them</legend>
      <p className="text-small text-quiet">
        Sections, from the one that the gauge sits on, with a valve between each two. Their volumes tell each one's leak; without them only which one leaks is
        seen on the gauge.
      </p>
      {circuit.sections.map((one, i) => (
        <div key={i} className="grid grid-cols-[1fr_110px_auto] items-start gap-x-2">
          <Text label={i === 0 ? "Section with the gauge" : `Section ${i + 1}`} value={one.name} onChange={(name) => set(i, { ...one, name })} compact />
          <QuantityField
            label="holds"
            kind="volume"
            unit="L"
            value={one.volume ?? ""}
            onChange={(volume) => set(i, { name: one.name, ...(volume ? { volume } : {}) })}
            compact
          />
          <button
            type="button"
            className="btn btn-ghost btn-sm mt-5 min-h-8"
            aria-label={`Take ${one.name || "this section"} away`}
            onClick={() => (circuit.sections.length > 2 ? edit(circuit.sections.filter((_, j) => i !== j)) : put(undefined))}
          >
            ×
          </button>
        </div>
      ))}
      {says && <p className="text-small text-vermilion">{says}</p>}
      <div className="flex flex-wrap items-center gap-3 text-small">
        <button
          type="button"
          className="btn btn-outline btn-sm border-line min-h-9 bg-ground"
          disabled={circuit.sections.length >= LETTERS.length}
          onClick={() => edit([...circuit.sections, { name: `section ${circuit.sections.length + 1}` }])}
        >
          One more section
        </button>
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            className="checkbox checkbox-sm"
            checked={ring}
            disabled={circuit.sections.length < 3}
            onChange={(event) => edit(circuit.sections, event.target.checked)}
          />
          the last leads back to the first
        </label>
      </div>
      <div className="mt-2 overflow-x-auto">
        <CircuitPicture
          sections={pictured}
          valves={circuit.valves}
          width={ring ? 420 : Math.max(330, circuit.sections.length * 210)}
          height={ring ? 230 : 90}
        />
      </div>
    </fieldset>
  )
}
