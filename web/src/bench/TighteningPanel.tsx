import { useState } from "react"
import { useKeys } from "../app/keys"
import { Alert } from "../parts/Alert"
import { Ask } from "../parts/Dialog"
import { Checks } from "../parts/Checks"
import { JointCurve, turned } from "../parts/JointCurve"
import { show, type Habit } from "../parts/units"
import type { BenchState, Hands } from "./queries"

/** How a joint shows, from the worst to none; and what a key calls it. */
const GRADES = ["blown off", "stream", "bubbles", "weeps", "dry"]
const EIGHTHS = 8
const MOST = 4 * EIGHTHS

/** A joint turned on by parts of a turn: the dial by arrow keys or finger, how it shows at each, and the curve so far. */
export function TighteningPanel({ bench, hands, habit }: { bench: BenchState; hands: Hands; habit: Habit }) {
  const joint = bench.joint
  const last = bench.observed.filter((one) => one.what === "turn").reduce((most, one) => Math.max(most, Number(one.place)), 0)
  const [chosen, setChosen] = useState<number | null>(null)
  const [asking, setAsking] = useState(false)
  const [counting, setCounting] = useState(false)
  const [says, setSays] = useState<string | null>(null)
  const part = chosen ?? last
  const may = bench.allowed.includes("observed")
  const turn = (by: number) => setChosen(Math.max(0, Math.min(MOST, part + by)))
  const keep = (kind: string, data: Record<string, unknown>, told: string) =>
    hands.step(kind, data, told).then(
      () => setSays(null),
      (problem: Error) => setSays(problem.message),
    )
  const mark = (word: string) => void keep("observed", { what: "turn", place: String(part), word }, `${turned(part / EIGHTHS)} of a turn: ${word}`)
  const mayLetGo = bench.allowed.includes("gone-back") && bench.hand.mine
  const letGo = () => {
    void keep("gone-back", { to: 0, vent: false, why: "let go, to turn the joint on" }, "let go").then(() => {
      if (bench.rig) hands.rig.mutate({ action: "tighten", which: 0 })
    })
    turn(1)
  }
  useKeys([
    { key: "ArrowRight", does: "an eighth further", act: () => turn(1) },
    { key: "ArrowLeft", does: "an eighth back", act: () => turn(-1) },
    ...GRADES.map((word, n) => ({ key: String(n + 1), does: `it shows: ${word}`, act: () => mark(word), disabled: !may })),
    { key: "e", does: "let it go, and turn it on by an eighth", act: letGo, disabled: !mayLetGo },
    { key: "z", does: "bubbles a minute, counted", act: () => setCounting(true), disabled: !may },
    { key: "y", does: "write the torque down", act: () => setAsking(true), disabled: !may },
  ])
  return (
    <div className="min-h-0 flex-1 px-4 pt-2 pb-2 lg:overflow-auto" data-digits data-testid="tightening">
      <div className="flex flex-wrap items-start gap-x-6 gap-y-2">
        <TurnDial part={part} choose={setChosen} />
        <div className="grid gap-2">
          <p className="text-lead">
            Seen at <strong data-testid="turn">{part ? `${turned(part / EIGHTHS)} of a turn` : "finger-tight"}</strong>
            {bench.latest && <>, {show(bench.latest.pressure, "pressure", habit)}</>}
          </p>
          <div role="group" aria-label="How it shows" className="flex flex-wrap gap-1.5">
            {GRADES.map((word, n) => (
              <button
                key={word}
                className={`btn h-11 border-line px-2 ${word === "dry" ? "border-moss" : "border-vermilion"}`}
                disabled={!may}
                onClick={() => mark(word)}
              >
                {word} <kbd className="key hidden sm:inline-grid">{n + 1}</kbd>
              </button>
            ))}
          </div>
          <div className="flex flex-wrap gap-1.5">
            <button className="btn btn-primary h-11" disabled={!mayLetGo} onClick={letGo}>
              Let it go, an eighth on <kbd className="key hidden sm:inline-grid">E</kbd>
            </button>
            <button className="btn h-11 border-line border-ink" disabled={!may} onClick={() => setAsking(true)}>
              Torque <kbd className="key hidden sm:inline-grid">Y</kbd>
            </button>
            <button className="btn h-11 border-line border-ink" disabled={!may} onClick={() => setCounting(true)}>
              Count bubbles <kbd className="key hidden sm:inline-grid">Z</kbd>
            </button>
          </div>
        </div>
        {joint && joint.steps.length > 0 && <JointCurve joint={joint} />}
      </div>
      {says && <Alert className="mt-2">{says}</Alert>}
      {joint?.caution && <p className="strip mt-2 text-body">{joint.caution}</p>}
      {joint && <p className="strip mt-2 text-body">{joint.says}</p>}
      {joint && joint.steps.length > 0 && <Checks checks={joint.checks} />}
      {counting && (
        <Ask
          title={`Bubbles at ${part ? `${turned(part / EIGHTHS)} of a turn` : "finger-tight"}`}
          label="a minute"
          keep="Write it down"
          close={() => setCounting(false)}
          done={(text) => {
            const count = Number(text.replace(",", "."))
            if (!Number.isFinite(count) || count <= 0) return Promise.reject(new Error("Say how many a minute, such as 12."))
            return hands.step(
              "observed",
              { what: "turn", place: String(part), word: "bubbles", value: count },
              `${turned(part / EIGHTHS)} of a turn: ${count} bubbles a minute`,
            )
          }}
        />
      )}
      {asking && (
        <Ask
          title={`Torque at ${part ? `${turned(part / EIGHTHS)} of a turn` : "finger-tight"}`}
          label="N m where nothing else is said"
          keep="Write it down"
          close={() => setAsking(false)}
          done={(text) =>
            hands.step(
              "observed",
              { what: "torque", place: String(part), text: /[a-z]/i.test(text) ? text : `${text} N m` },
              `${turned(part / EIGHTHS)} of a turn: torque`,
            )
          }
        />
      )}
    </div>
  )
}

/** The nut from above with its mark, turned by a finger or the arrow keys: a full turn is eight parts. */
function TurnDial({ part, choose }: { part: number; choose: (part: number) => void }) {
  const at = (n: number, r: number): [number, number] => [64 + r * Math.sin((2 * Math.PI * n) / EIGHTHS), 64 - r * Math.cos((2 * Math.PI * n) / EIGHTHS)]
  const hexagon = Array.from({ length: 6 }, (_, n) => `${64 + 34 * Math.cos((Math.PI * n) / 3)},${64 + 34 * Math.sin((Math.PI * n) / 3)}`).join(" ")
  const [x, y] = at(part, 30)
  return (
    <svg
      width={128}
      height={128}
      role="slider"
      aria-label="Turn past finger-tight"
      aria-valuemin={0}
      aria-valuemax={MOST}
      aria-valuenow={part}
      aria-valuetext={`${turned(part / EIGHTHS)} of a turn`}
      tabIndex={0}
      onClick={(event) => {
        const box = event.currentTarget.getBoundingClientRect()
        const angle = Math.atan2(event.clientX - box.left - 64, 64 - (event.clientY - box.top))
        const near = Math.round(((angle + 2 * Math.PI) % (2 * Math.PI)) / ((2 * Math.PI) / EIGHTHS)) % EIGHTHS
        const whole = Math.floor(part / EIGHTHS) * EIGHTHS
        choose(Math.min(MOST, near < part % EIGHTHS ? whole + EIGHTHS + near : whole + near))
      }}
    >
      <circle cx={64} cy={64} r={56} fill="var(--color-paper)" stroke="var(--color-rule)" strokeWidth={2} />
      {Array.from({ length: EIGHTHS }, (_, n) => {
        const [x1, y1] = at(n, 56)
        const [x2, y2] = at(n, n % 2 ? 51 : 47)
        return <line key={n} x1={x1} y1={y1} x2={x2} y2={y2} stroke="var(--color-ink)" strokeWidth={n === 0 ? 3 : 1.5} />
      })}
      <g transform={`rotate(${(part * 360) / EIGHTHS} 64 64)`}>
        <polygon points={hexagon} fill="var(--color-brass-soft)" stroke="var(--color-brass)" strokeWidth={2.5} />
        <circle cx={64} cy={64} r={15} fill="var(--color-ground)" stroke="var(--color-brass)" strokeWidth={2} />
      </g>
      <line
        x1={64 + (x - 64) * 0.55}
        y1={64 + (y - 64) * 0.55}
        x2={64 + (x - 64) * 1.05}
        y2={64 + (y - 64) * 1.05}
        stroke="var(--color-vermilion)"
        strokeWidth={4}
      />
    </svg>
  )
}
