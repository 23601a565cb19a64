import type { ReactNode } from "react"
import { Link, NavLink } from "react-router"
import { ordinal } from "../parts/units"
import { Habits } from "./Shell"
import { Toad } from "./Toad"

type TrialHeadProps = { id: string; vessel: string; number: number; state: string; note?: ReactNode }

const OPEN: Record<string, string[]> = {
  planned: ["plan"],
  ready: ["plan", "bench"],
  running: ["plan", "bench"],
  held: ["plan", "bench", "judge"],
  judged: ["plan", "bench", "judge", "record"],
  closed: ["plan", "bench", "judge", "record"],
  aborted: ["plan", "bench", "judge", "record"],
}

/** The head of a trial's rooms: which vessel, which trial, and the way from plan to record. */
export function TrialHead({ id, vessel, number, state, note }: TrialHeadProps) {
  const open = OPEN[state] ?? []
  const steps = [
    ["plan", "Plan", `/trials/${id}/plan`],
    ["bench", "Bench", `/trials/${id}/bench`],
    ["judge", "Judge", `/trials/${id}/judge`],
    ["record", "Record", `/records/${id}`],
  ] as const
  return (
    <header className="no-print flex min-h-[52px] shrink-0 pt-1 sm:pt-0 flex-wrap items-center gap-x-4 border-b-line border-ink px-3 sm:px-5">
      <Link to="/" aria-label="Toad Bell, the shed" className="text-ink">
        <Toad />
      </Link>
      <h1 className={`max-w-[calc(100vw-72px)] leading-tight sm:max-w-[30ch] ${vessel.length > 24 ? "text-body" : "text-large"}`}>{vessel}</h1>
      <span className="hidden text-quiet md:inline">
        {ordinal(number)} trial{note && <> · {note}</>}
      </span>
      <nav aria-label="Trial" className="ml-auto flex items-center">
        {steps.map(([key, name, to], index) => (
          <span key={key} className="flex items-center">
            {index > 0 && <span className="hidden h-[1.5px] w-5 bg-rule sm:block" aria-hidden="true" />}
            {open.includes(key) ? (
              <NavLink
                to={to}
                className={({ isActive }) =>
                  `border-b-bold px-2 py-3.5 sm:px-3 ${isActive ? "border-primary font-semibold text-ink" : "border-transparent text-quiet hover:text-ink"}`
                }
              >
                {name}
              </NavLink>
            ) : (
              <span role="link" aria-disabled="true" className="px-2 py-3.5 text-quiet opacity-55 sm:px-3" title="Not yet">
                {name}
              </span>
            )}
          </span>
        ))}
      </nav>
      <div className="hidden items-center sm:flex">
        <Habits />
      </div>
    </header>
  )
}
