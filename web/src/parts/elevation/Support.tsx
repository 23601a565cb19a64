import type { Px } from "./Elevation"
import { radiusAt, type Shape } from "./frame"

/** What it stands or lies on, by its kind: legs, saddles, blocks, chocks, brackets. */
export function Support({ shape, px, ground, base }: { shape: Shape; px: Px; ground: number; base: number }) {
  if (shape.form === "unknown" || shape.form === "drum" || shape.form === "box" || shape.form === "loop") return null
  const pen = { stroke: "var(--color-ink)", strokeWidth: 2, fill: "none", strokeLinejoin: "round" as const }
  if (shape.position === "standing") return <Standing shape={shape} px={px} ground={ground} pen={pen} />
  const length = shape.form === "sphere" ? (shape.diameter ?? 0) : (shape.length ?? 0)
  const under = [0.2, 0.8].map((part) => {
    const x = length * part
    const v = -radiusAt(shape, x)
    return [px.x(x, v), px.y(x, v)] as const
  })
  if (shape.form === "cask") {
    return (
      <g {...pen}>
        {under.map(([x]) => (
          <path key={x} d={`M${x - 14} ${ground} L${x} ${base - 6} L${x + 14} ${ground}`} fill="var(--color-paper)" />
        ))}
      </g>
    )
  }
  if (shape.kind === "boiler") {
    return (
      <g {...pen}>
        {under.map(([x, y]) => (
          <path key={x} d={`M${x - 10} ${y - 3} L${x - 15} ${ground} H${x + 15} L${x + 10} ${y - 3}`} fill="var(--color-paper)" />
        ))}
      </g>
    )
  }
  if (shape.kind === "chamber" || shape.form === "sphere") {
    const blocks = shape.form === "sphere" ? [[px.x(length / 2, -length / 2), px.y(length / 2, -length / 2)] as const] : under
    return (
      <g {...pen}>
        {blocks.map(([x, y]) => (
          <path key={x} d={`M${x - 16} ${ground} V${y + 4} L${x} ${y + 1} L${x + 16} ${y + 4} V${ground} Z`} fill="var(--color-paper)" />
        ))}
      </g>
    )
  }
  return (
    <g {...pen}>
      {under.map(([x, y], i) => (
        <path key={x} d={`M${x} ${y - 2} L${x + (i ? 5 : -5)} ${ground}`} />
      ))}
    </g>
  )
}

type Pen = { stroke: string; strokeWidth: number; fill: string; strokeLinejoin: "round" }

function Standing({ shape, px, ground, pen }: { shape: Shape; px: Px; ground: number; pen: Pen }) {
  const R = (shape.diameter ?? 0) / 2
  const from = shape.form === "sphere" ? R * 0.6 : 0
  const reach = shape.form === "sphere" ? R * 0.92 : R
  if (shape.kind === "fermenter" && shape.plastic) {
    return <path {...pen} d={`M${px.x(from, reach)} ${px.y(from, reach)} V${ground} H${px.x(from, -reach)} V${px.y(from, -reach)}`} strokeDasharray="3 3" />
  }
  const feet = shape.kind === "fermenter" ? [-0.96, 0, 0.96] : [-0.94, 0.94]
  return (
    <g {...pen}>
      {feet.map((at) => (
        <path
          key={at}
          d={`M${px.x(from, at * reach)} ${at === 0 ? px.y(-(shape.ends[0]?.depth ?? 0) * 0.98, 0) : px.y(from, at * reach) - 8} V${ground} m-5 0 h10`}
        />
      ))}
    </g>
  )
}
