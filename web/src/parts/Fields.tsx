import { useId, useState, type ReactNode } from "react"

/** What a field says that a form cannot do without. */
export const NEEDED = "This is needed."

export function Pair({ children }: { children: ReactNode }) {
  return <div className="grid grid-cols-2 gap-x-4">{children}</div>
}

type TextProps = {
  disabled?: boolean
  label: string
  value: string
  onChange: (value: string) => void
  hint?: string
  required?: boolean
  autoFocus?: boolean
  says?: string | null
  compact?: boolean
  type?: "text" | "date"
  /** The server's name of it, where a form looks for the field of a refusal. */
  name?: string
}

/** A line of text, with what is wrong with it beneath. */
export function Text({ label, value, onChange, hint, required, autoFocus, says: refused, compact, type = "text", name, disabled }: TextProps) {
  const id = useId()
  const [asked, setAsked] = useState(false)
  const says = refused ?? (asked && required && value.trim() === "" ? NEEDED : null)
  return (
    <div className={compact ? "" : "mb-2"}>
      <label htmlFor={id} className={`mb-0.5 block truncate text-quiet ${compact ? "text-small" : "text-small"}`}>
        {label}
        {required && <span aria-hidden="true"> *</span>}
      </label>
      <input
        id={id}
        type={type}
        name={name}
        onInvalid={() => setAsked(true)}
        className={`input w-full bg-paper ${compact ? "h-8 px-2 text-note" : "h-9"} ${says ? "input-error" : ""}`}
        value={value}
        required={required}
        disabled={disabled}
        autoFocus={autoFocus}
        autoComplete="off"
        aria-invalid={says ? true : undefined}
        aria-describedby={`${id}-says`}
        onChange={(event) => onChange(event.target.value)}
      />
      <div id={`${id}-says`} className={`${compact ? "min-h-[17px]" : "min-h-[18px]"} text-fine leading-[18px] ${says ? "text-vermilion" : "text-quiet"}`}>
        {says ?? hint}
      </div>
    </div>
  )
}

type PickProps = {
  label: string
  value: string
  onChange: (value: string) => void
  options: readonly (readonly [string, string])[]
  compact?: boolean
  disabled?: boolean
}

/** One of several. */
export function Pick({ label, value, onChange, options, compact, disabled }: PickProps) {
  const id = useId()
  return (
    <div className={compact ? "" : "mb-2"}>
      <label htmlFor={id} className={`mb-0.5 block truncate text-quiet ${compact ? "text-small" : "text-small"}`}>
        {label}
      </label>
      <select
        id={id}
        className={`select w-full bg-paper pr-7 text-ellipsis ${compact ? "h-8 pl-2 text-note" : "h-9 pl-3"}`}
        value={value}
        disabled={disabled}
        onChange={(event) => onChange(event.target.value)}
      >
        {options.map(([key, name]) => (
          <option key={key} value={key}>
            {name}
          </option>
        ))}
      </select>
      <div className={compact ? "min-h-[17px]" : "min-h-[18px]"} />
    </div>
  )
}
