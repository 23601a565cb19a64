import { useQuery } from "@tanstack/react-query"
import { useEffect, useId, useState, type ReactNode } from "react"
import { api, asked as answered } from "../api/client"
import { NEEDED } from "./Fields"

export type QuantityKind = "pressure" | "length" | "angle" | "volume" | "temperature" | "temperature_difference" | "time" | "leak" | "mass" | "torque" | "power"

type QuantityFieldProps = {
  label: string
  kind: QuantityKind
  value: string
  onChange: (text: string) => void
  /** Unit to take where none is typed. */
  unit?: string
  hint?: ReactNode
  required?: boolean
  /** What the server said of this field beyond its form. */
  problem?: string | null
  /** The server's name of it, where a form looks for the field of a refusal. */
  name?: string
  autoFocus?: boolean
  disabled?: boolean
  compact?: boolean
}

/** What the server understands of a text: the quantity, or what would be accepted. */
function useReadBack(text: string, kind: QuantityKind, unit: string | undefined) {
  const [settled, setSettled] = useState(text)
  useEffect(() => {
    const timer = setTimeout(() => setSettled(text), 250)
    return () => clearTimeout(timer)
  }, [text])
  return useQuery({
    queryKey: ["quantity", kind, unit, settled],
    enabled: settled.trim() !== "",
    queryFn: () => answered(api.POST("/api/quantities/read", { body: { text: settled, kind, default_unit: unit ?? null } })),
    staleTime: Infinity,
    retry: false,
  })
}

const BARE = /^[-+\u2212]?[\d\s.,/\u2044]*\d$/

/** A bare number gets the field's own unit; while it is typed it stays as typed on the screen. */
export function withUnit(text: string, unit: string | undefined): string {
  const bare = text.trim()
  if (unit?.endsWith(OF_WATER) && LONG.test(bare)) return `${bare}${OF_WATER}`
  return unit && BARE.test(bare) ? `${bare} ${unit}` : text
}

const OF_WATER = " water"
/** A length alone: in a field that says “of water” it is a column of water. */
const LONG = /^[\d\s.,/\u2044]*\d\s*(mm|cm|m|in|inch|inches|"|\u2033)$/i

/** The unit of a pressure that people say as a column of water. */
export const columnUnit = (metric: boolean) => (metric ? "cm" : "in") + OF_WATER

/** Two writings of one quantity look alike when only spaces and sign differ. */
const plain = (text: string) => text.replace(/[\s°]/g, "").replace("deg", "").replace("\u2212", "-")

/** A field that takes a quantity as people write it, and shows how it was understood. */
export function QuantityField(props: QuantityFieldProps) {
  const { label, kind, value, onChange, unit, hint, required, problem, name, autoFocus, disabled, compact } = props
  const id = useId()
  const [typed, setTyped] = useState<string | null>(null)
  const readBack = useReadBack(value, kind, unit)
  const refused = value.trim() !== "" ? (readBack.data?.problem ?? readBack.error?.message ?? null) : null
  const [asked, setAsked] = useState(false)
  const needed = asked && required && value.trim() === "" ? NEEDED : null
  const says = refused ?? problem ?? needed
  const understood = value.trim() !== "" && !refused ? readBack.data : undefined
  return (
    <div className={compact ? "" : "mb-2"}>
      <label htmlFor={id} className={`mb-0.5 block truncate text-quiet ${compact ? "text-small" : "text-small"}`}>
        {label}
        {required && <span aria-hidden="true"> *</span>}
      </label>
      <input
        id={id}
        type="text"
        name={name}
        onInvalid={() => setAsked(true)}
        className={`input w-full bg-paper figure ${compact ? "h-8 px-2 text-note" : "h-9"} ${says ? "input-error" : ""}`}
        value={typed ?? value}
        required={required}
        disabled={disabled}
        autoFocus={autoFocus}
        autoComplete="off"
        spellCheck={false}
        aria-invalid={says ? true : undefined}
        aria-describedby={`${id}-says`}
        onChange={(event) => {
          setTyped(event.target.value)
          onChange(withUnit(event.target.value, unit))
        }}
        onBlur={() => setTyped(null)}
      />
      <div id={`${id}-says`} className={`min-h-[17px] text-fine leading-[17px]`} aria-live="polite">
        {says ? (
          <span className="text-vermilion">{says}</span>
        ) : understood ? (
          <span className="text-quiet">
            {compact && plain(understood.shown) === plain(value) ? "" : `${understood.shown} · `}
            <span className="whitespace-nowrap">{understood.other === understood.shown ? (compact ? "" : understood.other) : understood.other}</span>
          </span>
        ) : (
          <span className="text-quiet">{hint}</span>
        )}
      </div>
    </div>
  )
}
