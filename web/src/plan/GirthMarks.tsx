import type { Px } from "../parts/elevation/Elevation"
import { radiusAt, type Shape } from "../parts/elevation/frame"
import { Text } from "../parts/Fields"
import { at, withAt } from "../parts/path"
import { QuantityField } from "../parts/QuantityField"
import type { FieldsProps } from "./Bases"
import type { Sheet } from "./queries"

type Mark = { name: string; along?: string }
const MOST = 6

const marksOf = (draft: Sheet) => (at(draft, "expansion.marks") as Mark[] | undefined) ?? []

/** Where the tape goes round: each place by its name and how far along from the first seam. */
export function GirthMarks({ draft, change, disabled, unit }: Pick<FieldsProps, "draft" | "change" | "disabled"> & { unit: string }) {
  const marks = marksOf(draft)
  const write = (next: Mark[]) => change(withAt(draft, "expansion.marks", next.length ? next : undefined))
  const put = (n: number, key: keyof Mark, text: string) => write(marks.map((mark, i) => (i === n ? { ...mark, [key]: text || undefined } : mark)) as Mark[])
  return (
    <div className="col-span-full">
      {marks.map((mark, n) => (
        <div key={n} className="grid grid-cols-[1fr_1fr_auto] items-start gap-x-3">
          <Text compact label={`Girth ${n + 1}`} value={mark.name ?? ""} onChange={(text) => put(n, "name", text || `mark ${n + 1}`)} disabled={disabled} />
          <QuantityField
            compact
            label="From the first seam"
            kind="length"
            unit={unit}
            value={mark.along ?? ""}
            onChange={(text) => put(n, "along", text)}
            disabled={disabled}
          />
          <button
            className="btn btn-sm mt-5 border-line border-rule"
            disabled={disabled}
            aria-label={`Take girth ${n + 1} away`}
            onClick={() => write(marks.filter((_, i) => i !== n))}
          >
            ×
          </button>
        </div>
      ))}
      <button
        className="btn btn-sm min-h-9 border-line border-ink"
        disabled={disabled || marks.length >= MOST}
        onClick={() => write([...marks, { name: `mark ${marks.length + 1}` }])}
      >
        Mark where a tape goes round
      </button>
    </div>
  )
}

const METRES: Record<string, number> = { mm: 1e-3, cm: 1e-2, m: 1, in: 0.0254 }

/** A length as it is usually written, in m; null where only the server can read it. */
export function metres(text: string): number | null {
  const size = Number.parseFloat(text.replace(",", "."))
  const unit = METRES[text.replace(/^[\d.,\s]+/, "").trim()]
  return Number.isFinite(size) && unit ? size * unit : null
}

/** The marks as they stand on the drawing: a line round the shell at each, with its number. */
export function MarksDrawn({ draft, shape, px }: { draft: Sheet; shape: Shape; px: Px }) {
  return (
    <g stroke="var(--color-vermilion)" strokeWidth={1.8} strokeDasharray="4 3" data-testid="girth-marks">
      {marksOf(draft).map((mark, n) => {
        const x = mark.along ? metres(mark.along) : null
        if (x == null) return null
        const r = radiusAt(shape, x)
        return (
          <g key={n}>
            <line x1={px.x(x, r)} y1={px.y(x, r)} x2={px.x(x, -r)} y2={px.y(x, -r)} />
            <text x={px.x(x, -r)} y={px.y(x, -r) + 12} textAnchor="middle" fontSize={11} fill="var(--color-vermilion)" stroke="none">
              {n + 1}
            </text>
          </g>
        )
      })}
    </g>
  )
}
