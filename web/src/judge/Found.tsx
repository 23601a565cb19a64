import type { Schema } from "../api/client"

type Step = Schema["StepFound"]
type FoundProps = { steps: Step[]; notes: string[]; again: ((putBack: number[]) => void) | null; pending: boolean }

/** What was cut out of the log, each named, to be put back by hand where it is none; and what else a reader has to know. */
export function Found({ steps, notes, again, pending }: FoundProps) {
  if (!steps.length && !notes.length) return null
  const back = steps.filter((step) => step.put_back).map((step) => step.time)
  return (
    <ul className="space-y-1 text-note" aria-label="Found in the log">
      {steps.map((step, index) => (
        <li key={`${step.kind}${step.time}`} className="flex flex-wrap items-center gap-x-3 border-l-bold border-brass pl-2">
          <span>
            <b className="figure">{index + 1}</b> {step.says}{" "}
            <span className="text-quiet">{step.put_back ? "Put back: judged with the rest." : "Cut out."}</span>
          </span>
          {again && (
            <button
              className="btn btn-outline btn-sm min-h-9 border-line"
              disabled={pending}
              onClick={() => again(step.put_back ? back.filter((time) => time !== step.time) : [...back, step.time])}
            >
              {step.put_back ? "Cut it out" : "Put it back"}
            </button>
          )}
        </li>
      ))}
      {notes.map((note) => (
        <li key={note} className="border-l-bold border-rule pl-2 text-quiet">
          {note}
        </li>
      ))}
    </ul>
  )
}
