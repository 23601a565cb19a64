import type { Px } from "./Elevation"
import { frameOf, type Opening, type Shape } from "./frame"

type Spot = [number, number]

/** How far a stub stands out, and the number of an opening from the wall; px. */
export const STUB = 13
const OUT = STUB + 12
/** A number and the air about it, px. */
const ROOM = 23

/** Is an opening drawn on the face, and not standing out from the rim? */
export const onFace = (opening: Opening) => Math.abs(opening.facing) > 0.72

/**
 * Where the number of each opening stands, by name, px: straight out from the rim or on its place on the face, and farther out or
 * beside it where another stands already; not over the figures in the middle where there are any.
 */
export function bubbles(shape: Shape, px: Pick<Px, "x" | "y">, figures?: Spot): Map<string, Spot> {
  const placed: Spot[] = []
  const clear = ([x, y]: Spot) =>
    placed.every(([a, b]) => Math.hypot(a - x, b - y) >= ROOM - 0.5) && !(figures && Math.abs(x - figures[0]) < 62 && Math.abs(y - figures[1]) < 34)
  return new Map(
    shape.openings.map((opening) => {
      const anchor: Spot = [px.x(opening.x, opening.v), px.y(opening.x, opening.v)]
      const spots = onFace(opening) ? roundAbout(anchor) : outward(anchor, opening, px)
      const spot = spots.find(clear) ?? spots.at(-1)!
      placed.push(spot)
      return [opening.name, spot]
    }),
  )
}

/** So many rows of numbers stand out from the rim at a scale: room has to be left for them. */
export function rows(shape: Shape, scale: number): number {
  const { toSheet } = frameOf(shape)
  const at = (x: number, v: number): Spot => [toSheet(x, v)[0] * scale, -toSheet(x, v)[1] * scale]
  const px = { x: (x: number, v: number) => at(x, v)[0], y: (x: number, v: number) => at(x, v)[1] }
  const placed = bubbles(shape, px)
  const out = shape.openings
    .filter((one) => !onFace(one))
    .map((one) => Math.hypot(placed.get(one.name)![0] - px.x(one.x, one.v), placed.get(one.name)![1] - px.y(one.x, one.v)))
  return Math.round((Math.max(OUT, ...out) - OUT) / ROOM)
}

function outward([x, y]: Spot, { x: along, v, dx, dv }: Opening, px: Pick<Px, "x" | "y">): Spot[] {
  const [ox, oy] = [px.x(along + dx, v + dv) - x, px.y(along + dx, v + dv) - y]
  const far = Math.hypot(ox, oy) || 1
  return [0, 1, 2, 3, 4, 5].map((row) => [x + (ox / far) * (OUT + row * ROOM), y + (oy / far) * (OUT + row * ROOM)])
}

function roundAbout([x, y]: Spot): Spot[] {
  const ring = [-90, 90, -45, 45, -135, 135, 0, 180].map((degrees) => (degrees * Math.PI) / 180)
  return [[x, y], ...[1.3, 2.4, 3.5, 4.6, 5.7].flatMap((far) => ring.map((turn): Spot => [x + Math.cos(turn) * far * ROOM, y + Math.sin(turn) * far * ROOM]))]
}
