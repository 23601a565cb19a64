// @vitest-environment jsdom
import { act, cleanup, render, screen } from "@testing-library/react"
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest"
import { fetchLater, later } from "./later"

const Piece = ({ name }: { name: string }) => <p>the {name}</p>

describe("a piece that is fetched later", () => {
  beforeEach(() => vi.useFakeTimers())
  afterEach(() => {
    cleanup()
    vi.useRealTimers()
  })

  it("says so while the server is away, and opens by itself as soon as that is back", async () => {
    let away = true
    const Later = later(async () => (away ? Promise.reject(new Error("away")) : Piece))
    render(<Later name="chart" />)
    expect(screen.queryByRole("status")).toBeNull()
    await act(() => vi.advanceTimersByTimeAsync(0))
    expect(screen.getByRole("status").textContent).toContain("The server does not answer")
    away = false
    await act(() => vi.advanceTimersByTimeAsync(2_000))
    expect(screen.getByText("the chart")).toBeTruthy()
  })

  it("stands at once where it was fetched before anybody wanted it", async () => {
    const Later = later(async () => Piece)
    fetchLater()
    await vi.advanceTimersByTimeAsync(0)
    render(<Later name="panel" />)
    expect(screen.getByText("the panel")).toBeTruthy()
  })
})
