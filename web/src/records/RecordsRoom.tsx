import type { ReactNode } from "react"
import { NavLink } from "react-router"
import { Head } from "../app/Shell"
import { useTheme } from "../app/theme"

const PARTS = [
  ["/records", "Logbook"],
  ["/records/due", "Due"],
  ["/records/keep", "Carry and keep"],
] as const

/** What the records room's parts share: its head, and the way between them. */
export function RecordsRoom({ title, children, beside }: { title: string; children: ReactNode; beside?: ReactNode }) {
  useTheme("daylight")
  return (
    <>
      <Head />
      <main className="mx-auto w-full max-w-6xl flex-1 overflow-auto px-4 py-4 sm:px-5">
        <div className="mb-3 flex flex-wrap items-end gap-x-6 gap-y-2">
          <h1 className="text-3xl">{title}</h1>
          <nav aria-label="Records" className="flex gap-1">
            {PARTS.map(([to, name]) => (
              <NavLink
                key={to}
                to={to}
                end
                className={({ isActive }) =>
                  `border-line px-3 py-1.5 ${isActive ? "border-ink bg-paper font-semibold text-ink" : "border-transparent text-quiet hover:text-ink"}`
                }
              >
                {name}
              </NavLink>
            ))}
          </nav>
          <span className="ml-auto">{beside}</span>
        </div>
        {children}
      </main>
    </>
  )
}
