import { useCallback, useState } from "react"
import type { Refusal } from "../api/client"
import type { Sheet } from "./draft"
import { useKeepVessel, type VesselOut } from "./queries"

/** A vessel's sheet as it is being changed on its page. What is not kept yet outlives a reload. */
export function useEdits(vessel: VesselOut) {
  const key = `toadbell-vessel-${vessel.id}-${vessel.version}`
  const [sheet, setSheet] = useState<Sheet>(() => stored(key) ?? vessel.sheet)
  const keeping = useKeepVessel(vessel.id)
  const dirty = JSON.stringify(sheet) !== JSON.stringify(vessel.sheet)
  const change = useCallback(
    (next: Sheet) => {
      setSheet(next)
      sessionStorage.setItem(key, JSON.stringify(next))
    },
    [key],
  )
  const leave = useCallback(() => {
    sessionStorage.removeItem(key)
    setSheet(vessel.sheet)
    keeping.reset()
  }, [key, vessel.sheet, keeping])
  const keep = (whole: { name: string; notes: string; sheet: Sheet }, then?: () => void) =>
    keeping.mutate(
      { ...whole, version: vessel.version },
      {
        onSuccess: () => {
          sessionStorage.removeItem(key)
          then?.()
        },
      },
    )
  return { sheet, change, leave, keep, dirty, saving: keeping.isPending, refusal: keeping.error as Refusal | null }
}

function stored(key: string): Sheet | null {
  try {
    return JSON.parse(sessionStorage.getItem(key) ?? "null") as Sheet | null
  } catch {
    return null
  }
}
