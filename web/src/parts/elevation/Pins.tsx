import type { Schema } from "../../api/client"
import type { Px } from "./Elevation"

type Leak = Schema["LeakOut"]
/** From where a vessel is looked at. */
export type View = Schema["PinOut"]["view"]

/** The leaks where they were pinned: square where it is of the vessel itself, round elsewhere, ticked where it was mended. */
export function Pins({
  leaks,
  px,
  view = "front",
  beside = [],
}: {
  leaks: Leak[]
  px: Px
  view?: View
  /** Where the numbers of openings stand, px. */ beside?: [number, number][]
}) {
  return leaks.map(
    (leak, i) =>
      leak.pin?.view === view && (
        <Pin key={leak.id} px={px} at={[leak.pin.x, leak.pin.v]} own={leak.owner === "boundary"} mark={leak.mend ? "✓" : String(i + 1)} beside={beside} />
      ),
  )
}

/** A pin at a place of the vessel, m along and across. */
export function Pin({ px, at, own, mark, beside = [] }: { px: Px; at: [number, number]; own: boolean; mark: string; beside?: [number, number][] }) {
  const [x, y] = [px.x(...at), px.y(...at)]
  const tone = own ? "var(--color-vermilion)" : "var(--color-brass-ink)"
  const heads = [-90, -60, -120, -30, -150, 0, 180, 90].flatMap((degrees) =>
    [29, 46].map((far): [number, number] => [x + far * Math.cos((degrees * Math.PI) / 180), y + far * Math.sin((degrees * Math.PI) / 180)]),
  )
  const [hx, hy] = heads.find(([a, b]) => beside.every(([c, d]) => Math.hypot(a - c, b - d) > 21)) ?? heads[0]!
  return (
    <g>
      <line x1={x} y1={y} x2={hx} y2={hy} stroke={tone} strokeWidth="2" />
      <circle cx={x} cy={y} r="3" fill={tone} />
      {own ? <rect x={hx - 9} y={hy - 9} width="18" height="18" fill={tone} /> : <circle cx={hx} cy={hy} r="9.5" fill={tone} />}
      <text x={hx} y={hy + 4.5} textAnchor="middle" fontSize="12.5" fontWeight="700" fill="var(--color-paper)">
        {mark}
      </text>
    </g>
  )
}
