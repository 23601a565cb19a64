import type { Schema } from "../../api/client"
import type { Px } from "./Elevation"

type Leak = Schema["LeakOut"]
/** From where a vessel is looked at. */
export type View = Schema["PinOut"]["view"]

/** The leaks where they were pinned: square where it is of the vessel itself, round elsewhere, ticked where it was mended. */
export function Pins({ leaks, px, view = "front" }: { leaks: Leak[]; px: Px; view?: View }) {
  return leaks.map(
    (leak, i) =>
      leak.pin?.view === view && (
        <Pin key={leak.id} px={px} at={[leak.pin.x, leak.pin.v]} own={leak.owner === "boundary"} mark={leak.mend ? "✓" : String(i + 1)} />
      ),
  )
}

/** A pin at a place of the vessel, m along and across. */
export function Pin({ px, at, own, mark }: { px: Px; at: [number, number]; own: boolean; mark: string }) {
  const [x, y] = [px.x(...at), px.y(...at)]
  const tone = own ? "var(--color-vermilion)" : "var(--color-brass-ink)"
  return (
    <g>
      <line x1={x} y1={y} x2={x} y2={y - 22} stroke={tone} strokeWidth="2" />
      <circle cx={x} cy={y} r="3" fill={tone} />
      {own ? <rect x={x - 9} y={y - 38} width="18" height="18" fill={tone} /> : <circle cx={x} cy={y - 29} r="9.5" fill={tone} />}
      <text x={x} y={y - 24.5} textAnchor="middle" fontSize="12.5" fontWeight="700" fill="var(--color-paper)">
        {mark}
      </text>
    </g>
  )
}
