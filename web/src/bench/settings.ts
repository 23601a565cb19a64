import { useSyncExternalStore } from "react"

type Setting = "bell" | "calls"
const DEFAULTS: Record<Setting, boolean> = { bell: true, calls: false }
const listeners = new Set<() => void>()

function read(setting: Setting): boolean {
  const kept = localStorage.getItem(`toadbell.${setting}`)
  return kept === null ? DEFAULTS[setting] : kept === "on"
}

/** Bell and call-outs, switched on this machine and kept there. */
export function useSetting(setting: Setting): [boolean, () => void] {
  const on = useSyncExternalStore(
    (listener) => {
      listeners.add(listener)
      return () => listeners.delete(listener)
    },
    () => read(setting),
  )
  const turn = () => {
    localStorage.setItem(`toadbell.${setting}`, on ? "off" : "on")
    listeners.forEach((listener) => listener())
  }
  return [on, turn]
}
