import type { Schema } from "../api/client"
import { digits } from "./units"

type Section = Pick<Schema["CircuitSectionOut"], "name" | "gauged"> & { open?: boolean; note?: string; leaks?: boolean }
type Valve = { name: string; between: readonly string[]; shut?: boolean; wanted?: boolean }
type CircuitProps = { sections: Section[]; valves: Valve[]; width: number; height: number; turn?: (name: string) => void }

/** A leak between what it lies, as it is read on a section. */
export function between({ low, high }: { low?: number | null; high?: number | null }): string | null {
  const rate = (value: number) => digits(value * 3.6e9, 2)
  if (low == null || high == null) return null
  return low > 0 ? `${rate(low)} to ${rate(high)} mL/h` : `under ${rate(high)} mL/h`
}

const ROOM = { x: 84, y: 46 }
/** Half of a section's box, px; narrower on a phone. */
const halfOf = (width: number) => Math.max(50, Math.min(74, (width - 80) / 4))

/** A rig as its valves part it: sections as boxes, the gauge's with a dial, and between them valves by their levers. */
export function CircuitPicture({ sections, valves, width, height, turn }: CircuitProps) {
  const at = places(sections, valves, width, height)
  const half = halfOf(width)
  return (
    <svg width={width} height={height} viewBox={`0 0 ${width} ${height}`} role="group" aria-label="The sections and the valves between them">
      {valves.map((valve) => {
        const [[x1, y1], [x2, y2]] = [at.get(valve.between[0]!)!, at.get(valve.between[1]!)!]
        return <line key={valve.name} x1={x1} y1={y1} x2={x2} y2={y2} stroke="var(--color-ink)" strokeWidth="5" />
      })}
      {sections.map((one) => {
        const [x, y] = at.get(one.name)!
        const tone = one.leaks ? "var(--color-vermilion)" : "var(--color-ink)"
        return (
          <g key={one.name}>
            <rect
              x={x - half}
              y={y - 26}
              width={2 * half}
              height="52"
              rx="14"
              fill={one.open === false ? "var(--color-ground)" : "var(--color-paper)"}
              stroke={one.open === false && !one.leaks ? "var(--color-quiet)" : tone}
              strokeWidth={one.leaks ? 3.5 : 2}
              strokeDasharray={one.open === false ? "5 4" : undefined}
            />
            {one.gauged && <Gauge x={x - half + 18} y={half < 74 ? y - 26 : y} />}
            <text
              x={x + (one.gauged && half >= 74 ? 12 : 0)}
              y={one.note ? y - 4 : y + 5}
              textAnchor="middle"
              fontSize={half < 74 ? 12.5 : 14}
              fontWeight="600"
              fill="var(--color-ink)"
            >
              {cut(one.name, Math.floor(half / (one.gauged && half >= 74 ? 5.6 : 4.1)))}
            </text>
            {one.note && (
              <text
                x={x + (one.gauged && half >= 74 ? 12 : 0)}
                y={y + 15}
                textAnchor="middle"
                fontSize={half < 74 ? 10.5 : 12.5}
                fill={one.leaks ? tone : "var(--color-quiet)"}
              >
                {one.note}
              </text>
            )}
            <title>{one.name}</title>
          </g>
        )
      })}
      {valves.map((valve) => {
        const [[x1, y1], [x2, y2]] = [at.get(valve.between[0]!)!, at.get(valve.between[1]!)!]
        const [x, y] = middle([x1, y1], [x2, y2])
        const along = (Math.atan2(y2 - y1, x2 - x1) * 180) / Math.PI
        return (
          <g
            key={valve.name}
            role={turn ? "button" : undefined}
            tabIndex={turn ? 0 : undefined}
            aria-label={`${valve.name}, between ${valve.between.join(" and ")}: ${valve.shut ? "shut" : "open"}`}
            aria-pressed={turn ? valve.shut === true : undefined}
            className={turn ? "cursor-pointer" : ""}
            onClick={() => turn?.(valve.name)}
            onKeyDown={(event) => {
              if (event.key !== " " && event.key !== "Enter") return
              event.preventDefault()
              event.stopPropagation()
              turn?.(valve.name)
            }}
          >
            <circle cx={x} cy={y} r="22" fill="transparent" />
            <circle cx={x} cy={y} r="14" fill={valve.shut ? "var(--color-ink)" : "var(--color-ground)"} stroke="var(--color-ink)" strokeWidth="2" />
            {valve.wanted && <circle cx={x} cy={y} r="19" fill="none" stroke="var(--color-brass)" strokeWidth="3" />}
            <rect
              x={x - 20}
              y={y - 3.5}
              width="40"
              height="7"
              rx="3.5"
              fill={valve.shut ? "var(--color-vermilion)" : "var(--color-water-ink)"}
              transform={`rotate(${along + (valve.shut ? 90 : 0)} ${x} ${y})`}
            />
            <text
              x={x + 26 * Math.sin((along * Math.PI) / 180)}
              y={y - 26 * Math.cos((along * Math.PI) / 180) + 5}
              textAnchor="middle"
              fontSize="14"
              fontWeight="700"
              fill="var(--color-ink)"
            >
              {cut(valve.name, 8)}
            </text>
          </g>
        )
      })}
    </svg>
  )
}

function Gauge({ x, y }: { x: number; y: number }) {
  return (
    <g stroke="var(--color-ink)" strokeWidth="1.6" fill="var(--color-ground)">
      <circle cx={x} cy={y} r="11" />
      <line x1={x} y1={y} x2={x + 6} y2={y - 6} />
    </g>
  )
}

const cut = (text: string, most: number) => (text.length > most ? `${text.slice(0, most - 1)}…` : text)

/** Where a valve sits on its pipe: at the middle. */
const middle = ([x1, y1]: [number, number], [x2, y2]: [number, number]): [number, number] => [(x1 + x2) / 2, (y1 + y2) / 2]

/** A ring goes round; anything else spreads from the gauge to the right. */
function places(sections: Section[], valves: Valve[], width: number, height: number): Map<string, [number, number]> {
  const found = new Map<string, [number, number]>()
  const ring = ringOf(sections, valves)
  if (ring) {
    const [rx, ry] = [width / 2 - halfOf(width) - 10, height / 2 - ROOM.y]
    const turn = ring.length === 4 ? -3 * (Math.PI / 4) : -Math.PI / 2
    const [sx, sy] = ring.length === 4 ? [Math.SQRT2, Math.SQRT2] : [1, 1]
    ring.forEach((name, i) => {
      const angle = turn + (2 * Math.PI * i) / ring.length
      found.set(name, [width / 2 + rx * sx * Math.cos(angle), height / 2 + ry * sy * Math.sin(angle)])
    })
    return found
  }
  const columns = columnsOf(sections, valves)
  columns.forEach((names, i) =>
    names.forEach((name, j) => {
      const x = columns.length > 1 ? ROOM.x + (i * (width - 2 * ROOM.x)) / (columns.length - 1) : width / 2
      found.set(name, [x, (height * (j + 1)) / (names.length + 1)])
    }),
  )
  return found
}

const beside = (name: string, valves: Valve[]) => valves.filter((v) => v.between.includes(name)).map((v) => v.between.find((one) => one !== name)!)

/** The sections in their order round a ring; null where it is none. */
export function ringOf(sections: Section[], valves: Valve[]): string[] | null {
  if (sections.length < 3 || valves.length !== sections.length || sections.some((one) => new Set(beside(one.name, valves)).size !== 2)) return null
  const order = [(sections.find((one) => one.gauged) ?? sections[0]!).name]
  for (;;) {
    const next = beside(order.at(-1)!, valves).find((name) => !order.includes(name))
    if (!next) return order.length === sections.length ? order : null
    order.push(next)
  }
}

/** The sections by how many valves they are from the gauge. */
export function columnsOf(sections: Section[], valves: Valve[]): string[][] {
  const seen = new Set([(sections.find((one) => one.gauged) ?? sections[0]!).name])
  const columns = [[...seen]]
  for (;;) {
    const next = columns.at(-1)!.flatMap((name) => beside(name, valves).filter((other) => !seen.has(other) && seen.add(other)))
    if (next.length === 0) return columns
    columns.push(next)
  }
}
