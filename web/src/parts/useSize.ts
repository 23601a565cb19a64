import { useCallback, useState } from "react"

/** The size of an element in px, kept up to date; attach `ref` to the element. */
export function useSize(): [(element: HTMLElement | null) => (() => void) | undefined, { width: number; height: number }] {
  const [size, setSize] = useState({ width: 0, height: 0 })
  const ref = useCallback((element: HTMLElement | null) => {
    if (!element) return undefined
    const observer = new ResizeObserver(([entry]) => {
      if (entry) setSize({ width: entry.contentRect.width, height: entry.contentRect.height })
    })
    observer.observe(element)
    return () => observer.disconnect()
  }, [])
  return [ref, size]
}
