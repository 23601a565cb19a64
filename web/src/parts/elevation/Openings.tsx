import { useRef, type KeyboardEvent, type PointerEvent } from "react"
import { usePending } from "../pending"
import type { Px } from "./Elevation"
import { bubbles, onFace, STUB } from "./bubbles"
import { placeAt, type Opening, type Shape } from "./frame"

export type Place = Record<string, string>

type OpeningsProps = {
  shape: Shape
  px: Px
  /** All openings by name, in the order of the sheet: their numbers. */
  order: string[]
  selected?: string | null
  onSelect?: (name: string) => void
  /** Called while it is moved; a place in the open format. */
  onMove?: (name: string, place: Place) => void
}

/** The openings where they are, numbered; each can be chosen, dragged, and moved by the arrow keys. */
export function Openings({ shape, px, order, selected, onSelect, onMove }: OpeningsProps) {
  if (shape.form === "loop") return null
  const numbers = bubbles(shape, px, px.figures)
  return shape.openings.map((opening) => (
    <One
      key={opening.name}
      opening={opening}
      number={order.indexOf(opening.name) + 1}
      at={numbers.get(opening.name)!}
      alone={free(numbers, opening, px)}
      shape={shape}
      px={px}
      chosen={opening.name === selected}
      onSelect={onSelect}
      onMove={onMove}
    />
  ))
}

/** Does no other number stand where the dial of a gauge would, beyond its own? */
function free(numbers: Map<string, [number, number]>, opening: Opening, px: Px): boolean {
  const [bx, by] = numbers.get(opening.name)!
  const [x, y] = [px.x(opening.x, opening.v), px.y(opening.x, opening.v)]
  const far = Math.hypot(bx - x, by - y) || 1
  const [dx, dy] = [bx + ((bx - x) / far) * 24, by + ((by - y) / far) * 24]
  return [...numbers].every(([name, [a, b]]) => name === opening.name || Math.hypot(a - dx, b - dy) > 21)
}

type OneProps = {
  opening: Opening
  number: number
  /** Where its number stands, px. */
  at: [number, number]
  /** Is there room for its dial? */
  alone: boolean
  shape: Shape
  px: Px
  chosen: boolean
  onSelect?: (name: string) => void
  onMove?: (name: string, place: Place) => void
}

function One({ opening, number, at: [bx, by], alone, shape, px, chosen, onSelect, onMove }: OneProps) {
  const dragging = useRef(false)
  const pending = usePending<[number, number]>()
  const [x, y] = [px.x(opening.x, opening.v), px.y(opening.x, opening.v)]
  const [ox, oy] = [px.x(opening.x + opening.dx, opening.v + opening.dv) - x, px.y(opening.x + opening.dx, opening.v + opening.dv) - y]
  const far = Math.hypot(ox, oy) || 1
  const [nx, ny] = [ox / far, oy / far]
  const face = onFace(opening)
  const farOff = Math.hypot(bx - x, by - y) > STUB + 13
  const fill = opening.choice === "vent" || opening.choice === "tee" ? "var(--water)" : "var(--color-ink)"
  const toPlace = (event: PointerEvent<SVGGElement>) => {
    const svg = event.currentTarget.ownerSVGElement!
    const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM()!.inverse())
    const [X0, Y0] = [px.x(0, 0) - px.frame.toSheet(0, 0)[0] * px.scale, px.y(0, 0) + px.frame.toSheet(0, 0)[1] * px.scale]
    const [vx, vv] = px.frame.toVessel((at.x - X0) / px.scale, (Y0 - at.y) / px.scale)
    return placeAt(shape, vx, vv)
  }
  const nudge = (event: KeyboardEvent) => {
    const step = event.shiftKey ? 0.05 : 0.01
    const ways: Record<string, [number, number]> = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, step], ArrowDown: [0, -step] }
    const way = ways[event.key]
    if (!way) return
    event.preventDefault()
    const [X, Z] = pending.from(opening.name, px.frame.toSheet(opening.x, opening.v))
    const [vx, vv] = px.frame.toVessel(...pending.to(opening.name, [X + way[0], Z + way[1]]))
    onMove?.(opening.name, placeAt(shape, vx, vv))
  }
  const movable = onMove !== undefined
  return (
    <g
      role={onSelect ? "button" : undefined}
      tabIndex={onSelect ? 0 : undefined}
      aria-label={onSelect ? `Opening ${number}, ${opening.name}${movable ? ": arrow keys move it" : ""}` : undefined}
      aria-pressed={onSelect ? chosen : undefined}
      className={onSelect ? "cursor-pointer outline-offset-4 select-none" : undefined}
      style={{ touchAction: movable ? "none" : undefined }}
      onClick={() => onSelect?.(opening.name)}
      onKeyDown={(event) => {
        if (event.key === "Enter" || event.key === " ") {
          event.preventDefault()
          onSelect?.(opening.name)
        } else if (movable) nudge(event)
      }}
      onPointerDown={(event) => {
        if (!movable) return
        dragging.current = true
        pending.settle(opening.name)
        event.currentTarget.setPointerCapture(event.pointerId)
        onSelect?.(opening.name)
      }}
      onPointerMove={(event) => dragging.current && onMove?.(opening.name, toPlace(event))}
      onPointerUp={() => (dragging.current = false)}
    >
      {(farOff || (face && bx !== x)) && (
        <path d={`M${face ? x : x + nx * STUB} ${face ? y : y + ny * STUB} L${bx} ${by}`} stroke="var(--color-ink)" strokeWidth="1.2" />
      )}
      {face ? (
        <circle cx={x} cy={y} r="16" fill="none" stroke="var(--color-ink)" strokeWidth="1.5" strokeDasharray={opening.facing < 0 ? "3 3" : undefined} />
      ) : (
        <g transform={`translate(${x} ${y}) rotate(${(Math.atan2(ny, nx) * 180) / Math.PI})`}>
          <rect x={-1} y={-6} width={STUB} height={12} fill="var(--color-paper)" stroke="var(--color-ink)" strokeWidth="1.8" />
        </g>
      )}
      {chosen && <circle cx={bx} cy={by} r="15" fill="none" stroke="var(--water)" strokeWidth="2.5" />}
      <circle cx={bx} cy={by} r="11" fill={fill} />
      <text x={bx} y={by + 4.5} textAnchor="middle" fontSize="12.5" fontWeight="700" fill="var(--color-paper)">
        {number || "?"}
      </text>
      {(opening.choice === "gauge" || opening.choice === "tee") && !face && alone && <DialIcon x={bx + nx * 24} y={by + ny * 24} />}
    </g>
  )
}

function DialIcon({ x, y }: { x: number; y: number }) {
  return (
    <g fill="var(--color-paper)" stroke="var(--color-ink)" strokeWidth="1.6">
      <circle cx={x} cy={y} r="10" />
      <path d={`M${x} ${y} l5 -6`} />
    </g>
  )
}
