// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen } from "@testing-library/react"
import { afterEach, beforeAll, describe, expect, it, vi } from "vitest"
import type { Schema } from "../api/client"
import { CircuitPicture, columnsOf, ringOf } from "./CircuitPicture"
import { DetectCurve } from "./DetectCurve"
import { Dial } from "./Dial"
import { bubbles, rows } from "./elevation/bubbles"
import { Elevation } from "./elevation/Elevation"
import { extent, frameOf, placeAt, roomFor } from "./elevation/frame"
import { Openings } from "./elevation/Openings"
import type { View } from "./elevation/Pins"
import { Seen, tubesOn, viewsOf } from "./elevation/Seen"
import { Glass } from "./Glass"
import { Lines, Why } from "./Lines"
import { glassOf, planOf } from "./marks"
import { withUnit } from "./QuantityField"
import { Tag } from "./Tag"

beforeAll(() => {
  // jsdom lays nothing out: everything is as large as a phone
  globalThis.ResizeObserver = class {
    constructor(private readonly tell: ResizeObserverCallback) {}
    observe() {
      this.tell([{ contentRect: { width: 390, height: 600 } } as ResizeObserverEntry], this as unknown as ResizeObserver)
    }
    unobserve() {}
    disconnect() {}
  }
})
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
  it.each(["fit", "limited", "tight", "not fit", "not proven"] as const)("says %s in words, not by colour alone", (fitness) => {
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

const SHAPE: Schema["Drawing"] = {
  kind: "receiver",
  form: "cylinder",
  plastic: false,
  diameter: 0.366,
  length: 0.8,
  width: null,
  wall: 0.0032,
  thinnest: 0.0026,
  ends: [],
  tubes: [],
  position: "lying",
  tilt: 0,
  roll: 0,
  tall: 0.366,
  level: null,
  outline: [
    { x: -0.09, r: 0 },
    { x: 0, r: 0.183 },
    { x: 0.8, r: 0.183 },
    { x: 0.89, r: 0 },
  ],
  openings: [{ name: "outlet", x: 0.4, v: 0.183, w: 0, dx: 0, dv: 1, facing: 0, fitted: null, choice: "vent", ready: false }],
  readings: [],
  filling: [],
}
const STANDING = { ...SHAPE, position: "standing" as const, tilt: Math.PI / 2 }

describe("the elevation", () => {
  it("is as wide and tall as the vessel in its attitude", () => {
    expect(extent(SHAPE)).toEqual({ wide: 0.98, tall: 0.366 })
    const standing = extent(STANDING)
    expect(standing.wide).toBeCloseTo(0.366)
    expect(standing.tall).toBeCloseTo(0.98)
    expect(extent({ ...SHAPE, tilt: 0.1 }).tall).toBeGreaterThan(0.366)
  })

  it("is drawn to one scale, lying or standing", () => {
    const lying = render(<Elevation shape={SHAPE} scale={100} ground={false} />).container.querySelector("svg")!
    const standing = render(<Elevation shape={STANDING} scale={100} ground={false} />).container.querySelector("svg")!
    expect(Number(lying.getAttribute("width"))).toBeCloseTo(98 + 6, 5)
    expect(Number(standing.getAttribute("width"))).toBeCloseTo(36.6 + 6, 5)
  })

  it("marks the thinnest wall with its figure", () => {
    render(<Elevation shape={SHAPE} scale={400} dimensions habit="metric" />)
    expect(screen.getByText("thinnest 2.6 mm")).toBeTruthy()
    expect(screen.getByText("800 mm")).toBeTruthy()
  })

  it("finds on the vessel what is pointed at on the sheet, however it lies", () => {
    for (const shape of [SHAPE, STANDING, { ...SHAPE, tilt: 0.3 }]) {
      const frame = frameOf(shape)
      const [x, v] = frame.toVessel(...frame.toSheet(0.3, 0.1))
      expect(x).toBeCloseTo(0.3)
      expect(v).toBeCloseTo(0.1)
    }
  })

  it("turns what is pointed at into a place: shell or end, to five millimetres", () => {
    expect(placeAt(SHAPE, 0.302, 0.18)).toEqual({ on: "shell", along: "300 mm", round: "0 deg" })
    expect(placeAt(SHAPE, 0.302, -0.2)).toEqual({ on: "shell", along: "300 mm", round: "180 deg" })
    expect(placeAt(SHAPE, 0.5, 0)).toEqual({ on: "shell", along: "500 mm", round: "90 deg" })
    expect(placeAt(SHAPE, -0.05, -0.1)).toEqual({ on: "end 1", out: "100 mm", round: "180 deg" })
    const drum = { ...STANDING, form: "drum" as const, tall: 0.98 }
    expect(placeAt(drum, 1, 0.1)).toEqual({ on: "top", along: "100 mm" })
    expect(placeAt(drum, 0.4, 0.2)).toEqual({ on: "side", up: "400 mm" })
  })

  it("finds room for an opening away from those there are", () => {
    expect(roomFor({ ...SHAPE, openings: [] })).toEqual({ on: "shell", along: "400 mm", round: "0 deg" })
    expect(roomFor(SHAPE)).toEqual({ on: "shell", along: "200 mm", round: "0 deg" })
    const top = [0.5, 0.25, 0.75, 0.125, 0.875, 0.375, 0.625].map((part) => ({ ...SHAPE.openings[0]!, x: 0.8 * part }))
    expect(roomFor({ ...SHAPE, openings: top })["round"]).toBe("180 deg")
    const first = roomFor({ ...SHAPE, openings: [] })
    expect(roomFor({ ...SHAPE, openings: [] }, [first])).not.toEqual(first) // one that is not drawn yet has its spot all the same
  })

  it("moves an opening by the arrow keys and tells which one is chosen", () => {
    const [moved, chosen] = [vi.fn(), vi.fn()]
    render(
      <Elevation
        shape={SHAPE}
        scale={400}
        over={(px) => <Openings shape={SHAPE} px={px} order={["outlet"]} selected="outlet" onMove={moved} onSelect={chosen} />}
      />,
    )
    const opening = screen.getByRole("button", { name: /Opening 1, outlet/ })
    expect(opening.getAttribute("aria-pressed")).toBe("true")
    fireEvent.keyDown(opening, { key: "ArrowRight" })
    expect(moved).toHaveBeenCalledWith("outlet", { on: "shell", along: "410 mm", round: "0 deg" })
    fireEvent.keyDown(opening, { key: "Enter" })
    expect(chosen).toHaveBeenCalledWith("outlet")
  })
})

describe("the numbers of openings", () => {
  const row = (facing: number) =>
    Array.from({ length: 9 }, (_, n) => ({ ...SHAPE.openings[0]!, name: `${facing} ${n}`, x: 0.2 + 0.03 * n, v: facing ? 0 : 0.183, facing }))
  const shape = { ...SHAPE, openings: [...row(0), ...row(1)] }
  const px = { x: (x: number) => 300 * x, y: (_: number, v: number) => 200 - 300 * v }

  it("stand apart, on the wall as on the face, and not over the figures in the middle", () => {
    const spots = [...bubbles(shape, px, [130, 200]).values()]
    spots.forEach(([x, y], i) => {
      expect(Math.abs(x - 130) < 60 && Math.abs(y - 200) < 30).toBe(false)
      for (const [a, b] of spots.slice(i + 1)) expect(Math.hypot(a - x, b - y)).toBeGreaterThan(22)
    })
  })

  it("ask for as many rows as they need", () => {
    expect(rows({ ...SHAPE, openings: row(0).slice(0, 1) }, 300)).toBe(0)
    expect(rows({ ...SHAPE, openings: row(0) }, 300)).toBe(2)
  })
})

describe("the sides of a vessel", () => {
  const plug = { ...SHAPE.openings[0]!, name: "plug", x: 0.89, v: 0.05, w: -0.06, dx: 1, dv: 0 }
  const handHole = { ...SHAPE.openings[0]!, name: "hand hole", x: 0.2, v: 0, w: 0.183, facing: 1 }
  const shape = { ...SHAPE, openings: [plug, handHole] }
  const order = ["plug", "hand hole"]
  const pinned = (view: View) => ({
    id: "1",
    at: "",
    owner: "rig",
    whose: "",
    where: "",
    shows: "",
    mend: null,
    found: "eye",
    pressure: null,
    rate: null,
    times_tightened: 0,
    until: null,
    story: [],
    pin: { x: 0.1, v: 0, view, seen: "" },
  })
  const at = (view: View) => {
    const { container } = render(<Seen shape={shape} view={view} fit={[300, 150]} order={order} leaks={[pinned(view)]} />)
    const texts = [...container.querySelectorAll("text")].map((text) => ({ says: text.textContent, x: Number(text.getAttribute("x")) }))
    cleanup()
    return texts
  }
  const numbers = (view: View) =>
    at(view)
      .slice(0, -1)
      .map((text) => text.says)

  it("have the openings that are seen there, and the pins", () => {
    expect(numbers("front")).toEqual(["1", "2"])
    expect(numbers("back")).toEqual(["1"])
    expect(numbers("end 1")).toEqual([])
    expect(numbers("end 2")).toEqual(["1"])
  })

  it("are turned about: what is left in front is right behind", () => {
    const [front, back] = [at("front").at(-1)!.x, at("back").at(-1)!.x]
    const plugs = [at("front")[0]!.x, at("back")[0]!.x]
    expect(front < plugs[0]!).toBe(true)
    expect(back > plugs[1]!).toBe(true)
  })

  it("are called as they stand or lie", () => {
    expect(viewsOf(SHAPE).map(([, name]) => name)).toEqual(["front", "behind", "left end", "right end"])
    expect(viewsOf(STANDING).map(([, name]) => name)).toEqual(["front", "behind", "bottom", "top"])
  })

  it("are the six faces of a box", () => {
    expect(viewsOf({ ...STANDING, form: "box" }).map(([view]) => view)).toEqual(["front", "back", "left", "right", "end 1", "end 2"])
  })

  it("show every tube of a plate apart from the others, within it", () => {
    const tubes = tubesOn({ ...SHAPE, diameter: 0.3, tubes: [{ count: 19, diameter: 0.016, length: 0.4 }] })
    expect(tubes).toHaveLength(19)
    for (const [i, [h, u, d]] of tubes.entries()) {
      expect(Math.hypot(h, u) + d / 2).toBeLessThan(0.15)
      for (const [a, b] of tubes.slice(i + 1)) expect(Math.hypot(h - a, u - b)).toBeGreaterThan(d)
    }
  })
})

describe("sections and the valves between them", () => {
  const named = (...names: string[]) => names.map((name, i) => ({ name, gauged: i === 0 }))
  const valve = (name: string, ...between: [string, string]) => ({ name, between })

  it("go round where they are a ring, and nowhere else", () => {
    const ring = [valve("1", "a", "b"), valve("2", "c", "b"), valve("3", "c", "a")]
    expect(ringOf(named("a", "b", "c"), ring)).toEqual(["a", "b", "c"])
    expect(ringOf(named("a", "b", "c"), ring.slice(0, 2))).toBeNull()
  })

  it("spread from the gauge, by how many valves they are away", () => {
    const tee = [valve("1", "a", "b"), valve("2", "b", "c"), valve("3", "b", "d")]
    expect(columnsOf(named("a", "b", "c", "d"), tee)).toEqual([["a"], ["b"], ["c", "d"]])
  })

  it("are turned by a click, and say whether they are shut", () => {
    const turn = vi.fn()
    render(<CircuitPicture sections={named("a", "b")} valves={[{ ...valve("cock", "a", "b"), shut: true }]} width={390} height={200} turn={turn} />)
    const cock = screen.getByRole("button", { name: "cock, between a and b: shut" })
    fireEvent.click(cock)
    fireEvent.keyDown(cock, { key: " " })
    expect(turn.mock.calls).toEqual([["cock"], ["cock"]])
  })
})

describe("the glass", () => {
  const moved = vi.fn()
  const glass = (pressure: number) => (
    <Glass habit="metric" facts={[]} plan={[{ name: "wanted", pressure, tone: "brass", move: { step: 1e4, does: "up and down", to: moved } }]} />
  )

  it("moves a mark by the arrow keys, five steps with Shift, and goes on from where quick keys led", () => {
    render(glass(8.5e5))
    const mark = screen.getByRole("slider", { name: "wanted: up and down" })
    expect(mark.getAttribute("aria-valuetext")).toBe("8.5 bar")
    fireEvent.keyDown(mark, { key: "ArrowUp" })
    fireEvent.keyDown(mark, { key: "ArrowUp", shiftKey: true })
    fireEvent.keyDown(mark, { key: "x" })
    expect(moved.mock.calls.map(([pressure]) => Math.round(pressure as number))).toEqual([860_000, 910_000])
  })

  it("never moves a mark to nothing", () => {
    moved.mockClear()
    render(glass(1e4))
    fireEvent.keyDown(screen.getByRole("slider"), { key: "ArrowDown" })
    expect(moved).toHaveBeenCalledWith(1e4)
  })
})

describe("a gauge as its dial", () => {
  it("says its range, its division and where the test is", () => {
    render(<Dial range={25} division={0.5} unit="bar" mark={12.75} />)
    expect(screen.getByRole("img", { name: "Dial to 25 bar, divided in 0.5, test at 12.8" })).toBeTruthy()
    expect(screen.getByText("15")).toBeTruthy()
  })

  it("leaves the mark off where the test is beyond it", () => {
    const { container } = render(<Dial range={10} division={null} unit="bar" mark={12.75} />)
    expect(container.querySelector('line[stroke="var(--brass)"]')).toBeNull()
  })
})

describe("what the hold can tell, as a curve", () => {
  const hold = { minimum: 1800, every: 120, look_pressure: 8.5e5, accepted_leak: 1e-9, smallest_leak: 8e-10, needed: 1200,
    detect: [{ time: 900, leak: 1e-9 }, { time: 28_800, leak: 1e-10 }] } // prettier-ignore

  it("is told in words, and a hold is chosen on it", () => {
    const chosen = vi.fn()
    const { container } = render(<DetectCurve hold={hold} habit="metric" choose={chosen} />)
    expect(screen.getByRole("img", { name: /3.6 mL\/h in 15 min, 0.36 mL\/h in 8 h/ })).toBeTruthy()
    expect(screen.getByText("limit 3.6 mL/h")).toBeTruthy()
    fireEvent.click(container.querySelectorAll("rect")[1]!)
    expect(chosen).toHaveBeenCalledWith(28_800)
  })

  it("is not drawn where nothing can be told", () => {
    expect(render(<DetectCurve hold={{ ...hold, detect: [] }} habit="metric" />).container.innerHTML).toBe("")
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
    { id: "look", name: "look", target: 318_750 },
    { id: "three-quarters", name: "three quarters", target: 956_250 },
    { id: "test", name: "test", target: 1_275_000 },
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
