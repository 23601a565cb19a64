import { describe, expect, it } from "vitest"
import { spread } from "./spread"

const apart = (placed: number[], gap: number) => {
  const sorted = [...placed].sort((a, b) => a - b)
  return sorted.every((at, i) => i === 0 || at - sorted[i - 1]! >= gap - 0.5)
}

describe("labels beside the glass", () => {
  it("stay where they are when there is room", () => {
    expect(spread([100, 200, 300], 30, 0, 400)).toEqual([100, 200, 300])
  })

  it("move apart by as little as is needed, in their order", () => {
    const placed = spread([100, 105], 30, 0, 400)
    expect(apart(placed, 30)).toBe(true)
    expect(placed[0]).toBeLessThan(placed[1]!)
    expect((placed[0]! + placed[1]!) / 2).toBeCloseTo(102.5, 0)
  })

  it("keep their place in the list whatever the order they are given in", () => {
    const placed = spread([300, 100, 200], 30, 0, 400)
    expect(placed).toEqual([300, 100, 200])
  })

  it("do not run off the lower end", () => {
    const placed = spread([396, 398, 400], 33, 0, 400)
    expect(Math.max(...placed)).toBeLessThanOrEqual(400)
    expect(apart(placed, 33)).toBe(true)
  })

  it("are apart in every crowd that fits", () => {
    for (let n = 1; n <= 10; n++) {
      const crowd = Array.from({ length: n }, (_, i) => 200 + ((i * 7919) % 13))
      expect(apart(spread(crowd, 33, 0, 400), 33)).toBe(true)
    }
  })

  it("nothing is spread to nothing", () => {
    expect(spread([], 30, 0, 400)).toEqual([])
  })
})
