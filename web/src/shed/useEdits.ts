import { useCallback, useState } from "react"
import type { Refusal } from "../api/client"
import { useKeepVessel } from "../api/vessels"
import type { Sheet } from "./draft"
import { type VesselOut } from "./queries"

/** How the server asks, where a decision rests on the figures that are changed. */
const WHAT_HAPPENED = "What happened to it?"

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
  const keep = (whole: { name: string; notes: string; sheet: Sheet; happened?: string; happened_text?: string }, then?: () => void) =>
    keeping.mutate(
      { happened_text: "", ...whole, version: vessel.version },
      {
        onSuccess: () => {
          sessionStorage.removeItem(key)
          then?.()
        },
      },
    )
  const refusal = keeping.error as Refusal | null
  const asks = refusal?.message.endsWith(WHAT_HAPPENED) ?? false
  return { sheet, change, leave, keep, dirty, saving: keeping.isPending, refusal: asks ? null : refusal, asks, unask: keeping.reset }
}

function stored(key: string): Sheet | null {
  try {
    return JSON.parse(sessionStorage.getItem(key) ?? "null") as Sheet | null
  } catch {
    return null
  }
}
