// @vitest-environment jsdom
import { act, cleanup, fireEvent, render, screen } from "@testing-library/react"
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest"
import { listen, useHeldKey, useKeys } from "./keys"

let deaf: () => void
beforeEach(() => {
  deaf = listen(() => false)
})
afterEach(() => {
  deaf()
  cleanup()
})

function Screen({ next, more, waits = false }: { next: () => void; more: () => void; waits?: boolean }) {
  useKeys([{ key: "Enter", does: "reached", act: next, disabled: waits, waits: waits ? "It is on its way." : null }])
  const held = useHeldKey()
  return (
    <>
      <button onClick={more}>More</button>
      <p role="status">{held && `${held.does}: ${held.waits}`}</p>
    </>
  )
}

/** As a browser does: Enter on a button that has the focus presses it, unless somebody prevented that. */
function enter(on: Element, repeat = false) {
  if (fireEvent.keyDown(on, { key: "Enter", repeat }) && on instanceof HTMLButtonElement) on.click()
}

describe("Enter", () => {
  it("means the screen's own key after a button was pressed by pointer, and the button itself for whoever came by Tab", () => {
    const [next, more] = [vi.fn(), vi.fn()]
    render(<Screen next={next} more={more} />)
    const button = screen.getByRole("button")
    fireEvent.pointerDown(button)
    button.focus()
    enter(button)
    expect([next.mock.calls.length, more.mock.calls.length]).toEqual([1, 0])
    button.blur()
    fireEvent.focusIn(document.body)
    button.focus()
    enter(button)
    expect([next.mock.calls.length, more.mock.calls.length]).toEqual([1, 1])
  })

  it("takes one step however long it is held down", () => {
    const next = vi.fn()
    render(<Screen next={next} more={vi.fn()} />)
    enter(document.body)
    enter(document.body, true)
    enter(document.body, true)
    expect(next).toHaveBeenCalledTimes(1)
  })

  it("is never swallowed without a sign", () => {
    const next = vi.fn()
    render(<Screen next={next} more={vi.fn()} waits />)
    enter(document.body)
    expect(next).not.toHaveBeenCalled()
    expect(screen.getByRole("status").textContent).toBe("reached: It is on its way.")
  })

  it("says that it waits for a moment only, though the phone's clock is put back an hour meanwhile", () => {
    vi.useFakeTimers()
    render(<Screen next={vi.fn()} more={vi.fn()} waits />)
    enter(document.body)
    vi.setSystemTime(Date.now() - 3_600_000)
    act(() => vi.advanceTimersByTime(2100))
    expect(screen.getByRole("status").textContent).toBe("")
    vi.useRealTimers()
  })
})
