import { afterEach, describe, expect, it } from "vitest"
import { aim, ago, clock, day, digits, energy, habitFor, inUnit, isMetric, moment, ordinal, reading, show, tellIn, unitOf, waterColumn } from "./units"

describe("figures as a maker reads them", () => {
  it.each([
    [12.7899, 4, "12.79"],
    [12.7, 4, "12.7"],
    [8.5, 3, "8.5"],
    [0.000732, 2, "0.00073"],
    [174_996, 3, "175\u2009000"],
    [-0.4, 2, "−0.4"],
    [0, 3, "0"],
    [9.9999, 3, "10"],
    [1275, 3, "1280"],
    [Number.NaN, 3, "–"],
    [Number.POSITIVE_INFINITY, 3, "–"],
  ])("%f with %i figures is %s", (value, figures, text) => {
    expect(digits(value, figures)).toBe(text)
  })

  it.each([
    [850_000, "pressure", "metric", "8.5 bar"],
    [850_000, "pressure", "imperial", "123 psi"],
    [0.366, "length", "metric", "366 mm"],
    [0.366, "length", "imperial", "14.4 in"],
    [0.097, "volume", "metric", "97 L"],
    [0.097, "volume", "imperial", "25.6 gal"],
    [289.15, "temperature", "metric", "16 °C"],
    [289.15, "temperature", "imperial", "60.8 °F"],
    [96.9, "mass", "imperial", "214 lb"],
    [2e-6 / 3600, "leak", "metric", "2 mL/h"],
  ] as const)("%d as %s in the %s habit is %s", (value, kind, habit, text) => {
    expect(show(value, kind, habit)).toBe(text)
  })

  it("what is not known is said, never shown as nought", () => {
    expect(show(null, "pressure", "metric")).toBe("not known")
    expect(show(undefined, "volume", "imperial")).toBe("not known")
    expect(energy(null)).toBe("not known")
    expect(day(null)).toBe("not known")
  })

  it("a reading keeps its decimals, so that the figures do not jump", () => {
    expect(reading(1_270_000, "metric", 12.75e5)).toBe("12.70")
    expect(reading(1_270_000, "imperial", 12.75e5)).toBe("184.2")
    expect(reading(67_500, "metric", 2.714e5)).toBe("0.675")
    expect(reading(67_500, "imperial", 2.714e5)).toBe("9.79")
    expect(reading(2_150, "millibar", 3_300)).toBe("21.5")
  })

  it("a unit and its number belong together", () => {
    for (const habit of ["metric", "imperial"] as const) {
      expect(show(1e6, "pressure", habit, 6)).toBe(`${digits(inUnit(1e6, "pressure", habit), 6)} ${unitOf("pressure", habit)}`)
    }
  })

  it("energy is in joules until that is hard to read", () => {
    expect(energy(86.4)).toBe("86.4 J")
    expect(energy(9_900)).toBe("9900 J")
    expect(energy(174_996)).toBe("175 kJ")
  })
})

describe("time", () => {
  it.each([
    [0, "0:00"],
    [126, "2:06"],
    [59.6, "1:00"],
    [3726, "1:02:06"],
    [-4, "0:00"],
  ])("%f s on the clock is %s", (seconds, text) => {
    expect(clock(seconds)).toBe(text)
  })

  it.each([
    [0.4, "just now"],
    [12, "12 s ago"],
    [300, "5 min ago"],
    [7300, "2 h ago"],
  ])("%f s ago is said as %s", (seconds, text) => {
    expect(ago(seconds)).toBe(text)
  })

  it("trials are counted in words as far as people do", () => {
    expect([1, 2, 3, 10, 11].map(ordinal)).toEqual(["first", "second", "third", "tenth", "11th"])
  })

  it("a date is written out", () => {
    expect(day("2026-11-24T10:00:00Z")).toBe("24 Nov 2026")
  })
})

describe("low heads", () => {
  it("are read in millibar by people who read bar, and by nobody else", () => {
    expect(habitFor("metric", 3300)).toBe("millibar")
    expect(habitFor("metric", 12e5)).toBe("metric")
    expect(habitFor("imperial", 3300)).toBe("imperial")
    expect(habitFor("metric", null)).toBe("metric")
  })

  it("are told as a water column too", () => {
    expect(waterColumn(3300)).toBe("337 mm of water")
  })

  it("change the pressure's unit alone", () => {
    expect(show(3300, "pressure", "millibar")).toBe("33 mbar")
    expect(show(0.0052, "length", "millibar")).toBe("5.2 mm")
    expect(isMetric("millibar")).toBe(true)
  })
})

describe("days and moments", () => {
  afterEach(() => tellIn("UTC"))

  it.each(["America/Denver", "UTC", "Pacific/Auckland"])("tells a day as the day it is, read in %s", (zone) => {
    tellIn(zone)
    expect(day("2026-03-14")).toBe("14 Mar 2026")
  })

  it("tells a moment in the workshop's zone", () => {
    tellIn("Pacific/Auckland")
    expect(day("2026-03-14T23:30:00Z")).toBe("15 Mar 2026")
    tellIn("America/Denver")
    expect(day("2026-03-15T02:30:00Z")).toBe("14 Mar 2026")
    expect(moment("2026-03-15T02:30:00Z")).toBe("14 Mar 2026, 20:30")
  })
})

describe("what has to be reached", () => {
  it.each([
    [271_401, "metric", "2.715"],
    [1_275_000, "metric", "12.75"],
    [1.5 * 100 * 6894.757293168, "imperial", "150"],
    [3_301, "millibar", "33.01"],
  ] as const)("%d Pa is never written as less", (pressure, habit, written) => {
    expect(aim(pressure, habit)).toBe(written)
  })
})
