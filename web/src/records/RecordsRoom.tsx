import { useQuery } from "@tanstack/react-query"
import type { ReactNode } from "react"
import { NavLink } from "react-router"
import { api, asked } from "../api/client"
import { Head } from "../app/Shell"
import { useTheme } from "../app/theme"
import { Alert } from "../parts/Alert"

/** What the doctor found wrong the last time it looked: a record that was changed with another program. */
function LookedOver() {
  const { data } = useQuery({ queryKey: ["looked-over"], queryFn: () => asked(api.GET("/api/looked-over")), staleTime: 60_000 })
  if (!data?.length) return null
  return <Alert className="mb-3">{data.join(" ")} Do not rely on it. Put a backup back, or ask whoever works with these files what they did.</Alert>
}

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
        <LookedOver />
        {children}
      </main>
    </>
  )
}
