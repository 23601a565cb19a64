type Option<T extends string> = readonly [value: T, title: string, says?: string]

type ChoicesProps<T extends string> = {
  legend: string
  /** Of the group of radio buttons. */
  name: string
  options: readonly Option<T>[]
  value: T | null
  choose: (value: T) => void
  /** Tailwind's classes for how many stand beside each other. */
  columns: string
}

/** One of a few: each with its title, and what it means. */
export function Choices<T extends string>({ legend, name, options, value, choose, columns }: ChoicesProps<T>) {
  return (
    <fieldset className={`mb-3 grid gap-2 ${columns}`}>
      <legend className="mb-1 text-quiet">{legend}</legend>
      {options.map(([id, title, says]) => (
        <label key={id} className={`flex min-h-14 items-center gap-3 border-line px-3 ${value === id ? "border-ink bg-ground" : "border-rule"}`}>
          <input type="radio" className="radio" name={name} checked={value === id} onChange={() => choose(id)} />
          <span>
            {title}
            {says && <span className="block text-note text-quiet">{says}</span>}
          </span>
        </label>
      ))}
    </fieldset>
  )
}
