import { useState } from "react"
import { useKeys } from "../app/keys"
import { Alert } from "../parts/Alert"
import { Checks } from "../parts/Checks"
import { Ask } from "../parts/Dialog"
import { digits, inUnit, span, unitOf, type Habit } from "../parts/units"
import { Witnesses } from "../parts/Witnesses"
import type { BenchState, Hands } from "./queries"
import { WaterGlass } from "./WaterGlass"
import { Words } from "./Words"

const FIGURES = [
  ["steam-lift", "Valve lifts", "it lifts now"],
  ["steam-reseat", "It shuts", "it shuts now"],
  ["full-fire", "Full fire, highest", "full fire: this is the highest"],
] as const
type Figure = (typeof FIGURES)[number][0]

const WORDS = [
  ["sits", "1", "Thermometer", ["steam", "shell"]],
  ["feed", "1", "First feed", ["works", "slow", "no"]],
  ["feed", "2", "Second feed", ["works", "slow", "no"]],
  ["blown", "1", "Glass blown", ["comes back", "slow", "no"]],
  ["stands", "1", "Full fire", ["stands", "rises"]],
  ["hot-look", "1", "Hot look", ["dry", "weeps", "leaks"]],
] as const

/** A boiler's first steam: its water glass, feeds, valve and look as they are written down, and what gauge, valve and temperature say together. */
export function SteamPanel({ bench, hands, habit }: { bench: BenchState; hands: Hands; habit: Habit }) {
  const seen = new Map(bench.observed.map((one) => [`${one.what} ${one.place}`, one]))
  const [asking, setAsking] = useState<Figure | null>(null)
  const [says, setSays] = useState<string | null>(null)
  const may = bench.allowed.includes("observed")
  const note = (what: string, place: string, body: Record<string, unknown>, told: string) =>
    hands.step("observed", { what, place, ...body }, told).then(
      () => setSays(null),
      (problem: Error) => setSays(problem.message),
    )
  const next = FIGURES.find(([what]) => !seen.has(`${what} 1`)) ?? null
  const now = () => {
    if (next && bench.latest) void note(next[0], "1", { value: bench.latest.pressure }, next[2])
  }
  const typed = async (what: Figure, text: string) => {
    const whole = /[a-z]/i.test(text) ? text : `${text} ${unitOf("pressure", habit)}`
    await hands.step("observed", { what, place: "1", text: whole }, `${what} ${whole}`)
  }
  const level = seen.get("glass 1")?.value ?? null
  const glass = (part: number) => void note("glass", "1", { value: part }, `water at ${Math.round(part * 100)} % of the glass`)
  const step = (by: number) => () => glass(Number(Math.min(1, Math.max(0, (level ?? 0.5) + by)).toFixed(2)))
  useKeys([
    { key: "y", does: next ? next[2] : "the pressures are written", act: now, disabled: !may || !next || !bench.latest },
    { key: "ArrowUp", does: "the water in the glass, a twentieth higher", act: step(0.05), disabled: !may },
    { key: "ArrowDown", does: "the water in the glass, a twentieth lower", act: step(-0.05), disabled: !may },
  ])
  const told = bench.steam?.judged
  const behind = bench.steam?.behind
  return (
    <div className="min-h-0 flex-1 px-4 pt-2 pb-2 lg:overflow-auto" data-testid="steam">
      <div className="flex flex-wrap items-start gap-x-5 gap-y-2">
        <WaterGlass level={level} disabled={!may} set={glass} />
        <div className="grid gap-1">
          {WORDS.map(([what, place, name, words]) => (
            <Words
              key={what + place}
              name={name}
              words={[...words]}
              chosen={seen.get(`${what} ${place}`)?.word}
              disabled={!may}
              keep={(word) => void note(what, place, { word }, `${name.toLowerCase()}: ${word}`)}
            />
          ))}
        </div>
        <div className="grid min-w-48 flex-1 gap-1">
          {FIGURES.map(([what, name]) => {
            const found = seen.get(`${what} 1`)
            return (
              <button
                key={what}
                className={`btn h-10 justify-between border-line px-3 text-body font-normal ${next?.[0] === what ? "border-primary" : "border-rule"}`}
                disabled={!may}
                onClick={() => setAsking(what)}
              >
                {name}{" "}
                <span className="figure">
                  {found?.value != null ? `${digits(inUnit(found.value, "pressure", habit), 3)} ${unitOf("pressure", habit)}` : "–"}
                </span>
              </button>
            )
          })}
          <button className="btn btn-primary h-11" disabled={!may || !next || !bench.latest} onClick={now}>
            {next ? next[2][0]!.toUpperCase() + next[2].slice(1) : "All written"} <kbd className="key hidden sm:inline-grid">Y</kbd>
          </button>
          {behind != null && (
            <p className="text-small text-quiet">
              {behind > 30 ? `${span(behind)} behind the soonest that its burner could` : "as quick as its burner could at the soonest"}
            </p>
          )}
        </div>
      </div>
      {says && <Alert className="mt-2">{says}</Alert>}
      {told && (
        <div className="mt-2">
          <Witnesses witnesses={told.witnesses} habit={habit} />
        </div>
      )}
      {told && <p className="strip mt-1 text-body">{told.says}</p>}
      {told && told.witnesses.settle_it.length > 0 && (
        <p className="text-small">
          <b>What tells which:</b> {told.witnesses.settle_it.join(" ")}
        </p>
      )}
      {told && <Checks checks={told.checks} />}
      {asking && (
        <Ask
          title={FIGURES.find(([what]) => what === asking)![1]}
          label={`What the gauge shows, ${unitOf("pressure", habit)} where nothing else is said`}
          keep="Write it down"
          close={() => setAsking(null)}
          done={(text) => typed(asking, text)}
        />
      )}
    </div>
  )
}
