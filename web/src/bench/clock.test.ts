import { describe, expect, it } from "vitest"
import { newId } from "../api/ids"
import { trialNow } from "./clock"

const at = (seconds: number) => new Date(Date.UTC(2026, 10, 24, 10, 0, 0) + seconds * 1000).toISOString()
const ms = (seconds: number) => Date.parse(at(seconds))

describe("the trial's clock", () => {
  it("is the server's clock, whatever this machine's says", () => {
    const clock = { server_now: at(100), wall_anchor: null, trial_anchor: null, speed: 1 }
    const received = 5_000_000
    expect(trialNow(clock, received, received + 2000)).toBe(ms(102))
  })

  it("goes as many times faster as the simulated rig does", () => {
    const clock = { server_now: at(10), wall_anchor: at(0), trial_anchor: at(0), speed: 60 }
    expect(trialNow(clock, 0, 0)).toBe(ms(600))
    expect(trialNow(clock, 0, 1000)).toBe(ms(660))
  })

  it("makes up for the time the lid was shut", () => {
    const clock = { server_now: at(10), wall_anchor: at(0), trial_anchor: at(0), speed: 1 }
    expect(trialNow(clock, 0, 3_600_000)).toBe(ms(3610))
  })

  it("goes on from where it was when its speed was changed", () => {
    const clock = { server_now: at(20), wall_anchor: at(20), trial_anchor: at(1200), speed: 1 }
    expect(trialNow(clock, 0, 5000)).toBe(ms(1205))
  })
})

describe("the ids of readings and steps", () => {
  it("are version 7 and never the same", () => {
    const ids = Array.from({ length: 500 }, newId)
    expect(new Set(ids).size).toBe(500)
    for (const id of ids) expect(id).toMatch(/^[0-9a-f]{8}-[0-9a-f]{4}-7[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/)
  })

  it("begin with the time, so that they sort by it", () => {
    const stamp = Number.parseInt(newId().replaceAll("-", "").slice(0, 12), 16)
    expect(Math.abs(stamp - Date.now())).toBeLessThan(5000)
  })
})
