import type { Schema } from "../api/client"

export type Series = Schema["Series"]
export type TraceData = Schema["Trace"]

/** What was fetched before with what is new: each source by itself, in order of time, each reading once. */
export function merged(had: TraceData | undefined, fresh: TraceData): TraceData {
  if (!had || fresh.series.length === 0) return had ? { ...had, cursor: fresh.cursor || had.cursor } : fresh
  const series = had.series.map((one) => {
    const more = fresh.series.find((other) => other.id === one.id)
    return more ? joined(one, more) : one
  })
  const known = new Set(had.series.map((one) => one.id))
  return { cursor: fresh.cursor, series: [...series, ...fresh.series.filter((one) => !known.has(one.id))] }
}

function joined(one: Series, more: Series): Series {
  const late = (more.time[0] ?? 0) < (one.time.at(-1) ?? -Infinity)
  const rows = [...rowsOf(one), ...rowsOf(more)]
  if (late) rows.sort((a, b) => a[0] - b[0])
  return {
    ...one,
    left_out: (one.left_out ?? 0) + (more.left_out ?? 0),
    time: rows.map((row) => row[0]),
    pressure: rows.map((row) => row[1]),
    temperature: rows.map((row) => row[2]),
  }
}

function rowsOf(series: Series): [number, number, number | null][] {
  return series.time.map((time, i) => [time, series.pressure[i]!, series.temperature[i] ?? null])
}

/** Where nobody read for long the line breaks: longer than this many usual intervals… */
const GAP_INTERVALS = 6
/** …and longer than this, s. */
const GAP_SECONDS = 120

/** A source's points with a null where there is a gap. */
export function withGaps(time: number[], values: number[]): [number[], (number | null)[]] {
  const steps = time.slice(1).map((t, i) => t - time[i]!)
  const usual = [...steps].sort((a, b) => a - b)[Math.floor(steps.length / 2)] ?? 0
  const longest = Math.max(GAP_SECONDS, GAP_INTERVALS * usual)
  const [times, points]: [number[], (number | null)[]] = [[], []]
  time.forEach((t, i) => {
    if (i > 0 && steps[i - 1]! > longest) {
      times.push((t + time[i - 1]!) / 2)
      points.push(null)
    }
    times.push(t)
    points.push(values[i]!)
  })
  return [times, points]
}
