import { useRef } from "react"

/** Longer than this after a key, what is on the screen counts again, ms. */
const STALE = 700

/** Where a mark is on its way to: keys pressed quickly go on from there, and not from what is still drawn. */
export function usePending<T>() {
  const kept = useRef(new Map<string, { value: T; at: number }>())
  return {
    from: (key: string, shown: T): T => {
      const found = kept.current.get(key)
      return found && performance.now() - found.at < STALE ? found.value : shown
    },
    to: (key: string, value: T): T => {
      kept.current.set(key, { value, at: performance.now() })
      return value
    },
    settle: (key: string) => kept.current.delete(key),
  }
}
