import { useLayoutEffect, useSyncExternalStore } from "react"

/**
 * A key of the present screen: what is pressed, what it does in words, and what happens; `through` a dialog that lies open, too.
 * `waits`: why it does nothing now, where that is known.
 */
export type Key = { key: string; does: string; act: () => void; disabled?: boolean; through?: boolean; waits?: string | null }

let present: Key[][] = []
const listeners = new Set<() => void>()
const tell = () => listeners.forEach((listener) => listener())

let held: Key | null = null
let heldUntil = 0
const HELD = 2000

/** The key that was pressed and did nothing: no key is swallowed without a sign. */
export function useHeldKey(): Key | null {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener)
      return () => listeners.delete(listener)
    },
    () => held,
  )
}

function hold(key: Key) {
  held = key
  heldUntil = performance.now() + HELD
  tell()
  setTimeout(() => {
    if (performance.now() < heldUntil) return
    held = null
    tell()
  }, HELD + 20)
}

/** The keys of this screen while it is shown. Typing in a field is left alone. */
export function useKeys(keys: Key[]) {
  useLayoutEffect(() => {
    present = [...present, keys]
    tell()
    return () => {
      present = present.filter((set) => set !== keys)
      tell()
    }
  })
}

/** All keys that work now, for the overlay. */
export function usePresentKeys(): Key[] {
  const sets = useSyncExternalStore(
    (listener) => {
      listeners.add(listener)
      return () => listeners.delete(listener)
    },
    () => present,
  )
  return sets.flat()
}

function typing(target: EventTarget | null): boolean {
  return target instanceof HTMLElement && (target.isContentEditable || ["INPUT", "TEXTAREA", "SELECT"].includes(target.tagName))
}

let going = false
let pointed: Element | null = null

/** Listen for keys on the whole page; `go` is called for g and a letter. */
export function listen(go: (letter: string) => boolean): () => void {
  const onKey = (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented || typing(event.target)) return
    const asked = document.querySelector("dialog[open]") !== null && event.key !== "?"
    if (going && !asked) {
      going = false
      if (go(event.key.toLowerCase())) event.preventDefault()
      return
    }
    if (event.key === "g" && !asked) {
      going = true
      setTimeout(() => (going = false), 1500)
      return
    }
    const onControl = event.target instanceof HTMLElement && CONTROLS.includes(event.target.tagName)
    if (onControl && event.key === " ") return
    const here = present.flat().filter((key) => !asked || key.through)
    const called = (keys: Key[]) => keys.findLast((key) => key.key === event.key) ?? keys.findLast((key) => key.key.toLowerCase() === event.key.toLowerCase())
    const found = called(here.filter((key) => !key.disabled))
    // Whoever pressed a button with a finger or the mouse, and then Enter, means the key that says ⏎; whoever came to it by Tab means the button.
    if (onControl && event.key === "Enter" && (event.target !== pointed || !found)) return
    if (event.repeat && event.key === "Enter") return event.preventDefault()
    if (found) {
      event.preventDefault()
      return found.act()
    }
    const known = called(here)
    if (known) hold(known)
  }
  const onPointer = (event: PointerEvent) => {
    pointed = event.target instanceof Element ? event.target.closest(CONTROLS.join(",")) : null
  }
  const onFocus = (event: FocusEvent) => {
    if (event.target !== pointed) pointed = null
  }
  window.addEventListener("keydown", onKey)
  window.addEventListener("pointerdown", onPointer)
  window.addEventListener("focusin", onFocus)
  return () => {
    window.removeEventListener("keydown", onKey)
    window.removeEventListener("pointerdown", onPointer)
    window.removeEventListener("focusin", onFocus)
  }
}

const CONTROLS = ["BUTTON", "A", "SUMMARY"]
