// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen } from "@testing-library/react"
import { MemoryRouter } from "react-router"
import { afterEach, describe, expect, it, vi } from "vitest"
import type { Schema } from "../api/client"
import { movesOf } from "./moves"
import type { Plan, Sheet } from "./queries"
import { Changed, Warnings } from "./Warnings"

afterEach(cleanup)

const ANSWER = {
  stops: [{ code: "above-ceiling", says: "The test would reach 36 bar." }],
  cautions: [{ code: "chloride", says: "Stainless: 50 ppm." }],
  offer: 11.8e5,
  working_pressure: 24e5,
  base_pressure: 8.5e5,
  test_pressure: 12.75e5,
  gauge_target: 12.79e5,
  gauge_head: 0.04e5,
  stages: [{ name: "look", target: 3.2e5, pause: 180 }, { name: "test", target: 12.79e5, pause: 0 }],
} as unknown as Schema["DeriveAnswer"] // prettier-ignore
const PLAN = {
  vessel_id: "v",
  answer: ANSWER,
  missing: [{ field: "gauge", says: "Which gauge will be read?" }],
  copied_from: 2,
  vessel_changes: [],
  changed: ["drain: rating no longer said, it was 40 bar"],
} as unknown as Plan

function warnings(changes: Partial<Parameters<typeof Warnings>[0]> = {}) {
  const [change, lead] = [vi.fn(), vi.fn()]
  render(
    <MemoryRouter>
      <Warnings
        plan={PLAN}
        answer={ANSWER}
        problem={null}
        draft={{ kind: "receiver", working_pressure: "8.5 bar" }}
        change={change}
        habit="metric"
        disabled={false}
        lead={lead}
        {...changes}
      />
    </MemoryRouter>,
  )
  return { change, lead }
}

describe("stops, gaps and cautions of a plan", () => {
  it("a pressure that is too high is answered with one that is not, in the person's unit", () => {
    const { change } = warnings({ habit: "imperial" })
    fireEvent.click(screen.getByRole("button", { name: "Ask for 171 psi instead" }))
    expect(change).toHaveBeenCalledWith({ kind: "receiver", working_pressure: "171 psi" })
  })

  it("what is missing leads to where it is said", () => {
    const { lead } = warnings()
    fireEvent.click(screen.getByRole("button", { name: "Say it" }))
    expect(lead).toHaveBeenCalledWith("gauge")
  })

  it("a frozen plan offers nothing to change", () => {
    warnings({ disabled: true })
    expect(screen.queryByRole("button", { name: /instead/ })).toBeNull()
    expect(screen.getByText("Stainless: 50 ppm.")).toBeTruthy()
  })

  it("what changed since the plan before is told in words", () => {
    const close = vi.fn()
    render(<Changed plan={PLAN} close={close} />)
    expect(screen.getByRole("region").textContent).toContain("Begun from the plan of trial 2.drain: rating no longer said, it was 40 bar")
    fireEvent.click(screen.getByRole("button", { name: "Seen" }))
    expect(close).toHaveBeenCalled()
  })
})

describe("what is moved on the glass", () => {
  const moves = (more: Partial<Sheet>) => {
    const change = vi.fn()
    const draft = { kind: "receiver", working_pressure: "8.5 bar", ...more }
    return { change, moves: movesOf({ draft, change, habit: "metric", problem: null, disabled: false, answer: ANSWER }) }
  }

  it("the wanted pressure is written as it is read", () => {
    const { change, moves: m } = moves({ basis: "proof-150" })
    m.wanted!.to(8.6e5)
    expect(change).toHaveBeenCalledWith({ kind: "receiver", basis: "proof-150", working_pressure: "8.6 bar" })
  })

  it("the test becomes a factor of one's own, the gauge's head taken off, and stays between one and four", () => {
    const { change, moves: m } = moves({})
    m.test!.to(12.79e5)
    m.test!.to(99e5)
    m.test!.to(1e5)
    expect(change.mock.calls.map(([sheet]) => (sheet as { factor: number }).factor)).toEqual([1.5, 4, 1])
  })

  it("a stage becomes one's own, no higher than the next", () => {
    const { change, moves: m } = moves({ gauge: { range: "25 bar", division: "0.1 bar" } })
    m.stage!(0).to(99e5)
    expect((change.mock.calls[0]![0] as { stages: { target: string }[] }).stages).toEqual([{ target: "12.69 bar", pause: "3 min", name: "look" }])
  })
})
