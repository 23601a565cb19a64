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
