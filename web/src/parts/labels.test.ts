import { describe, expect, it } from "vitest"
import { endingAfter, inside, shortened, wide } from "./labels"

describe("labels stay where they can be read", () => {
  it("a label in the middle is left where it is, one at an edge is moved in", () => {
    expect(inside(100, "look 22", [40, 300])).toBe(100)
    expect(inside(295, "look 22", [40, 300])).toBeCloseTo(300 - wide("look 22") / 2)
    expect(inside(41, "look 22", [40, 300])).toBeCloseTo(40 + wide("look 22") / 2)
  })

  it("a label that ends at a point never begins before the axis", () => {
    expect(endingAfter(200, "3.19", 50)).toBe(200)
    expect(endingAfter(60, "3.19", 50)).toBeCloseTo(50 + wide("3.19"))
  })

  it("a name too long keeps its end, in which numbered names differ", () => {
    expect(shortened("look", 60)).toBe("look")
    expect(shortened("pause number 9", 60)).toBe("pause… 9")
    expect(wide(shortened("The long green receiver 12", 60), 13 * 0.86)).toBeLessThan(64)
  })
})
