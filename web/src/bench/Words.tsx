type WordsProps = { name: string; words: string[]; chosen: string | undefined; disabled: boolean; keep: (word: string) => void }

/** What an instrument shows in one of a few words. */
export function Words({ name, words, chosen, disabled, keep }: WordsProps) {
  return (
    <div role="group" aria-label={name} className="flex items-center gap-2">
      <span className="w-20 shrink-0 text-small leading-tight text-quiet">{name}</span>
      {words.map((word) => (
        <button
          key={word}
          className={`btn btn-sm min-h-10 border-line ${chosen === word ? "border-ink bg-ground font-bold" : "border-rule"}`}
          aria-pressed={chosen === word}
          disabled={disabled}
          onClick={() => keep(word)}
        >
          {word}
        </button>
      ))}
    </div>
  )
}
