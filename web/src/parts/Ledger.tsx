import { Link } from "react-router"
import type { LedgerLine, LedgerOut } from "../api/ledger"
import { day } from "./units"

type State = LedgerLine["state"]
const TONES: Record<State, string> = {
  met: "text-moss",
  "not met": "text-vermilion",
  "not known": "text-brass-ink",
  lapsed: "text-vermilion",
  voided: "text-vermilion",
}

/** How a line stands, by a shape as well as by its colour. */
export function StateMark({ state }: { state: State }) {
  return (
    <svg
      viewBox="0 0 16 16"
      className={`mt-0.5 size-4 ${TONES[state]}`}
      role="img"
      aria-label={state}
      fill="none"
      stroke="currentColor"
      strokeWidth="2.2"
      strokeLinecap="round"
    >
      {state === "met" && <path d="M2.5 8.5 L6.5 12.5 L13.5 3.5" />}
      {state === "not met" && <path d="M3.5 3.5 L12.5 12.5 M12.5 3.5 L3.5 12.5" />}
      {state === "not known" && <path d="M5 5.2 C5 2 11 2 11 5.2 C11 7.5 8 7.4 8 10 M8 13.4 V13.5" />}
      {state === "lapsed" && (
        <>
          <circle cx="8" cy="8" r="6" />
          <path d="M8 4.5 V8 H11" />
        </>
      )}
      {state === "voided" && (
        <>
          <circle cx="8" cy="8" r="6" />
          <path d="M4 12 L12 4" />
        </>
      )}
    </svg>
  )
}

type Does = {
  /** Begin a plan on a basis. */ plan: (basis: string) => void
  /** Write down that something was done. */ write: (what: string) => void
  busy?: boolean
}

/** The programme of the vessel's kind, each line as it stands today; a click opens what it rests on and the way to do it. */
export function LedgerLines({ ledger, does }: { ledger: LedgerOut; does?: Does }) {
  const asked = ledger.lines.filter((line) => line.asked)
  const advised = ledger.lines.filter((line) => !line.asked)
  return (
    <div data-testid="ledger">
      <Lines lines={asked} does={does} />
      {advised.length > 0 && (
        <>
          <h3 className="mt-2 text-small text-quiet">Advised</h3>
          <Lines lines={advised} does={does} />
        </>
      )}
    </div>
  )
}

function Lines({ lines, does }: { lines: LedgerLine[]; does?: Does | undefined }) {
  return (
    <ul>
      {lines.map((line) => (
        <li key={line.code} className="border-b border-rule">
          <details className="group">
            <summary className="grid cursor-pointer list-none grid-cols-[22px_1fr_auto] gap-x-1 py-1.5 leading-tight">
              <StateMark state={line.state} />
              <span className="font-semibold">{line.name}</span>
              <span className={`text-small ${line.state === "met" ? "text-quiet" : `font-semibold ${TONES[line.state]}`}`}>{when(line)}</span>
              <span className="col-span-2 col-start-2 text-small text-quiet">{line.says}</span>
            </summary>
            <div className="mb-2 ml-[22px] flex flex-wrap items-center gap-x-4 gap-y-1 text-small">
              <span className="text-quiet">{why(line)}</span>
              {line.overruled && <span className="text-brass-ink">Gone further than this line by a person: “{line.overruled}”</span>}
              {line.trial && (
                <Link className="text-water-ink dotted" to={`/records/${line.trial}`}>
                  its record
                </Link>
              )}
              {does && line.basis != null && (
                <button className="btn btn-outline btn-sm border-line bg-ground min-h-9" disabled={does.busy} onClick={() => does.plan(line.basis!)}>
                  Plan it
                </button>
              )}
              {does && line.write != null && (
                <button className="btn btn-outline btn-sm border-line bg-ground min-h-9" onClick={() => does.write(line.write!)}>
                  Write it down
                </button>
              )}
            </div>
          </details>
        </li>
      ))}
    </ul>
  )
}

/** Until when it stands, or how it does not. */
function when(line: LedgerLine): string {
  if (line.state === "lapsed") return line.until ? `lapsed ${day(line.until)}` : "lapsed"
  if (line.state !== "met") return line.state
  if (line.before_use) return "before each use"
  return line.until ? `until ${day(line.until)}` : "met"
}

function why(line: LedgerLine): string {
  const asks = line.asked ? "Without it the vessel is never fit." : "Advised: it does not stop."
  return line.before_use ? `${asks} It is done anew before each use.` : asks
}

/** What the vessel may be used at today, and what is to be done next, in two sentences. */
export function LedgerSays({ ledger }: { ledger: LedgerOut }) {
  const tone = { fit: "", tight: "", limited: "text-brass-ink", "not proven": "text-vermilion", "not fit": "text-vermilion" }[ledger.answer]
  return (
    <p className="min-w-0 flex-1 text-body" data-testid="ledger-says">
      <span className={tone}>{ledger.says}</span> {ledger.next_says && <span className="text-quiet">{ledger.next_says}</span>}
    </p>
  )
}
