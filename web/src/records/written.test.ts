import { describe, expect, it } from "vitest"
import { howFar } from "../parts/units"
import { readSheet } from "./written"

const file = (text: string, name = "wharf tank.json") => new File([text], name, { type: "application/json" })
const SHEET = { kind: "receiver", working_pressure: "8.5 bar" }

describe("a vessel's sheet from a file", () => {
  it("is read bare, and named after its file", async () => {
    expect(await readSheet(file(JSON.stringify(SHEET)))).toEqual({ name: "wharf tank", notes: "", sheet: SHEET })
  })

  it("keeps the name and the notes that stand around it", async () => {
    const whole = { name: "Wharf receiver", notes: "By the slipway", sheet: SHEET }
    expect(await readSheet(file(JSON.stringify(whole)))).toEqual(whole)
  })

  it.each([
    ["{", "cannot be read as JSON"],
    ["[1]", "says no kind"],
    ["null", "says no kind"],
    ['"text"', "says no kind"],
    ['{"sheet": null}', "says no kind"],
    ['{"working_pressure": "8 bar"}', "says no kind"],
  ])("%s is refused in words", async (text, says) => {
    await expect(readSheet(file(text))).rejects.toThrow(says)
  })

  it("cuts a name that is too long for a tag", async () => {
    expect((await readSheet(file(JSON.stringify({ name: "x".repeat(500), sheet: SHEET })))).name).toHaveLength(120)
  })
})

describe("how far off a day is", () => {
  it.each([
    [0, "today"],
    [1, "in 1 day"],
    [21, "in 21 days"],
    [-2, "2 days ago"],
    [200, "in 7 months"],
    [-695, "23 months ago"],
    [900, "in 2 years"],
  ])("%i days", (days, words) => expect(howFar(days)).toBe(words))
})
