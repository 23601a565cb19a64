// @vitest-environment jsdom
import { act, cleanup, fireEvent, render, screen } from "@testing-library/react"
import { afterEach, beforeEach, expect, it, vi } from "vitest"
import { listen } from "../app/keys"
import { habitFor } from "../parts/units"
import type { BenchState, Hands } from "./queries"
import { SoapPanel } from "./SoapPanel"

let deaf: () => void
beforeEach(() => {
  globalThis.ResizeObserver = class {
    observe() {}
    unobserve() {}
    disconnect() {}
  }
  Element.prototype.scrollIntoView = () => undefined
  deaf = listen(() => false)
})
afterEach(() => {
  deaf()
  cleanup()
})

const SECTIONS = ["Hose", "Bottom seam", "Top seam"].map((name) => ({ id: name, name, owner: "boundary" as const, x: null, v: null }))

/** The panel over three sections, none of them marked unless it is said. */
function shown(step: Hands["step"], observed: object[] = []) {
  const bench = { sections: SECTIONS, observed, leaks: [], allowed: ["observed"] } as unknown as BenchState
  render(<SoapPanel bench={bench} hands={{ step } as Hands} habit={habitFor("metric" as never, 5000)} />)
}
const marks = (step: ReturnType<typeof vi.fn>) => step.mock.calls.map(([, { place, word }]) => `${place} ${word}`)

it("marks the next section with the next key, however quickly the keys come", () => {
  const step = vi.fn(() => new Promise<never>(() => undefined))
  shown(step)
  for (const key of ["ArrowDown", "ArrowUp", "1", "1", "1"]) fireEvent.keyDown(document.body, { key })
  expect(marks(step)).toEqual(["Hose dry", "Bottom seam dry", "Top seam dry"])
})

it("goes on to the next section after a leak too, and asks why before a leak is taken back", () => {
  HTMLDialogElement.prototype.showModal = function () {
    this.open = true
  }
  const step = vi.fn(() => Promise.resolve())
  const leak = { what: "soap", word: "bubbles", leaks: true, unmended: true, pressure: 2100, at: "2026-08-01T10:00:00Z" }
  shown(step as never, [{ ...leak, place: "Bottom seam" }])
  fireEvent.click(screen.getByRole("button", { name: /Hose/ }))
  for (const key of ["4", "1"]) fireEvent.keyDown(document.body, { key })
  expect(marks(step)).toEqual(["Hose bubbles"])
  expect(screen.getByRole("dialog").textContent).toContain("Bottom seam: no leak any more?")
  fireEvent.change(screen.getByLabelText(/Why is it no leak/), { target: { value: "a splash" } })
  fireEvent.click(screen.getByRole("button", { name: /It is dry/ }))
  expect(step.mock.calls.at(-1)).toEqual(["observed", { what: "soap", place: "Bottom seam", word: "dry", why: "a splash" }, "soap, Bottom seam: dry"])
})

it("says of a mark that was not taken which section it was, and leads no later key there", async () => {
  let refuse: (problem: Error) => void = () => undefined
  const step = vi.fn((_: string, { place }: { place?: string }) => new Promise<never>((_, no) => (refuse = place === "Hose" ? no : refuse)))
  shown(step as never)
  fireEvent.keyDown(document.body, { key: "1" })
  await act(async () => refuse(new Error("The run is in another hand.")))
  fireEvent.keyDown(document.body, { key: "1" })
  expect(marks(step)).toEqual(["Hose dry", "Bottom seam dry"])
  expect(screen.getByRole("alert").textContent).toBe("Hose is not marked: The run is in another hand.")
  fireEvent.click(screen.getByRole("button", { name: /Hose/ }))
  fireEvent.keyDown(document.body, { key: "1" })
  expect(screen.queryByRole("alert")).toBeNull()
})
