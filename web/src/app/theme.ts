import { useEffect, useSyncExternalStore } from "react"

export type Theme = "daylight" | "lamp"
type Choice = Theme | "room"

const listeners = new Set<() => void>()
let choice: Choice = stored()

function stored(): Choice {
  const found = globalThis.localStorage?.getItem("toadbell-theme")
  return found === "daylight" || found === "lamp" ? found : "room"
}

/** The chosen theme, or "room": Lamp on the bench, Daylight elsewhere. */
export function useThemeChoice(): [Choice, (next: Choice) => void] {
  const now = useSyncExternalStore(
    (listener) => {
      listeners.add(listener)
      return () => listeners.delete(listener)
    },
    () => choice,
  )
  return [
    now,
    (next) => {
      choice = next
      localStorage.setItem("toadbell-theme", next)
      listeners.forEach((listener) => listener())
    },
  ]
}

/** Put the theme of this room on the page. */
export function useTheme(room: Theme) {
  const [chosen] = useThemeChoice()
  const theme = chosen === "room" ? room : chosen
  useEffect(() => {
    document.documentElement.dataset.theme = theme
  }, [theme])
  return theme
}
