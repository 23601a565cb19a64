import type { Schema } from "../api/client"
import { leak, type Habit } from "./units"

const STATE = { met: "text-moss", "not met": "text-vermilion", "not known": "text-brass-ink" }
const MARK = { met: "✓", "not met": "✗", "not known": "?" }

/** A baseline that a hold is held against: what its rig did by itself, and how alike both are, line by line. */
export function HowAlike({ told, habit, brief }: { told: Schema["BaselineOut"]; habit: Habit; brief?: boolean }) {
  return (
    <section className="my-1 text-note" aria-label="How alike" data-testid="alike">
      <p className={told.alike.fits ? "" : "strip border-brass"}>
        <strong>{told.name}</strong> lost {leak(told.leak, habit)} by itself, at most {leak(told.most, habit)}. {told.alike.says}
      </p>
      <ul className="mt-1 grid grid-cols-2 gap-x-4 text-small sm:grid-cols-3">
        {told.alike.checks
          .filter((one) => !brief || one.state !== "met")
          .map((one) => (
            <li key={one.code} className="min-w-0 leading-snug">
              <span className={`${STATE[one.state]} mr-1 font-semibold`} aria-label={one.state}>
                {MARK[one.state]}
              </span>
              {one.name} <span className="text-quiet">{one.says}</span>
            </li>
          ))}
      </ul>
    </section>
  )
}
