import { describe, expect, it } from "vitest"
import { metres } from "./GirthMarks"

describe("where a tape goes round", () => {
  it("is drawn where it can be read at once, and left to the server otherwise", () => {
    expect([metres("400 mm"), metres("0,4 m"), metres("16 in"), metres("1 1/2 ft"), metres("")]).toEqual([0.4, 0.4, 16 * 0.0254, null, null])
  })
})
