import { describe, expect, it } from "vitest"
import type { Schema } from "../api/client"
import type { Sheet } from "./queries"
import { ownStages, pause, stepOf, withOneMore, within, written } from "./stages"

const stage = (name: string, target: number) => ({ name, target: target * 1e5, pause: 180 })
const sheet = (more: Partial<Sheet> = {}): Sheet => ({ kind: "receiver", working_pressure: "8.5 bar", ...more })
const reads = (division: string) => sheet({ gauge: { range: "25 bar", division } })
const ANSWER = {
  stages: [stage("look", 3.2), stage("wanted", 8.5), stage("test", 12.75)],
  gauge_target: 12.75e5,
} as unknown as Schema["DeriveAnswer"]

describe("stages as a person's own", () => {
  it("begin as the raising style has them, the test left out", () => {
    expect(ownStages(sheet(), ANSWER, "metric")).toEqual([
      { target: "3.2 bar", pause: "3 min", name: "look" },
      { target: "8.5 bar", pause: "3 min", name: "wanted" },
    ])
  })

  it("are those of the sheet where there are any", () => {
    const own = [{ target: "120psi" }]
    expect(ownStages(sheet({ stages: own }), ANSWER, "metric")).toBe(own)
  })

  it("get one more in the widest gap, in order", () => {
    const stages = withOneMore(ownStages(sheet(), ANSWER, "metric"), ANSWER, "metric")
    expect(stages.map((one) => one.target)).toEqual(["3.2 bar", "5.85 bar", "8.5 bar"])
  })

  it("get one at a time, evenly, however quick somebody is: the answer is still the old one", () => {
    let stages = ownStages(sheet(), ANSWER, "metric")
    for (let press = 0; press < 4; press++) stages = withOneMore(stages, ANSWER, "metric")
    expect(stages.map((one) => one.target)).toEqual(["1.6 bar", "3.2 bar", "4.53 bar", "5.85 bar", "8.5 bar", "10.6 bar"])
  })

  it("get none where only the server can read what is there", () => {
    const own = [{ target: "25 ft of water" }, { target: "8 bar" }, { target: "9 bar" }]
    expect(withOneMore(own, ANSWER, "metric")).toBe(own)
  })

  it("stay between their neighbours and on the gauge's divisions", () => {
    expect(within(ANSWER, 1, 9.234e5, 1e4)).toBeCloseTo(9.2e5)
    expect(within(ANSWER, 1, 99e5, 1e4)).toBeCloseTo(12.65e5)
    expect(within(ANSWER, 1, 0, 1e4)).toBeCloseTo(3.3e5)
    expect(within(ANSWER, 0, 0, 1e4)).toBeCloseTo(0.1e5)
  })
})

describe("what is written into the sheet", () => {
  it("is in the person's unit and can be read back", () => {
    expect(written(8.5e5, "metric")).toBe("8.5 bar")
    expect(written(827_370.875, "imperial")).toBe("120 psi")
    expect(written(2200, "millibar")).toBe("22 mbar")
    expect(written(123_456e5, "metric", 6)).toBe("123456 bar")
  })

  it("has pauses in minutes where they are whole", () => {
    expect(pause(180)).toBe("3 min")
    expect(pause(90)).toBe("90 s")
  })
})

describe("a step of the arrow keys", () => {
  it("is the gauge's division, in the unit it is written in", () => {
    expect(stepOf(reads("0.1 bar"), "metric")).toBe(1e4)
    expect(stepOf(reads("0,5 bar"), "imperial")).toBe(5e4)
    expect(stepOf(reads("2 mbar"), "metric")).toBe(200)
    expect(stepOf(reads("5 psi"), "metric")).toBeCloseTo(34_474, 0)
  })

  it("is a tenth of a bar, a psi or a millibar where no division is known", () => {
    expect(stepOf(sheet(), "metric")).toBe(1e4)
    expect(stepOf(reads("half"), "imperial")).toBeCloseTo(6894.76, 2)
    expect(stepOf(sheet(), "millibar")).toBe(100)
  })
})
