/** Reaching into a sheet by a path such as "fittings.0.place.along". */
type Node = Record<string, unknown> | unknown[]

const steps = (path: string) => path.split(".")

export function at(sheet: unknown, path: string): unknown {
  return steps(path).reduce<unknown>((node, step) => (node == null ? undefined : (node as Record<string, unknown>)[step]), sheet)
}

export function textAt(sheet: unknown, path: string): string {
  const value = at(sheet, path)
  return typeof value === "string" ? value : value == null ? "" : String(value)
}

/** The sheet with something else at a path; undefined takes it out, and the parts that are left empty with it. */
export function withAt<T>(sheet: T, path: string, value: unknown): T {
  const [step, ...rest] = steps(path)
  const node = (sheet ?? (/^\d+$/.test(step!) ? [] : {})) as Node
  const copy = (Array.isArray(node) ? [...node] : { ...node }) as Record<string, unknown>
  const next = rest.length ? withAt(copy[step!], rest.join("."), value) : value
  if (next === undefined || (rest.length && isEmpty(next))) {
    if (Array.isArray(copy)) copy.splice(Number(step), 1)
    else delete copy[step!]
  } else copy[step!] = next
  return copy as T
}

const isEmpty = (node: unknown) => typeof node === "object" && node !== null && !Array.isArray(node) && Object.keys(node).length === 0

/** What hangs on a kit board, and what of it is how it is fitted here rather than what it is. */
const OFF_THE_BOARD = new Set(["gauge", "pump", "thermometer", "relief_valve"])
const AS_FITTED = new Set(["height_above_top"])

/** The sheet with a field typed over; kit off the board that is altered by hand is that piece no longer, and loses its name. */
export function typedOver<T>(sheet: T, path: string, text: string): T {
  const typed = withAt(sheet, path, text === "" ? undefined : text)
  const [part, field] = steps(path)
  if (!field || !OFF_THE_BOARD.has(part!) || AS_FITTED.has(field) || field === "name" || textAt(sheet, path) === text) return typed
  return at(typed, `${part}.name`) === undefined ? typed : withAt(typed, `${part}.name`, undefined)
}
