import { Dial } from "./Dial"
import { textAt } from "./path"

/** The number of a quantity as it is written. */
export const number = (text: string) => Number.parseFloat(text.replace(",", "."))
const unitIn = (text: string) => text.replace(/^[\d.,\s/-]+/, "").trim() || "bar"

/** A gauge of a sheet as a dial; the mark is in the gauge's own unit. */
export function GaugeDial({ sheet, size, mark }: { sheet: unknown; size: number; mark?: number | null }) {
  const range = textAt(sheet, "range")
  if (!Number.isFinite(number(range))) return null
  const division = textAt(sheet, "division")
  const same = unitIn(division) === unitIn(range)
  return <Dial range={number(range)} division={division && same ? number(division) : null} unit={unitIn(range)} size={size} mark={mark} />
}
