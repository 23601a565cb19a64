import { useState } from "react"
import { Link } from "react-router"
import { useLedger } from "../api/ledger"
import { useKeys } from "../app/keys"
import { LedgerLines, LedgerSays } from "../parts/Ledger"
import { Lines, Why } from "../parts/Lines"
import { DecidedTag } from "../parts/Tag"
import { day, show, type Habit } from "../parts/units"
import { DecisionForm } from "./DecisionForm"
import type { JudgeState } from "./queries"

/** The way to what a line of the evidence rests on. */
function RestsOn({ judge, on, name }: { judge: JudgeState; on: string; name: string }) {
  const to = { vessel: `/vessels/${judge.vessel_id}`, plan: `/trials/${judge.id}/plan`, kit: "/kit", bench: `/trials/${judge.id}/bench`, hold: "#hold" }[on]
  return (
    <Link to={to ?? "#hold"} className="text-fine text-water-ink dotted" aria-label={`${name}: see the ${on}`}>
      {on}
    </Link>
  )
}

/** What the vessel is asked for beside this trial, as it stands today. */
function Programme({ vessel }: { vessel: string }) {
  const { data: ledger } = useLedger(vessel)
  if (!ledger) return null
  return (
    <section aria-label="The vessel's ledger today">
      <h2 className="mt-4 mb-1 text-lead">The vessel's ledger today</h2>
      <LedgerSays ledger={ledger} />
      <LedgerLines ledger={ledger} />
    </section>
  )
}

const SIGNS = { met: ["✓", "text-moss"], "not met": ["✗", "text-vermilion"], "not known": ["?", "text-brass-ink"] } as const

/** The tag as far as the evidence goes, what it rests on line by line, and the way to the decision. */
export function Evidence({ judge, habit }: { judge: JudgeState; habit: Habit }) {
  const { advice, decision } = judge
  const [deciding, setDeciding] = useState(false)
  const may = judge.may_decide
  useKeys([{ key: "Enter", does: "write the decision", act: () => setDeciding(true), disabled: !may || deciding }])
  const advised = judge.choices.find((one) => one.advised)!
  const shown = decision ?? { ...advised, pressure: advice.pressure }
  return (
    <aside className="flex flex-col border-t-line border-rule lg:min-h-0 lg:border-t-0 lg:border-l-line">
      <div className="flex-1 px-4 py-4 lg:overflow-auto">
        <DecidedTag
          decision={shown}
          habit={habit}
          large
          practice={judge.practice}
          date={decision?.at ?? null}
          note={shown.fitness === "not proven" ? "no pressure" : ""}
        />
        <p className="mt-2 text-body">
          {decision ? (
            <>
              Decided by {decision.by}.{decision.reason && <> “{decision.reason}”</>}
              {decision.less_cautious && <strong className="text-brass-ink"> Goes further than the evidence.</strong>}
            </>
          ) : (
            <>As far as the evidence goes: {advice.says}</>
          )}
        </p>
        {!judge.practice && (decision?.next_proof ?? advice.next_proof) && (
          <p className="text-note text-quiet">
            Relief valve, and switch, at no more than {show(decision?.pressure ?? advice.relief_at_most, "pressure", habit)}.{" "}
            {(advice.next_dates ?? []).map((due) => `${due.what} ${due.on ? `by ${day(due.on)}` : due.says}`).join("; ") ||
              `proof by ${day(decision?.next_proof ?? advice.next_proof)}`}
            . Earlier after any knock, mend or change.
          </p>
        )}
        {judge.settings && <p className="text-note text-quiet">{judge.settings}</p>}
        <Why lines={advice.lines} figures={["pressure"]} />
        <h2 className="mt-3 mb-1 text-lead">What this rests on</h2>
        <ul>
          {advice.evidence.map((line) => (
            <li key={line.name} className="grid grid-cols-[20px_1fr] border-b border-rule py-[3.5px]">
              <span className={`font-bold ${SIGNS[line.state][1]}`} role="img" aria-label={line.state}>
                {SIGNS[line.state][0]}
              </span>
              <div className="min-w-0">
                <span className="flex justify-between gap-2 text-note leading-tight">
                  <span className="font-semibold">{line.name}</span>
                  <RestsOn judge={judge} on={line.rests_on} name={line.name} />
                </span>
                {line.lines?.length ? (
                  <details>
                    <summary className="w-fit cursor-pointer list-none text-small leading-tight text-quiet dotted">{line.says}</summary>
                    <div className="my-1">
                      <Lines lines={line.lines} />
                    </div>
                  </details>
                ) : (
                  <span className="block text-small leading-tight text-quiet">{line.says}</span>
                )}
              </div>
            </li>
          ))}
        </ul>
        {!judge.practice && <Programme vessel={judge.vessel_id} />}
      </div>
      <div className="border-t-line border-rule px-4 py-3">
        {decision ? (
          <Link to={`/records/${judge.id}`} className="btn btn-primary h-11 w-full">
            To the record
          </Link>
        ) : (
          <button className="btn btn-primary h-11 w-full" disabled={!may} onClick={() => setDeciding(true)}>
            Write the decision <kbd className="key">⏎</kbd>
          </button>
        )}
        <p className="mt-1.5 text-center text-fine text-quiet">Own-use record. Not a certificate.</p>
      </div>
      {deciding && <DecisionForm judge={judge} habit={habit} close={() => setDeciding(false)} />}
    </aside>
  )
}
