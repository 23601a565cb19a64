import { describe, expect, it } from "vitest"
import { at, textAt, typedOver, withAt } from "./path"

const SHEET = { kind: "receiver", shell: { wall: "3 mm" }, fittings: [{ name: "a", place: { on: "shell" } }, { name: "b" }] }

describe("reaching into a sheet", () => {
  it("reads what stands at a path, and nothing where nothing does", () => {
    expect(at(SHEET, "fittings.1.name")).toBe("b")
    expect(textAt(SHEET, "gauge.range")).toBe("")
  })

  it("changes one thing and leaves the sheet it was given alone", () => {
    const changed = withAt(SHEET, "fittings.0.place.on", "end 1")
    expect(at(changed, "fittings.0.place.on")).toBe("end 1")
    expect(at(SHEET, "fittings.0.place.on")).toBe("shell")
    expect(at(changed, "fittings.1.name")).toBe("b")
  })

  it("makes the parts on the way", () => {
    expect(at(withAt(SHEET, "gauge.range", "25 bar"), "gauge")).toEqual({ range: "25 bar" })
  })

  it("takes out what is emptied, and the part that is left empty with it", () => {
    expect(withAt(SHEET, "shell.wall", undefined)).not.toHaveProperty("shell")
    expect(at(withAt(SHEET, "fittings.0", undefined), "fittings")).toEqual([{ name: "b" }])
  })
})

describe("kit off the board", () => {
  const sheet = { gauge: { name: "Test gauge, 25", range: "25 bar", division: "0.5 bar" }, pump: { stroke: "12 mL" } }

  it("is that piece no longer once it is altered by hand", () => {
    expect(typedOver(sheet, "gauge.division", "0.1 bar").gauge).toEqual({ range: "25 bar", division: "0.1 bar" })
    expect(typedOver(sheet, "gauge.division", "").gauge).toEqual({ range: "25 bar" })
  })

  it("stays what it is where only how it is fitted here is told, or nothing is changed", () => {
    expect(typedOver(sheet, "gauge.height_above_top", "0.2 m").gauge).toMatchObject({ name: "Test gauge, 25" })
    expect(typedOver(sheet, "gauge.division", "0.5 bar")).toEqual(sheet)
    expect(typedOver(sheet, "pump.stroke", "10 mL").pump).toEqual({ stroke: "10 mL" })
    expect(typedOver(sheet, "trapped_air", "5 mL")).toMatchObject({ trapped_air: "5 mL", gauge: sheet.gauge })
  })
})
