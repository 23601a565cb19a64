import { useState } from "react"
import { useKeys } from "../app/keys"
import { Alert } from "../parts/Alert"
import { Ask } from "../parts/Dialog"
import { Checks } from "../parts/Checks"
import { digits, inUnit, unitOf, type Habit } from "../parts/units"
import type { BenchState, Hands } from "./queries"
import { Words } from "./Words"

const ROUNDS = ["1", "2", "3"]
const WHAT = [
  ["weep", "First weep"],
  ["lift", "Lifts"],
  ["reseat", "Shuts"],
] as const
type What = (typeof WHAT)[number][0]

/** A relief valve's three rounds, by typed pressures, by the present reading, or by the lifts that a logger's readings show; then by hand. */
export function ReliefPanel({ bench, hands, habit }: { bench: BenchState; hands: Hands; habit: Habit }) {
  const seen = new Map(bench.observed.map((one) => [`${one.what} ${one.place}`, one]))
  const [asking, setAsking] = useState<{ what: What; round: string } | null>(null)
  const [says, setSays] = useState<string | null>(null)
  const may = bench.allowed.includes("observed")
  const round = ROUNDS.find((one) => !seen.has(`reseat ${one}`)) ?? null
  const next: What | null = round ? (seen.has(`lift ${round}`) ? "reseat" : "lift") : null
  const note = (what: string, place: string, body: Record<string, unknown>, told: string) =>
    hands.step("observed", { what, place, ...body }, told).then(
      () => setSays(null),
      (problem: Error) => setSays(problem.message),
    )
  const now = () => {
    if (!round || !next || !bench.latest) return
    void note(next, round, { value: bench.latest.pressure }, `round ${round}: ${next}`)
  }
  const typed = async ({ what, round }: { what: What; round: string }, text: string) => {
    const whole = /[a-z]/i.test(text) ? text : `${text} ${unitOf("pressure", habit)}`
    await hands.step("observed", { what, place: round, text: whole }, `round ${round}: ${what} ${whole}`)
  }
  const taken = ROUNDS.filter((one) => seen.has(`lift ${one}`)).length
  const offered = (bench.valve?.lifts ?? []).slice(0, 3)
  const take = () =>
    offered.slice(taken).forEach((lift, n) => {
      const place = ROUNDS[taken + n]
      if (!place) return
      void note("lift", place, { value: lift.lift }, `round ${place}: lift`)
      if (lift.reseat != null) void note("reseat", place, { value: lift.reseat }, `round ${place}: shut`)
    })
  useKeys([
    { key: "y", does: next === "reseat" ? "it shuts now" : "it lifts now", act: now, disabled: !may || !next || !bench.latest },
    { key: "e", does: "take the lifts over that the readings show", act: take, disabled: !may || offered.length <= taken },
  ])
  const judged = bench.valve?.judged
  return (
    <div className="min-h-0 flex-1 px-4 pt-2 pb-2 lg:overflow-auto" data-testid="relief">
      <div className="flex flex-wrap items-start gap-x-6 gap-y-2">
        <table className="text-body">
          <thead>
            <tr className="text-left text-small text-quiet">
              <th className="pr-4 font-normal">Round</th>
              {WHAT.map(([what, name]) => (
                <th key={what} className={`pr-2 font-normal ${what === "weep" ? "hidden sm:table-cell" : ""}`}>
                  {name}, {unitOf("pressure", habit)}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {ROUNDS.map((one) => (
              <tr key={one}>
                <th className="pr-4 text-left">{one}</th>
                {WHAT.map(([what, name]) => {
                  const found = seen.get(`${what} ${one}`)
                  return (
                    <td key={what} className={`py-1 pr-2 ${what === "weep" ? "hidden sm:table-cell" : ""}`}>
                      <button
                        className={`btn h-11 w-22 border-line ${round === one && next === what ? "border-primary" : "border-rule"}`}
                        disabled={!may}
                        aria-label={`Round ${one}: ${name}`}
                        onClick={() => setAsking({ what, round: one })}
                      >
                        <span className="figure">{found?.value != null ? digits(inUnit(found.value, "pressure", habit), 4) : "–"}</span>
                      </button>
                    </td>
                  )
                })}
              </tr>
            ))}
          </tbody>
        </table>
        <div className="grid gap-2">
          <button className="btn btn-primary h-12" disabled={!may || !next || !bench.latest} onClick={now}>
            {next === "reseat" ? "It shuts now" : "It lifts now"} <kbd className="key hidden sm:inline-grid">Y</kbd>
          </button>
          {offered.length > taken && (
            <button className="btn h-12 border-line border-ink" disabled={!may} onClick={take}>
              {offered.length} seen in the readings: take over <kbd className="key hidden sm:inline-grid">E</kbd>
            </button>
          )}
          <Words
            name="By hand"
            words={["free", "stuck"]}
            chosen={seen.get("hand 1")?.word}
            disabled={!may}
            keep={(word) => void note("hand", "1", { word }, word)}
          />
          <Words
            name="After that"
            words={["dry", "weeps"]}
            chosen={seen.get("after 1")?.word}
            disabled={!may}
            keep={(word) => void note("after", "1", { word }, word)}
          />
        </div>
      </div>
      {bench.valve?.too_quick && <Alert className="mt-2">{bench.valve.too_quick}</Alert>}
      {says && <Alert className="mt-2">{says}</Alert>}
      {judged && <p className="strip mt-2 text-body">{judged.says}</p>}
      {judged && <Checks checks={judged.checks} />}
      {asking && (
        <Ask
          title={`Round ${asking.round}: ${WHAT.find(([what]) => what === asking.what)![1].toLowerCase()} at`}
          label={`Pressure, ${unitOf("pressure", habit)} where nothing else is said`}
          keep="Write it down"
          close={() => setAsking(null)}
          done={(text) => typed(asking, text)}
        />
      )}
    </div>
  )
}
