import { useEffect, useState } from "react"
import type { Schema } from "../api/client"
import type { Sheet } from "./draft"
import { useLook } from "./queries"

type Found = Schema["Looked"] | undefined

/** A draft that has rested for a moment: asking at every key would be asking too much. */
export function useSettled<T>(value: T, rest: number): T {
  const [settled, setSettled] = useState(value)
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), rest)
    return () => clearTimeout(timer)
  }, [value, rest])
  return settled
}

/** The last look that could be drawn, and what is wrong with the present one. */
export function useGoodLook(sheet: Sheet | null) {
  const look = useLook(sheet)
  const [good, setGood] = useState<Found>(undefined)
  if (look.data?.answer && look.data !== good) setGood(look.data)
  const problem = look.data?.says ? { says: look.data.says, field: look.data.field ?? null } : null
  return { good, problem }
}
