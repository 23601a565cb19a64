import { cleanup, render, screen } from "@testing-library/react"
import { afterEach, describe, expect, it } from "vitest"
import type { Schema } from "../api/client"
import { Elevation, extent } from "./Elevation"
import { Lines, Why } from "./Lines"
import { glassOf, planOf } from "./marks"
import { withUnit } from "./QuantityField"
import { Tag } from "./Tag"

afterEach(cleanup)

describe("a bare number in a field", () => {
  it.each([
    ["120", "bar", "120 bar"],
    [" 8,3 ", "bar", "8,3 bar"],
    ["14 1/2", "in", "14 1/2 in"],
    ["-0.2", "m", "-0.2 m"],
    ["120psi", "bar", "120psi"],
    ['3/8"', "mm", '3/8"'],
    ["eight", "bar", "eight"],
    ["8.", "bar", "8."],
    ["", "bar", ""],
  ])("%s in a field of %s is sent as %s", (typed, unit, sent) => {
    expect(withUnit(typed, unit)).toBe(sent)
  })

  it("stays bare where the field has no unit of its own", () => {
    expect(withUnit("120", undefined)).toBe("120")
  })
})

describe("the tag", () => {
  it.each(["fit", "limited", "not fit", "not proven"] as const)("says %s in words, not by colour alone", (fitness) => {
    render(<Tag fitness={fitness} pressure={850_000} habit="metric" date="2026-11-24" />)
    expect(screen.getByTestId("tag").textContent).toBe(`${fitness}8.5 bar24 Nov 2026`)
  })

  it("has the note where there is no pressure", () => {
    render(<Tag fitness="not fit" note="past 2024" habit="metric" />)
    expect(screen.getByText("past 2024")).toBeTruthy()
  })

  it("of what is not fit is struck through, and of what is not proven dashed", () => {
    const struck = render(<Tag fitness="not fit" habit="metric" />).container.querySelectorAll("path")
    expect(struck).toHaveLength(2)
    const dashed = render(<Tag fitness="not proven" habit="metric" />).container.querySelector("path")
    expect(dashed?.getAttribute("stroke-dasharray")).toBeTruthy()
  })
})

const SHAPE: Schema["VesselShape"] = {
  form: "cylinder",
  diameter: 0.366,
  length: 0.8,
  wall: 0.0032,
  thinnest: 0.0026,
  ends: [
    { form: "ellipsoidal", depth: 0.0915 },
    { form: "ellipsoidal", depth: 0.0915 },
  ],
  position: "lying",
}

describe("the elevation", () => {
  it("is as long as shell and ends together", () => {
    expect(extent(SHAPE)).toEqual({ along: 0.8 + 2 * 0.0915, across: 0.366 })
    expect(extent({ ...SHAPE, form: "sphere" })).toEqual({ along: 0.366, across: 0.366 })
  })

  it("is drawn to one scale, lying or standing", () => {
    const lying = render(<Elevation shape={SHAPE} scale={100} ground={false} />).container.querySelector("svg")!
    const standing = render(<Elevation shape={{ ...SHAPE, position: "standing" }} scale={100} ground={false} />).container.querySelector("svg")!
    expect(Number(lying.getAttribute("width"))).toBeCloseTo(98.3 + 6, 5)
    expect(Number(standing.getAttribute("width"))).toBeCloseTo(36.6 + 6, 5)
  })

  it("marks the thinnest wall with its figure", () => {
    render(<Elevation shape={SHAPE} scale={400} dimensions habit="metric" />)
    expect(screen.getByText("thinnest 2.6 mm")).toBeTruthy()
    expect(screen.getByText("800 mm")).toBeTruthy()
  })
})

const LINE: Schema["Line"] = {
  figure: "test_pressure",
  symbol: "P_t",
  formula: "1.5 × P_b",
  numbers: "1.5 × 8.5 bar",
  value: 1_275_000,
  unit: "Pa",
  shown: "12.75 bar",
  source: "older codes",
}

describe("the lines behind a figure", () => {
  it("show the formula, the numbers put in and the source", () => {
    const { container } = render(<Lines lines={[LINE]} />)
    expect(container.textContent).toContain("Pt = 12.75 bar")
    expect(container.textContent).toContain("1.5 × 8.5 bar")
    expect(container.textContent).toContain("older codes")
  })

  it("are not offered where there are none", () => {
    expect(render(<Why lines={[LINE]} figures={["ceiling"]} />).container.innerHTML).toBe("")
    expect(render(<Why lines={[LINE]} figures={["test_pressure"]} />).container.textContent).toContain("why?")
  })
})

const ANSWER = {
  ceiling: { pressure: 2_600_000, set_by: "shell hoop", known: true },
  allowable: { pressure: 943_000, set_by: "shell hoop", known: true },
  gauge_range: 2_500_000,
  plate_pressure: 1_400_000,
  working_pressure: 850_000,
  relief_set: 900_000,
  gauge_target: 1_275_000,
  target_band: [1_275_000, 1_338_750],
  approach_pressure: 318_750,
  stages: [
    { name: "look", target: 318_750 },
    { name: "three quarters", target: 956_250 },
    { name: "test", target: 1_275_000 },
  ],
} as unknown as Schema["DeriveAnswer"]

describe("what stands on the glass", () => {
  it("facts are at the left and the plan at the right, each mark once", () => {
    expect(glassOf(ANSWER).facts.map((mark) => mark.name)).toEqual(["ceiling", "gauge ends", "plate", "allowable"])
    expect(planOf(ANSWER).map((mark) => mark.name)).toEqual(["test", "wanted", "relief", "look", "¾"])
  })

  it("a relief set at the wanted pressure is not marked twice", () => {
    expect(planOf({ ...ANSWER, relief_set: 850_000 }).map((mark) => mark.name)).not.toContain("relief")
  })

  it("a ceiling far above the test is said to be off the scale, not left out", () => {
    expect(glassOf(ANSWER)).toMatchObject({ ceiling: 2_600_000, above: null })
    const far = { ...ANSWER, ceiling: { ...ANSWER.ceiling, pressure: 9_000_000 } }
    expect(glassOf(far)).toMatchObject({ ceiling: null, above: 9_000_000 })
  })

  it("what is not known is not drawn", () => {
    const bare = { ...ANSWER, plate_pressure: null, ceiling: { ...ANSWER.ceiling, pressure: null } }
    expect(glassOf(bare).facts.map((mark) => mark.name)).toEqual(["gauge ends", "allowable"])
    expect(glassOf(bare)).toMatchObject({ ceiling: null, above: null })
  })
})
