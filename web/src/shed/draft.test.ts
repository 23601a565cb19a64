import { describe, expect, it } from "vitest"
import { draftOf, EMPTY, sheetOf, thinnestWritten } from "./draft"

const TYPED = {
  ...EMPTY,
  name: "Tank",
  working_pressure: "120psi",
  plate_pressure: "14 bar",
  made: "1996",
  inside_diameter: "14 1/2 in",
  length: "800 mm",
  wall: "3.2 mm",
  end_wall: "3.5 mm",
}

describe("the vessel form and the open format", () => {
  it("is no sheet before there is a wanted pressure", () => {
    expect(sheetOf(EMPTY)).toBeNull()
    expect(sheetOf({ ...EMPTY, working_pressure: "  " })).toBeNull()
  })

  it("keeps quantities in the words they were typed in", () => {
    const sheet = sheetOf(TYPED)!
    expect(sheet["working_pressure"]).toBe("120psi")
    expect(sheet["shell"]).toMatchObject({ inside_diameter: "14 1/2 in", length: "800 mm" })
    expect(sheet["ends"]).toEqual([
      { form: "ellipsoidal", wall: "3.5 mm" },
      { form: "ellipsoidal", wall: "3.5 mm" },
    ])
  })

  it("leaves out what is not known instead of writing nothing", () => {
    const sheet = sheetOf(TYPED)!
    for (const key of ["relief_set", "retire"]) expect(sheet).not.toHaveProperty(key)
    expect(sheet["shell"]).not.toHaveProperty("corrosion")
  })

  it("has years as numbers, and hands on what is no year to be refused in words", () => {
    expect(sheetOf(TYPED)!["made"]).toBe(1996)
    expect(sheetOf({ ...TYPED, made: "ninety-six" })!["made"]).toBe("ninety-six")
  })

  it("a sphere has no length and no ends", () => {
    const sheet = sheetOf({ ...TYPED, form: "sphere" })!
    expect(sheet["shell"]).not.toHaveProperty("length")
    expect(sheet["ends"]).toEqual([])
  })

  it("stays are given with their pitch only where there are stays", () => {
    const stayed = sheetOf({ ...TYPED, end_form: "stayed", pitch: "25 mm" })!
    expect((stayed["ends"] as object[])[0]).toEqual({ form: "stayed", wall: "3.5 mm", pitch: "25 mm" })
    const flat = sheetOf({ ...TYPED, end_form: "flat", pitch: "25 mm" })!
    expect((flat["ends"] as object[])[0]).not.toHaveProperty("pitch")
  })

  it("what the form does not show is not lost when it is kept", () => {
    const before = { kind: "receiver", working_pressure: "8 bar", fittings: [{ name: "plug" }], shell: { youngs_modulus: "190 GPa" } }
    const sheet = sheetOf(TYPED, before)!
    expect(sheet["fittings"]).toEqual([{ name: "plug" }])
    expect(sheet["shell"]).toMatchObject({ youngs_modulus: "190 GPa" })
  })

  it("goes to the sheet and back without a change", () => {
    const sheet = sheetOf(TYPED)!
    expect(draftOf("Tank", "", sheet, "")).toEqual(TYPED)
    expect(sheetOf(draftOf("Tank", "", sheet, ""), sheet)).toEqual(sheet)
  })

  it("shows the thinnest reading and keeps the others unless it is changed", () => {
    const sheet = { ...sheetOf(TYPED)!, shell: { inside_diameter: "366 mm", length: "800 mm", wall_readings: ["3.1 mm", "2.6 mm"] } }
    expect(thinnestWritten(sheet)).toBe("2.6 mm")
    const kept = sheetOf(draftOf("Tank", "", sheet, "2.6 mm"), sheet)!
    expect(kept["shell"]).toMatchObject({ wall_readings: ["3.1 mm", "2.6 mm"] })
    const changed = sheetOf(draftOf("Tank", "", sheet, "2.4 mm"), sheet)!
    expect(changed["shell"]).toMatchObject({ wall_readings: ["2.4 mm"] })
  })
})
