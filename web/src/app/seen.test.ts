import { describe, expect, it } from "vitest"
import { again } from "./seen"

const kept = (dataUpdatedAt: number) =>
  JSON.stringify({ clientState: { queries: [{ queryKey: ["bench", "one"], state: { data: { received: 123_456_789, phase: "holding" }, dataUpdatedAt } }] } })

type Back = { clientState: { queries: { state: { data: { received: number; phase: string } } }[] } }

describe("a bench that was kept", () => {
  it("arrived as long ago as the wall's clock says, by the page's own clock", () => {
    const back = again(kept(Date.now() - 40_000)) as unknown as Back
    const { received, phase } = back.clientState.queries[0]!.state.data
    expect((performance.now() - received) / 1000).toBeCloseTo(40, 0)
    expect(phase).toBe("holding")
  })

  it("never arrives in the future, where the wall's clock was put back", () => {
    const back = again(kept(Date.now() + 3_600_000)) as unknown as Back
    expect(back.clientState.queries[0]!.state.data.received).toBeLessThanOrEqual(performance.now())
  })
})
