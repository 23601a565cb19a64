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
  const sides: [View, string][] =
    shape.form === "box"
      ? [
          ["left", "left"],
          ["right", "right"],
        ]
      : []
  return [
    ...both,
    ...sides,
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
  if (view !== "front" && view !== "back") return <End shape={shape} view={view} fit={fit} order={order} leaks={leaks} over={over} />
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

function End({ shape, view, fit, order, leaks, over }: Omit<SeenProps, "view"> & { view: Exclude<View, "front" | "back"> }) {
  const first = view === "end 1"
  const { wide, tall } = endOf(shape, view)
  const scale = Math.min(fit[0] / wide, fit[1] / tall)
  const [width, height] = [wide * scale + 2 * ROUND, tall * scale + 2 * ROUND]
  const px: Px = { x: (h) => width / 2 + h * scale, y: (_, u) => height / 2 - u * scale, scale, frame: frameOf(shape) }
  const there = shape.openings.filter((one) => view.startsWith("end") && Math.abs(one.dx) > 0.5 && one.dx < 0 === first)
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
      <Marks shape={shape} px={px} />
      {there.map((one) => {
        const [h, u] = fromEnd(shape, first, one)
        return (
          <g key={one.name}>
            <circle cx={px.x(h, u)} cy={px.y(h, u)} r="11" fill={one.choice === "vent" || one.choice === "tee" ? "var(--water)" : "var(--color-ink)"} />
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

/** What an end shows that a leak may sit on: the boards of a cask's head, the tubes of a plate. */
function Marks({ shape, px }: { shape: Shape; px: Px }) {
  if (shape.form === "cask") {
    const r = shape.outline[0]?.r ?? 0
    return [-0.6, -0.2, 0.2, 0.6].map((part) => {
      const half = r * Math.sqrt(1 - part * part)
      return (
        <line key={part} x1={px.x(part * r, 0)} x2={px.x(part * r, 0)} y1={px.y(0, half)} y2={px.y(0, -half)} stroke="var(--color-rule)" strokeWidth="1.5" />
      )
    })
  }
  return tubesOn(shape).map(([h, u, d]) => (
    <circle key={`${h} ${u}`} cx={px.x(h, u)} cy={px.y(h, u)} r={Math.max(2, (d / 2) * px.scale)} fill="none" stroke="var(--color-quiet)" strokeWidth="1.2" />
  ))
}

/** Where the tubes of a plate are drawn, m to the right and up from its middle, and how wide: evenly, for their places are not known. */
export function tubesOn(shape: Shape): [number, number, number][] {
  const across = (shape.diameter ?? 0) / 2
  const widest = Math.max(0, ...shape.tubes.map((tube) => tube.diameter))
  const all = shape.tubes.flatMap((tube) => Array.from({ length: tube.count }, () => tube.diameter))
  if (across === 0 || all.length === 0) return []
  if (all.length === 1) return [[0, 0, all[0]!]]
  for (let pitch = 0.9 * across; pitch > widest / 8; pitch *= 0.94) {
    const places: [number, number][] = []
    const rows = Math.ceil(across / (pitch * 0.866))
    for (let row = -rows; row <= rows; row++)
      for (let n = -rows - 1; n <= rows + 1; n++) {
        const at: [number, number] = [(n + (row % 2 === 0 ? 0 : 0.5)) * pitch, row * pitch * 0.866]
        if (Math.hypot(...at) < across - widest / 2) places.push(at)
      }
    if (places.length >= all.length) {
      const kept = places.sort((a, b) => Math.hypot(...a) - Math.hypot(...b)).slice(0, all.length)
      return kept.map(([h, u], i) => [h, u, Math.min(all[i]!, 0.9 * pitch)])
    }
  }
  return []
}

/** Size of the vessel seen from an end, or a box from its side, m. */
export function endOf(shape: Shape, view: View = "end 1"): { wide: number; tall: number } {
  if (view === "left" || view === "right") return { wide: shape.width ?? shape.tall, tall: shape.tall }
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
