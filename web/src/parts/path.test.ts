import { describe, expect, it } from "vitest"
import { at, textAt, withAt } from "./path"

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
