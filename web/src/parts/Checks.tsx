import { StateMark } from "./Ledger"

type Check = { code: string; name: string; state: "met" | "not met" | "not known"; says: string }

/** What something has to do, line by line, each met, not met or not known. */
export function Checks({ checks }: { checks: Check[] }) {
  return (
    <ul aria-label="What it has to do">
      {checks.map((one) => (
        <li key={one.code} className="grid grid-cols-[22px_1fr] border-b border-rule py-1 text-note leading-tight">
          <StateMark state={one.state} />
          <span>
            <strong>{one.name}</strong> <span className="text-quiet">{one.says}</span>
          </span>
        </li>
      ))}
    </ul>
  )
}
