import type { Schema } from "../../api/client"

export type Shape = Schema["Drawing"]
export type Opening = Schema["DrawnOpening"]
type Point = [number, number]

/** A long pipe is drawn folded: so many runs, so wide, so far apart, m. */
export const FOLDED = { runs: 6, wide: 0.62, apart: 0.075 }

/** How the vessel lies on the sheet: its extent in metres, and the way between its own coordinates (x along the axis from the
 *  first seam, v across it) and the sheet's (X to the right, Z upward from the lowest point), from the front or from behind. */
export type Frame = {
  wide: number
  tall: number
  toSheet: (x: number, v: number) => Point
  toVessel: (X: number, Z: number) => Point
  outline: Point[]
}

export function frameOf(shape: Shape, behind = false): Frame {
  const [sine, cosine] = [Math.sin(shape.tilt), Math.cos(shape.tilt)]
  const turn = (x: number, v: number): Point => [x * cosine - v * sine, x * sine + v * cosine]
  const half = shape.outline.map(({ x, r }): Point => [x, r])
  const around: Point[] = [...half, ...half.map(([x, r]): Point => [x, -r]).reverse()]
  const turned = around.map(([x, v]) => turn(x, v))
  if (shape.form === "loop" || turned.length === 0) {
    const [wide, tall] = shape.form === "loop" ? [FOLDED.wide, FOLDED.apart * (FOLDED.runs - 1) + (shape.diameter ?? 0.02)] : [0.3, 0.3]
    return { wide, tall, toSheet: (x, v) => [x, v], toVessel: (X, Z) => [X, Z], outline: [] }
  }
  const [left, right] = [Math.min(...turned.map((p) => p[0])), Math.max(...turned.map((p) => p[0]))]
  const [low, high] = [Math.min(...turned.map((p) => p[1])), Math.max(...turned.map((p) => p[1]))]
  const toSheet = (x: number, v: number): Point => {
    const [X, Z] = turn(x, v)
    return [behind ? right - X : X - left, Z - low]
  }
  const toVessel = (X: number, Z: number): Point => {
    const [a, b] = [behind ? right - X : X + left, Z + low]
    return [a * cosine + b * sine, b * cosine - a * sine]
  }
  return { wide: right - left, tall: high - low, toSheet, toVessel, outline: around.map(([x, v]) => toSheet(x, v)) }
}

/** Where on the vessel a point of the drawing is, as a place in the open format: the end or the shell, to 5 mm and 5 degrees. */
export function placeAt(shape: Shape, x: number, v: number): Record<string, string> {
  const mm = (value: number) => `${Math.round(value * 200) * 5} mm`
  if (shape.form === "drum" || shape.form === "box") {
    const nearTop = shape.tall - x < Math.min(0.12 * shape.tall, 0.1) || x > shape.tall
    return nearTop ? { on: "top", along: mm(v) } : { on: "side", up: mm(Math.max(0, x)) }
  }
  const radius = radiusAt(shape, x)
  const length = shape.form === "sphere" ? (shape.diameter ?? 0) : (shape.length ?? 0)
  const dished = shape.form !== "cask"
  if (dished && shape.form !== "sphere" && (x < 0 || x > length)) {
    return { on: x < 0 ? "end 1" : "end 2", out: mm(Math.min(Math.abs(v), (shape.diameter ?? 0) / 2)), round: v < 0 ? "180 deg" : "0 deg" }
  }
  const across = Math.max(-1, Math.min(1, v / (radius || 1)))
  const round = Math.abs(across) > 0.9 ? (across > 0 ? 0 : Math.PI) : Math.acos(across)
  const unrolled = ((round - shape.roll) * 180) / Math.PI
  return { on: "shell", along: mm(Math.max(0, Math.min(length, x))), round: `${Math.round(unrolled / 5) * 5} deg` }
}

export function radiusAt(shape: Shape, x: number): number {
  const half = shape.outline
  const after = half.findIndex((point) => point.x >= x)
  if (after <= 0) return (after === 0 ? half[0] : half.at(-1))?.r ?? 0
  const [one, other] = [half[after - 1]!, half[after]!]
  return other.x === one.x ? other.r : one.r + ((other.r - one.r) * (x - one.x)) / (other.x - one.x)
}

/** Overall size of a vessel as drawn, m. */
export function extent(shape: Shape): { wide: number; tall: number } {
  const { wide, tall } = frameOf(shape)
  return { wide, tall }
}

/** Where a new opening has most room: on the shell from the top round, or on a low tank's top; never where one is `taken` that is not drawn yet. */
export function roomFor(shape: Shape, taken: readonly unknown[] = []): Record<string, string> {
  const mm = (value: number) => `${Math.round(value * 200) * 5} mm`
  const free = (x: number, v: number) => Math.min(Infinity, ...shape.openings.map((one) => Math.hypot(one.x - x, one.v - v)))
  const low = shape.form === "drum" || shape.form === "box"
  const long = low ? (shape.diameter ?? 0.4) : (shape.length ?? shape.diameter ?? 0.4)
  const along = [0.5, 0.25, 0.75, 0.125, 0.875, 0.375, 0.625].map((part) => (low ? part - 0.5 : part) * long)
  const rounds = low ? [0] : [0, 180, 90]
  const spots = rounds.flatMap((round) => {
    const up = Math.cos((round * Math.PI) / 180 + shape.roll)
    return along.map((x) => ({ x, round, room: low ? free(shape.tall, x) : free(x, up * radiusAt(shape, x)) }))
  })
  const place = (x: number, round: number): Record<string, string> => (low ? { on: "top", along: mm(x) } : { on: "shell", along: mm(x), round: `${round} deg` })
  const placed = spots.map(({ x, round, room }) => ({ room, place: place(x, round) }))
  const had = new Set(taken.map((place) => JSON.stringify(place)))
  const untaken = placed.filter(({ place }) => !had.has(JSON.stringify(place)))
  const left = untaken.length > 0 ? untaken : placed
  return (left.find((spot) => spot.room > 0.16 * long) ?? left.reduce((best, spot) => (spot.room > best.room ? spot : best))).place
}
