import { useState } from "react"
import type { Schema } from "../api/client"
import { Pick, Text } from "../parts/Fields"
import { Why } from "../parts/Lines"
import { QuantityField } from "../parts/QuantityField"
import { day, digits, show, today, unitOf, type Habit } from "../parts/units"
import { useSize } from "../parts/useSize"
import { readingsOf, type Part, type Reading, type Sheet } from "./draft"

const YEAR = 365.25 * 86400
const ROUND = [
  ["180 deg", "bottom, where water stands"],
  ["0 deg", "top"],
  ["90 deg", "side towards you"],
  ["270 deg", "side away"],
] as const

type WallStripProps = { sheet: Sheet; change: (sheet: Sheet) => void; answer: Schema["DeriveAnswer"]; shape: Schema["Drawing"]; habit: Habit }

/** The shell rolled out: what was measured where and when, the thinnest, and how long it will last. */
export function WallStrip({ sheet, change, answer, shape, habit }: WallStripProps) {
  const [adding, setAdding] = useState(false)
  const readings = readingsOf(sheet)
  const wall = answer.wall
  const shell = (sheet["shell"] ?? {}) as Part & { wall_measured?: boolean }
  const write = (next: Reading[]) =>
    change({ ...sheet, shell: { ...(sheet["shell"] as Part), wall_readings: next.length ? next : undefined } as Sheet["shell"] })
  return (
    <section aria-label="Wall readings">
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h2 className="text-lg">Wall</h2>
        <span className="text-note text-quiet">
          {readings.length === 0 && (shell.wall_measured ? "measured; no reading here or there yet" : "not measured yet")}
          {wall && readings.length > 0 && (
            <>
              thinnest <span className="figure text-ink">{show(wall.thinnest, "length", habit, 3)}</span>
              {wall.least != null && (
                <>
                  , least for the wanted pressure <span className="figure text-ink">{show(wall.least, "length", habit, 3)}</span>
                </>
              )}
              {wall.loss != null && wall.loss > 0 && (
                <>
                  , losing <span className="figure text-ink">{show(wall.loss * YEAR, "length", habit, 2)}</span> a year
                </>
              )}
              {wall.left != null && (
                <>
                  : <span className="figure text-ink">{digits(wall.left / YEAR, 2)} years</span> left
                </>
              )}
            </>
          )}
        </span>
        <button className="btn btn-outline btn-sm border-line bg-ground ml-auto min-h-9" onClick={() => setAdding(!adding)} aria-expanded={adding}>
          {adding ? "Enough" : "Add a reading"}
        </button>
      </div>
      {readings.some((reading) => typeof reading !== "string") && <Rolled readings={readings} shape={shape} habit={habit} />}
      {adding && <NewReading add={(reading) => write([...readings, reading])} habit={habit} />}
      {readings.length > 0 && (
        <details className="mt-1">
          <summary className="w-fit text-small text-water-ink dotted">
            {readings.length} {readings.length === 1 ? "reading" : "readings"}
          </summary>
          <ul className="mt-1 columns-2 gap-6 text-small md:columns-3">
            {readings.map((reading, i) => (
              <li key={i} className="flex items-center gap-2 border-b border-rule">
                <span className="figure">{typeof reading === "string" ? reading : reading.wall}</span>
                <span className="text-quiet">
                  {typeof reading === "string"
                    ? ""
                    : `${reading.along ?? ""} ${reading.round?.replace(" deg", "°") ?? ""} ${reading.date ? day(reading.date) : ""}`}
                </span>
                <button
                  className="ml-auto px-1.5 text-vermilion"
                  aria-label={`Strike reading ${i + 1}`}
                  onClick={() => write(readings.filter((_, j) => j !== i))}
                >
                  ×
                </button>
              </li>
            ))}
          </ul>
        </details>
      )}
      <Why lines={answer.lines} figures={["wall.thinnest", "wall.least", "wall.loss", "wall.left"]} />
    </section>
  )
}

/** Along the shell from seam to seam; down the sheet once round, the bottom in the middle. */
function Rolled({ readings, shape, habit }: { readings: Reading[]; shape: Schema["Drawing"]; habit: Habit }) {
  const [ref, { width }] = useSize()
  const [left, right, top, height] = [54, width - 12, 6, 92]
  const length = shape.length ?? shape.diameter ?? 1
  const x = (along: number) => left + ((right - left) * along) / length
  const placed = readings.flatMap((reading) => (typeof reading === "string" || !reading.along ? [] : [reading]))
  const drawn = shape.readings
  const newest = placed
    .map((reading) => reading.date ?? "")
    .sort()
    .at(-1)
  return (
    <div ref={ref} className="my-1">
      {width > 0 && (
        <svg width={width} height={height + 14} role="img" aria-label={`Wall readings: ${placed.map((r) => `${r.wall} at ${r.along}`).join(", ")}`}>
          <rect x={left} y={top} width={right - left} height={height} fill="var(--color-paper)" stroke="var(--color-ink)" strokeWidth="1.5" />
          {[
            ["top", 0],
            ["bottom", 0.5],
            ["top", 1],
          ].map(([name, part]) => (
            <text
              key={`${name}${part}`}
              x={left - 6}
              y={top + Number(part) * height + (part === 0 ? 9 : part === 1 ? -1 : 4)}
              textAnchor="end"
              fontSize="12"
              fill="var(--quiet)"
            >
              {name}
            </text>
          ))}
          <line x1={left} x2={right} y1={top + height / 2} y2={top + height / 2} stroke="var(--water)" strokeDasharray="2 4" />
          <text x={right - 6} y={top + height - 6} textAnchor="end" fontSize="12" fill="var(--quiet)">
            in {unitOf("length", habit)}
          </text>
          {placed.map((reading, i) => {
            const at = drawn[i]
            if (!at) return null
            const degrees = ((Number.parseFloat(reading.round ?? "0") % 360) + 360) % 360
            const cy = Math.max(top + 13, Math.min(top + height - 6, top + (degrees / 360) * height))
            const beside = cy < top + 20
            const old = reading.date !== undefined && reading.date !== newest
            return (
              <g key={i} opacity={old ? 0.5 : 1} fill={at.thinnest ? "var(--vermilion-ink)" : "var(--color-ink)"}>
                <circle cx={x(at.x)} cy={cy} r={at.thinnest ? 5 : 3.5} />
                <text
                  x={x(at.x) + (beside ? 8 : 0)}
                  y={beside ? cy + 4 : cy - 7 + (old ? 22 : 0)}
                  textAnchor={beside ? "start" : "middle"}
                  fontSize="12"
                  className="figure"
                >
                  {show(at.wall, "length", habit, 3).replace(/ .*/, "")}
                </text>
              </g>
            )
          })}
        </svg>
      )}
    </div>
  )
}

function NewReading({ add, habit }: { add: (reading: Reading) => void; habit: Habit }) {
  const [next, setNext] = useState({ wall: "", along: "", round: "180 deg", date: today() })
  const unit = habit === "metric" ? "mm" : "in"
  const enough = next.wall.trim() !== "" && next.along.trim() !== ""
  return (
    <form
      className="my-1 grid grid-cols-2 items-end gap-x-3 border-l-bold border-water pl-3 md:grid-cols-[1fr_1fr_1.5fr_1fr_auto]"
      onSubmit={(event) => {
        event.preventDefault()
        if (!enough) return
        add(next)
        setNext({ ...next, wall: "", along: "" })
      }}
    >
      <QuantityField compact autoFocus label="Wall measured" kind="length" unit={unit} value={next.wall} onChange={(wall) => setNext({ ...next, wall })} />
      <QuantityField compact label="From the first seam" kind="length" unit={unit} value={next.along} onChange={(along) => setNext({ ...next, along })} />
      <Pick compact label="Where round" value={next.round} onChange={(round) => setNext({ ...next, round })} options={ROUND} />
      <Text compact type="date" label="On" value={next.date} onChange={(date) => setNext({ ...next, date })} />
      <button className="btn btn-outline btn-sm border-line bg-ground mb-[17px] h-8" disabled={!enough}>
        Add
      </button>
    </form>
  )
}
