import type { ReactNode } from "react"
import type { Schema } from "../../api/client"
import { bubbles } from "./bubbles"
import { Elevation, type Px } from "./Elevation"
import { extent, frameOf, type Opening, type Shape } from "./frame"
import { Openings } from "./Openings"
import { Pins, type View } from "./Pins"

type Leak = Schema["LeakOut"]

/** The sides that a vessel has to look at, each as people call it. */
export function viewsOf(shape: Shape): [View, string][] {
  const both: [View, string][] = [
    ["front", "front"],
    ["back", "behind"],
  ]
  if (shape.form === "loop" || shape.form === "unknown") return [["front", "front"]]
  if (shape.form === "sphere") return both
  return [
    ...both,
    ...(shape.position === "standing" ? (["bottom", "top"] as const) : (["left end", "right end"] as const)).map((name, i): [View, string] => [
      i ? "end 2" : "end 1",
      name,
    ]),
  ]
}

type SeenProps = {
  shape: Shape
  view: View
  /** px that it may take. */
  fit: [number, number]
  /** All openings by name, in the order of the sheet: their numbers. */
  order: string[]
  leaks: Leak[]
  water?: boolean
  room?: number
  /** What lies over it, where a place is m along and across, or to the right and up from an end's middle. */
  over?: (px: Px) => ReactNode
}

/** The vessel from one side, with the openings and the pins that are seen there. */
export function Seen({ shape, view, fit, order, leaks, water = false, room = 30, over }: SeenProps) {
  if (view === "end 1" || view === "end 2") return <End shape={shape} view={view} fit={fit} order={order} leaks={leaks} over={over} />
  const { wide, tall } = extent(shape)
  const behind = view === "back"
  const side: Shape = { ...shape, openings: shape.openings.filter((one) => onSide(one, behind)).map((one) => (behind ? { ...one, facing: -one.facing } : one)) }
  return (
    <Elevation
      shape={side}
      scale={Math.min(fit[0] / wide, fit[1] / tall)}
      behind={behind}
      water={water}
      room={room}
      over={(px) => (
        <>
          <Openings shape={side} px={px} order={order} />
          <Pins leaks={leaks} px={px} view={view} beside={[...bubbles(side, px).values()]} />
          {over?.(px)}
        </>
      )}
    />
  )
}

/** Is an opening seen from the front, or from behind? What points up, down or along is seen from both. */
function onSide(opening: Opening, behind: boolean): boolean {
  return behind ? opening.facing < 0.3 : opening.facing > -0.3
}

/** Pixels round the vessel from an end. */
const ROUND = 40

function End({ shape, view, fit, order, leaks, over }: Omit<SeenProps, "view"> & { view: "end 1" | "end 2" }) {
  const first = view === "end 1"
  const { wide, tall } = endOf(shape)
  const scale = Math.min(fit[0] / wide, fit[1] / tall)
  const [width, height] = [wide * scale + 2 * ROUND, tall * scale + 2 * ROUND]
  const px: Px = { x: (h) => width / 2 + h * scale, y: (_, u) => height / 2 - u * scale, scale, frame: frameOf(shape) }
  const there = shape.openings.filter((one) => Math.abs(one.dx) > 0.5 && one.dx < 0 === first)
  return (
    <svg
      width={width}
      height={height}
      viewBox={`0 0 ${width} ${height}`}
      role="group"
      aria-label="The vessel's end, drawn to scale"
      className="block max-w-full"
    >
      {shape.form === "box" ? (
        <rect x={ROUND} y={ROUND} width={wide * scale} height={tall * scale} fill="var(--color-paper)" stroke="var(--color-ink)" strokeWidth="2" />
      ) : (
        <circle cx={width / 2} cy={height / 2} r={(wide * scale) / 2} fill="var(--color-paper)" stroke="var(--color-ink)" strokeWidth="2" />
      )}
      {there.map((one) => {
        const [h, u] = fromEnd(shape, first, one)
        return (
          <g key={one.name}>
            <circle cx={px.x(h, u)} cy={px.y(h, u)} r="11" fill={one.choice === "vent" ? "var(--water)" : "var(--color-ink)"} />
            <text x={px.x(h, u)} y={px.y(h, u) + 4.5} textAnchor="middle" fontSize="12.5" fontWeight="700" fill="var(--color-paper)">
              {order.indexOf(one.name) + 1 || "?"}
            </text>
          </g>
        )
      })}
      <Pins
        leaks={leaks}
        px={px}
        view={view}
        beside={there.map((one) => {
          const [h, u] = fromEnd(shape, first, one)
          return [px.x(h, u), px.y(h, u)]
        })}
      />
      {over?.(px)}
    </svg>
  )
}

/** Size of the vessel seen from an end, m. */
export function endOf(shape: Shape): { wide: number; tall: number } {
  const across = 2 * Math.max(...shape.outline.map((point) => point.r), 0.05)
  return { wide: across, tall: shape.form === "box" ? (shape.width ?? across) : across }
}

/** Where an opening of an end is seen from there, m to the right and up: lying, up is up; standing, the front is below from the top. */
function fromEnd(shape: Shape, first: boolean, { v, w }: Opening): [number, number] {
  if (shape.position === "lying") return [first ? w : -w, v]
  return [-v, first ? w : -w]
}

/** The other sides on which something is pinned, small, each with its name. */
export function OtherSides({ shape, order, leaks, fit }: { shape: Shape; order: string[]; leaks: Leak[]; fit: [number, number] }) {
  const pinned = viewsOf(shape).filter(([view]) => view !== "front" && leaks.some((leak) => leak.pin?.view === view))
  return pinned.map(([view, name]) => (
    <figure key={view} className="text-center text-small text-quiet" aria-label={`The vessel from ${name}`}>
      <Seen shape={shape} view={view} fit={fit} order={order} leaks={leaks} />
      <figcaption>{name}</figcaption>
    </figure>
  ))
}
