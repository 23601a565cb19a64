/** How wide a figure or a word is about, px, without asking the page. */
export const wide = (text: string, size = 13.5) => text.length * size * 0.665

/** A name cut to the room there is, px, with dots where it was; its end stays, in which numbered names differ. */
export function shortened(text: string, room: number, size = 13): string {
  const letters = Math.floor(room / (size * 0.53))
  return text.length <= letters ? text : `${text.slice(0, Math.max(1, letters - 3)).trimEnd()}…${text.slice(-2)}`
}

/** Where a label's middle may be so that all of it lies between two edges. */
export function inside(middle: number, text: string, [left, right]: readonly [number, number], size = 13.5): number {
  const half = wide(text, size) / 2
  return Math.max(left + half, Math.min(right - half, middle))
}

/** Where the end of a label may be so that its beginning does not pass an edge. */
export const endingAfter = (end: number, text: string, left: number, size = 13.5) => Math.max(end, left + wide(text, size))
