import type { Schema } from "../api/client"

type Line = Schema["Line"]

/** The working behind figures: formula, numbers put in, source. */
export function Lines({ lines }: { lines: Line[] }) {
  return (
    <ol className="space-y-2">
      {lines.map((line) => (
        <li key={line.figure} className="break-inside-avoid border-l-2 border-rule pl-3">
          <div className="figure text-note">
            {subscripted(line.symbol)} = {line.shown}
          </div>
          <div className="font-mono text-small">
            {subscripted(line.formula)}: {subscripted(line.numbers)}
          </div>
          <div className="text-fine text-quiet">{subscripted(line.source)}</div>
        </li>
      ))}
    </ol>
  )
}

/** P_t with its index set low. */
export function subscripted(text: string) {
  return text.split(/(_[A-Za-z]+)/).map((part, index) =>
    part.startsWith("_") ? (
      <sub key={index} className="text-[0.75em]">
        {part.slice(1)}
      </sub>
    ) : (
      part
    ),
  )
}

/** A figure with its lines behind a disclosure: nothing is a black box. */
export function Why({ lines, figures }: { lines: Line[]; figures: string[] }) {
  const found = figures.flatMap((figure) => lines.filter((line) => line.figure === figure))
  if (!found.length) return null
  return (
    <details className="mt-1">
      <summary className="w-fit text-small text-water-ink dotted">why?</summary>
      <div className="mt-2">
        <Lines lines={found} />
      </div>
    </details>
  )
}
