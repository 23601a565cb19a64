import { useState } from "react"
import { useKeys } from "../app/keys"
import { Alert } from "../parts/Alert"
import { Checks } from "../parts/Checks"
import { Dialog, Keep, useKeeping } from "../parts/Dialog"
import { Pick } from "../parts/Fields"
import { QuantityField } from "../parts/QuantityField"
import { show, unitOf, type Habit } from "../parts/units"
import type { BenchState, Hands } from "./queries"

const MODES = ["hoop split", "end off", "leak"]
const PLACES = ["middle", "seam", "end 1", "end 2", "closure", "opening", "not known"]

/** An article taken to failure: noises by a key as they are heard, the first leak, then how it failed and where. */
export function BurstPanel({ bench, hands, habit }: { bench: BenchState; hands: Hands; habit: Habit }) {
  const [failing, setFailing] = useState(false)
  const [says, setSays] = useState<string | null>(null)
  const may = bench.allowed.includes("observed")
  const told = bench.burst
  const expected = bench.answer.expected_burst
  const keep = (what: string, word: string, name: string) =>
    void hands.step("observed", { what, place: "1", word }, name).then(
      () => setSays(null),
      (problem: Error) => setSays(problem.message),
    )
  useKeys([
    { key: "y", does: "it cracked", act: () => keep("noise", "crack", "heard: crack"), disabled: !may },
    { key: "e", does: "the first leak", act: () => keep("first-leak", "weep", "first leak"), disabled: !may },
    { key: "x", does: "it failed", act: () => setFailing(true), disabled: !may },
  ])
  const heard = bench.observed.find((one) => one.what === "noise")
  const failed = bench.observed.find((one) => one.what === "failure")
  const leaked = bench.observed.find((one) => one.what === "first-leak")
  const rows: [string, string][] = [
    ["expected to burst at", expected == null ? "not known" : show(expected, "pressure", habit)],
    ["heard last at", heard?.pressure == null ? "silent so far" : show(heard.pressure, "pressure", habit)],
    ["leaked at", leaked?.pressure == null ? "dry so far" : show(leaked.pressure, "pressure", habit)],
    ["failed at", failed ? `${show(failed.value, "pressure", habit)}, ${failed.word}, ${failed.place}` : "whole so far"],
  ]
  return (
    <div className="min-h-0 flex-1 px-4 pt-2 pb-2 lg:overflow-auto" data-testid="burst">
      <dl className="grid grid-cols-[auto_1fr] gap-x-4 text-body sm:grid-cols-[auto_1fr_auto_1fr]">
        {rows.map(([name, value]) => (
          <div key={name} className="contents">
            <dt className="text-quiet">{name}</dt>
            <dd className="figure">{value}</dd>
          </div>
        ))}
      </dl>
      {bench.rig?.heard && <p className="strip mt-2 border-brass text-body">It cracks.</p>}
      <div className="mt-2 flex flex-wrap gap-2">
        <button className="btn h-12 border-line border-brass" disabled={!may} onClick={() => keep("noise", "crack", "heard: crack")}>
          It cracked <kbd className="key hidden sm:inline-grid">Y</kbd>
        </button>
        <button className="btn h-12 border-line border-water" disabled={!may} onClick={() => keep("first-leak", "weep", "first leak")}>
          First leak <kbd className="key hidden sm:inline-grid">E</kbd>
        </button>
        <button className="btn h-12 border-line border-vermilion" disabled={!may} onClick={() => setFailing(true)}>
          It failed <kbd className="key hidden sm:inline-grid">X</kbd>
        </button>
      </div>
      {says && <Alert className="mt-2">{says}</Alert>}
      {told && <p className="strip mt-2 text-body">{told.says}</p>}
      {told && told.articles.length > 0 && <Checks checks={told.checks} />}
      {failing && <Failed hands={hands} habit={habit} close={() => setFailing(false)} />}
    </div>
  )
}

/** How it failed, where, and at what pressure; the highest that was read, where nothing else is said. */
function Failed({ hands, habit, close }: { hands: Hands; habit: Habit; close: () => void }) {
  const [mode, setMode] = useState(MODES[0]!)
  const [place, setPlace] = useState(PLACES[0]!)
  const [at, setAt] = useState("")
  const { says, busy, keep } = useKeeping(close)
  return (
    <Dialog title="How did it fail?" close={close}>
      <form
        onSubmit={(event) => {
          event.preventDefault()
          keep(() => hands.step("observed", { what: "failure", place, word: mode, ...(at.trim() ? { text: at } : {}) }, `failed: ${mode}`))
        }}
      >
        <Pick label="It failed by" value={mode} onChange={setMode} options={MODES.map((one) => [one, one] as const)} />
        <Pick label="Where" value={place} onChange={setPlace} options={PLACES.map((one) => [one, one] as const)} />
        <QuantityField label="At" kind="pressure" unit={unitOf("pressure", habit)} value={at} onChange={setAt} hint="empty: the highest that was read" />
        {says && <Alert className="mb-3">{says} Nothing was stored yet.</Alert>}
        <Keep keep="Write it down" close={close} busy={busy} />
      </form>
    </Dialog>
  )
}
