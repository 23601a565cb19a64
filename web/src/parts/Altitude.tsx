import { useState } from "react"
import { useStands, useWorkshop } from "../api/kit"
import { QuantityField } from "./QuantityField"
import { isMetric, type Habit } from "./units"

type AltitudeProps = { disabled?: boolean; habit: Habit; trial?: string; compact?: boolean }

/** How high the workshop stands: asked once, for every plan that hangs on the outer air. Kept as it is left. */
export function Altitude({ disabled, habit, trial, compact = true }: AltitudeProps) {
  const workshop = useWorkshop()
  const stands = useStands(trial)
  const [typed, setTyped] = useState<string | null>(null)
  const value = typed ?? workshop.data?.altitude ?? ""
  const keep = () => {
    if (typed === null || typed.trim() === (workshop.data?.altitude ?? "")) return
    stands.mutate(typed.trim() || null, { onSuccess: () => setTyped(null) })
  }
  return (
    <div onBlur={keep} onKeyDown={(event) => event.key === "Enter" && keep()}>
      <QuantityField
        compact={compact}
        label="Height above sea"
        kind="length"
        unit={isMetric(habit) ? "m" : "ft"}
        hint="once for all plans"
        value={value}
        onChange={setTyped}
        disabled={disabled}
        problem={stands.error?.message ?? null}
      />
    </div>
  )
}
