import type { Schema } from "../api/client"
import { Checks } from "./Checks"
import { digits, show, type Habit } from "./units"
import { useSize } from "./useSize"

const TONES = { met: "text-moss", "not-met": "text-vermilion", "cannot-tell": "text-brass-ink" }

/** What articles of a design bore: each on one line of pressure, what is asked, the bound, and what that proves. */
export function Burst({ told, habit, large }: { told: Schema["BurstAnswer"]; habit: Habit; large?: boolean }) {
  const [first, rest] = told.says.split(/(?<=:) /)
  const asked = told.asked * told.wanted
  const most = 1.1 * Math.max(asked, ...told.articles.map((one) => one.counts), told.expected ?? 0)
  const [ref, { width }] = useSize()
  const x = (pressure: number) => 8 + (pressure / most) * (width - 16)
  const marks: [string, number | null | undefined, string][] = [
    ["wanted", told.wanted, "var(--quiet)"],
    ["asked", asked, "var(--color-vermilion)"],
    ["bound", told.bound, "var(--color-brass)"],
    ["expected", told.expected, "var(--water)"],
  ]
  return (
    <section data-testid="burst-of-design" className="text-small">
      <p className={large ? "text-head leading-tight" : "text-body font-semibold"}>
        <span className={TONES[told.answer]}>{first}</span> <span className="font-sturdy">{rest}</span>
      </p>
      <div ref={ref} className="my-1 max-w-2xl">
        <svg width={width} height={74} role="img" aria-label={`${told.articles.length} articles between nought and ${show(most, "pressure", habit)}`}>
          <line x1={8} x2={Math.max(8, width - 8)} y1={40} y2={40} stroke="var(--color-ink)" strokeWidth={2} />
          {marks.map(([name, at, colour], n) =>
            at == null ? null : (
              <g key={name}>
                <line x1={x(at)} x2={x(at)} y1={24} y2={56} stroke={colour} strokeWidth={2.5} strokeDasharray={name === "bound" ? "4 3" : undefined} />
                <text x={x(at)} y={n % 2 ? 70 : 16} textAnchor={x(at) > width - 50 ? "end" : x(at) < 60 ? "start" : "middle"} fontSize={12} fill={colour}>
                  {name} {show(at, "pressure", habit)}
                </text>
              </g>
            ),
          )}
          {told.articles.map((one, n) => (
            <circle
              key={n}
              cx={x(one.counts)}
              cy={40}
              r={6}
              fill={one.whole ? "var(--color-ground)" : "var(--color-ink)"}
              stroke="var(--color-ink)"
              strokeWidth={2}
            >
              <title>{one.name}</title>
            </circle>
          ))}
        </svg>
      </div>
      <table className="w-full max-w-2xl">
        <tbody>
          {told.articles.map((one, n) => (
            <tr key={n} className="border-b border-rule">
              <td className="py-0.5 pr-3">{one.name}</td>
              <td className="figure pr-3">{show(one.counts, "pressure", habit)}</td>
              <td className="figure pr-3">{digits(one.factor, 3)} ×</td>
              <td className="pr-3">{one.whole ? "let go whole" : `${one.mode}, ${one.place}`}</td>
              <td className="text-quiet">{one.felicity == null ? "" : `felicity ${digits(one.felicity, 2)}`}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <Checks checks={told.checks} />
      {told.settle_it.length > 0 && <p className="mt-1 text-quiet">{told.settle_it.join(" Or: ")}</p>}
    </section>
  )
}
