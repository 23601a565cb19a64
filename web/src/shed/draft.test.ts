import { describe, expect, it } from "vitest"
import type { Schema } from "../api/client"
import { draftOf, EMPTY, FORMS, sheetOf, thinnestWritten, USUAL, type Sheet } from "./draft"

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

const thinnest = (reading: number) => ({ wall: { thinnest_reading: reading } }) as Schema["DeriveAnswer"]

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
    const before = {
      kind: "receiver",
      working_pressure: "8 bar",
      fittings: [{ name: "plug" }],
      shell: { inside_diameter: "366 mm", youngs_modulus: "190 GPa" },
    }
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
    const shell = { inside_diameter: "366 mm", length: "800 mm", wall_readings: ["3.1 mm", "2.6 mm"] }
    const sheet = { ...sheetOf(TYPED)!, shell }
    expect(thinnestWritten(sheet, thinnest(1))).toBe("2.6 mm")
    const kept = sheetOf(draftOf("Tank", "", sheet, "2.6 mm"), sheet)!
    expect(kept["shell"]).toMatchObject({ wall_readings: ["3.1 mm", "2.6 mm"] })
    const changed = sheetOf(draftOf("Tank", "", sheet, "2.4 mm"), sheet)!
    expect(changed["shell"]).toMatchObject({ wall_readings: ["2.4 mm"] })
  })
})

describe("every shape in the open format", () => {
  const low = { ...EMPTY, name: "Tank", working_pressure: "22 mbar" }

  it("a drum, a box and a cask are given by their own sizes and have no shell", () => {
    expect(sheetOf({ ...low, form: "drum", inside_diameter: "570 mm", height: "820 mm" })!["box"]).toEqual({ diameter: "570 mm", height: "820 mm" })
    const box = sheetOf({ ...low, form: "box", length: "1 m", width: "0.5 m", height: "0.4 m" })!
    expect(box["box"]).toEqual({ length: "1 m", width: "0.5 m", height: "0.4 m" })
    const cask = sheetOf({ ...low, form: "cask", bilge: "318 mm", head: "268 mm", length: "398 mm" })!
    expect(cask["cask"]).toEqual({ bilge: "318 mm", head: "268 mm", length: "398 mm" })
    for (const sheet of [box, cask]) expect(sheet).not.toHaveProperty("shell")
  })

  it("is not there before its sizes are", () => {
    expect(sheetOf({ ...low, form: "box", length: "1 m" })).not.toHaveProperty("box")
    expect(sheetOf({ ...low, form: "cask", bilge: "318 mm" })).not.toHaveProperty("cask")
  })

  it("comes back into the form as it went out", () => {
    for (const draft of [
      { ...TYPED, form: "sphere" as const, end_form: "none", end_wall: "", length: "" },
      { ...TYPED, end_form: "torispherical", crown: "366 mm", knuckle: "37 mm" },
      { ...TYPED, tube_count: "19", tube_diameter: "12.7 mm", tube_wall: "1.2 mm", maker_test_limit: "20 bar" },
      {
        ...EMPTY,
        name: "Tank",
        working_pressure: "22 mbar",
        form: "drum" as const,
        inside_diameter: "570 mm",
        height: "820 mm",
        material: "other",
        end_form: "ellipsoidal",
      },
      { ...EMPTY, name: "Tank", working_pressure: "0.2 bar", form: "cask" as const, bilge: "318 mm", head: "268 mm", length: "398 mm", material: "other" },
    ]) {
      expect(draftOf("Tank", "", sheetOf(draft)!, "")).toEqual(draft)
    }
  })

  it("two ends that differ are left as they are", () => {
    const ends: Sheet["ends"] = [
      { form: "flat", wall: "12 mm" },
      { form: "ellipsoidal", wall: "3 mm" },
    ]
    const draft = draftOf("Tank", "", { ...sheetOf(TYPED)!, ends }, "")
    expect(draft.end_form).toBe("mixed")
    expect(sheetOf({ ...draft, working_pressure: "7 bar" }, { ends })!["ends"]).toEqual(ends)
  })

  it("an end keeps its own readings when its form is changed", () => {
    const before: Partial<Sheet> = {
      ends: [
        { form: "flat", wall: "12 mm", wall_readings: ["11.8 mm"] },
        { form: "flat", wall: "12 mm" },
      ],
    }
    const changed = sheetOf({ ...TYPED, end_form: "ellipsoidal", end_wall: "12 mm" }, before)!["ends"] as object[]
    expect(changed[0]).toEqual({ form: "ellipsoidal", wall: "12 mm", wall_readings: ["11.8 mm"] })
  })

  it("readings with a place stay on the strip whatever the form says", () => {
    const readings = [{ wall: "2.6 mm", along: "400 mm" }, "3.1 mm"]
    const before = { shell: { inside_diameter: "366 mm", wall_readings: readings } }
    expect((sheetOf({ ...TYPED, thinnest: "2 mm" }, before)!["shell"] as { wall_readings: unknown }).wall_readings).toEqual(readings)
    expect(thinnestWritten(before, thinnest(0))).toBe("2.6 mm")
    expect(thinnestWritten({}, null)).toBe("")
  })

  it("hands on a count of tubes that is none, to be refused in words", () => {
    const sheet = sheetOf({ ...TYPED, tube_count: "some", tube_diameter: "12 mm", tube_wall: "1 mm" })!
    expect((sheet["tubes"] as { count: unknown }[])[0]!.count).toBe("some")
  })

  it("every kind begins with a shape of its own", () => {
    for (const usual of Object.values(USUAL)) expect(FORMS).toContain(usual.form)
    expect(Object.keys(USUAL)).toHaveLength(11)
  })
})
