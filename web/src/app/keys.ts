import { useLayoutEffect, useSyncExternalStore } from "react"

/** A key of the present screen: what is pressed, what it does in words, and what happens; `through` a dialog that lies open, too. */
export type Key = { key: string; does: string; act: () => void; disabled?: boolean; through?: boolean }

let present: Key[][] = []
const listeners = new Set<() => void>()
const tell = () => listeners.forEach((listener) => listener())

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
    const onControl = event.target instanceof HTMLElement && ["BUTTON", "A", "SUMMARY"].includes(event.target.tagName)
    if (onControl && (event.key === "Enter" || event.key === " ")) return
    const keys = present.flat().filter((key) => !key.disabled && (!asked || key.through))
    const found = keys.findLast((key) => key.key === event.key) ?? keys.findLast((key) => key.key.toLowerCase() === event.key.toLowerCase())
    if (!found) return
    event.preventDefault()
    found.act()
  }
  window.addEventListener("keydown", onKey)
  return () => window.removeEventListener("keydown", onKey)
}
