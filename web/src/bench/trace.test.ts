import { describe, expect, it } from "vitest"
import { merged, withGaps, type Series, type TraceData } from "./trace"

const series = (id: string, time: number[]): Series => ({
  id,
  name: id,
  left_out: 0,
  time,
  pressure: time.map((t) => t * 10),
  temperature: time.map(() => null),
})
const trace = (cursor: string, ...all: Series[]): TraceData => ({ cursor, series: all })

describe("readings fetched bit by bit", () => {
  it("are put together, each source by itself", () => {
    const now = merged(trace("1", series("dial", [0, 10])), trace("2", series("dial", [20]), series("logger", [5])))
    expect(now.cursor).toBe("2")
    expect(now.series.map((one) => [one.id, one.time])).toEqual([
      ["dial", [0, 10, 20]],
      ["logger", [5]],
    ])
  })

  it("that come late are put where they belong", () => {
    const now = merged(trace("1", series("dial", [0, 30])), trace("2", series("dial", [10, 20])))
    expect(now.series[0]!.time).toEqual([0, 10, 20, 30])
    expect(now.series[0]!.pressure).toEqual([0, 100, 200, 300])
  })

  it("stay as they were when nothing is new", () => {
    const had = trace("1", series("dial", [0]))
    expect(merged(had, trace("1"))).toEqual(had)
    expect(merged(undefined, had)).toBe(had)
  })
})

describe("a while without readings", () => {
  it("breaks the line: a gap is shown as a gap", () => {
    const [times, values] = withGaps([0, 10, 20, 3620, 3630], [1, 2, 3, 4, 5])
    expect(values).toEqual([1, 2, 3, null, 4, 5])
    expect(times[3]).toBe(1820)
  })

  it("is no gap where somebody reads the dial every few minutes", () => {
    expect(withGaps([0, 300, 600, 900], [1, 2, 3, 4])[1]).toEqual([1, 2, 3, 4])
  })
})
