import { useState } from "react"
import { useKeys } from "../app/keys"
import { Alert } from "../parts/Alert"
import { QuantityField } from "../parts/QuantityField"
import { OpeningsList } from "./OpeningsList"
import type { BenchState, Hands } from "./queries"

type Situation = { name: string; leak: string; owner: "rig" | "boundary"; where: string; eased: number; drift: string; washer: string | null; hunt?: boolean }

/** What may be met on the simulated rig; the figures can be changed. */
const SITUATIONS: Record<string, Situation> = {
  tight: { name: "all tight", leak: "0 mL/h", owner: "boundary", where: "the lower seam", eased: 1, drift: "0 °C", washer: null },
  rig: { name: "a fitting of the rig leaks", leak: "120 mL/h", owner: "rig", where: "the hose tail", eased: 0, drift: "0 °C", washer: null },
  hidden: { name: "a seam leaks, and the room warms", leak: "12 mL/h", owner: "boundary", where: "the lower seam", eased: 1, drift: "5 °C", washer: null },
  hunt: { name: "four leaks, an evening's hunt", leak: "0 mL/h", owner: "rig", where: "the hose tail", eased: 0, drift: "0 °C", washer: null, hunt: true },
  washer: { name: "a washer without a bypass", leak: "0 mL/h", owner: "boundary", where: "the lower seam", eased: 1, drift: "0 °C", washer: "120 bar" },
}

/** How the valve of a relief trial may be. */
const VALVES = {
  good: "lifts at its set, shuts again",
  early: "lifts early",
  late: "lifts late",
  "low-seat": "shuts late",
  weeps: "weeps before it lifts",
  spreads: "lifts here and there",
  sticks: "sticks",
} as const

/** What may be wrong with a boiler that is steamed. */
const STEAMINGS = {
  good: "all as it should be",
  "gauge-low": "the gauge shows too little",
  "gauge-high": "the gauge shows too much",
  "gauge-stuck": "the gauge sticks",
  "valve-late": "the valve comes late",
  "valve-small": "the valve is too small for the fire",
  "feed-dead": "the second feed gives nothing",
  "loses-water": "it loses water",
  "glass-shut": "a way of the glass is shut",
} as const

/** What a person at the gauge needs most. */
const KEYS = [
  ["R", "what the dial shows"],
  ["S", "a stroke, or a number of them"],
  ["⏎", "the stage is reached, the next step is done"],
  ["L", "a leak, pinned where it is"],
  ["D", "dump, at any time"],
] as const

const FIRE_KEYS = [
  ["R", "what gauge and thermometer show"],
  ["↑ ↓", "the water in the glass"],
  ["Y", "it lifts now, it shuts now"],
  ["⏎", "the stage is reached, the next step is done"],
  ["D", "fire out, at any time"],
] as const

/** Before the run: what must be done with one's hands, and where the readings come from. */
export function StartPanel({ bench, hands }: { bench: BenchState; hands: Hands }) {
  const [kind, setKind] = useState("tight")
  const [faults, setFaults] = useState({ leak: "0 mL/h", air: "", drift: "0 °C" })
  const [speed, setSpeed] = useState(10)
  const [steam, setSteam] = useState<keyof typeof STEAMINGS>("good")
  const fire = bench.steam != null
  const [valve, setValve] = useState<keyof typeof VALVES>("good")
  const situation = SITUATIONS[kind]!
  const [section, setSection] = useState<string | null>(bench.circuit?.sections.at(-1)?.name ?? null)
  const dial = () => hands.start.mutate({ seen: bench.seen, source: "dial", speed: 1 })
  const rig = () =>
    hands.start.mutate({
      seen: bench.seen,
      source: "rig",
      speed,
      seed: 7,
      leak: faults.leak || null,
      air: faults.air || null,
      drift: faults.drift || null,
      owner: situation.owner,
      where: situation.where,
      eased: situation.eased,
      washer: situation.washer,
      valve,
      steam,
      hunt: situation.hunt ?? false,
      section: section ?? "",
    })
  useKeys([
    { key: "Enter", does: "begin on the real rig", act: dial, disabled: bench.barred != null },
    { key: "m", does: "begin on the simulated rig", act: rig },
  ])
  const choose = (key: string) => {
    setKind(key)
    setFaults({ ...faults, leak: SITUATIONS[key]!.leak, drift: SITUATIONS[key]!.drift })
  }
  const set = (key: keyof typeof faults) => (text: string) => setFaults({ ...faults, [key]: text })
  return (
    <div className="flex-1 space-y-5 p-5 lg:overflow-auto lg:px-8 lg:py-6">
      <div>
        <h2 className="text-head">Before you begin</h2>
        <ol className="mt-2 list-decimal space-y-1.5 pl-6 text-lead">
          {bench.begin.map((one) => (
            <li key={one}>{one}</li>
          ))}
        </ol>
        <div className="mt-4">
          <OpeningsList bench={bench} hands={hands} what="ready" />
        </div>
        <p className="mt-3 text-quiet">Local codes, your club's inspector and the maker come first.</p>
      </div>
      <div className="grid gap-5 xl:grid-cols-2">
        <section className="flex flex-col border-line border-rule bg-paper p-5">
          <h3 className="text-xl">On the real rig</h3>
          <p className="my-2 text-quiet">
            You type what the dial shows, or a logger reads (choose it under More once the run has begun). Everything is kept as you go.
          </p>
          <dl className="mb-4 grid grid-cols-[auto_1fr] items-center gap-x-3 gap-y-1.5 text-body">
            {(fire ? FIRE_KEYS : KEYS).map(([key, does]) => (
              <div key={key} className="contents">
                <dt>
                  <kbd className="key">{key}</kbd>
                </dt>
                <dd>{does}</dd>
              </div>
            ))}
          </dl>
          {bench.barred && (
            <p className="strip mb-3" data-testid="barred">
              {bench.barred}
            </p>
          )}
          <button className="btn btn-primary mt-auto h-14 w-full text-lead" onClick={dial} disabled={hands.start.isPending || bench.barred != null}>
            Begin, reading from a dial <kbd className="key">⏎</kbd>
          </button>
        </section>
        <section className="flex flex-col border-line border-rule bg-paper p-5">
          <h3 className="text-xl">On the simulated rig</h3>
          <p className="my-2 text-quiet">
            The same {fire ? "boiler, fire and valve" : "vessel, pump and gauge"} by their physics. It proves nothing; it shows how a run goes.
          </p>
          {bench.valve && (
            <label className="mb-2 text-small text-quiet">
              The valve
              <select className="select h-11 w-full bg-paper text-ink" value={valve} onChange={(event) => setValve(event.target.value as keyof typeof VALVES)}>
                {Object.entries(VALVES).map(([key, name]) => (
                  <option key={key} value={key}>
                    {name}
                  </option>
                ))}
              </select>
            </label>
          )}
          {fire && (
            <label className="mb-2 text-small text-quiet">
              What is to be met
              <select
                className="select h-11 w-full bg-paper text-ink"
                value={steam}
                onChange={(event) => setSteam(event.target.value as keyof typeof STEAMINGS)}
              >
                {Object.entries(STEAMINGS).map(([key, name]) => (
                  <option key={key} value={key}>
                    {name}
                  </option>
                ))}
              </select>
            </label>
          )}
          <label className={`mb-2 text-small text-quiet ${fire ? "hidden" : ""}`}>
            What is to be met
            <select className="select h-11 w-full bg-paper text-ink" value={kind} onChange={(event) => choose(event.target.value)}>
              {Object.entries(SITUATIONS).map(([key, { name }]) => (
                <option key={key} value={key}>
                  {name}
                </option>
              ))}
            </select>
          </label>
          {section !== null && (
            <label className="mb-2 text-small text-quiet">
              It leaks in
              <select className="select h-11 w-full bg-paper text-ink" value={section} onChange={(event) => setSection(event.target.value)}>
                {bench.circuit!.sections.map((one) => (
                  <option key={one.name}>{one.name}</option>
                ))}
              </select>
            </label>
          )}
          <div className="grid grid-cols-2 gap-x-4">
            {!fire && (
              <>
                <QuantityField label="It leaks" kind="leak" unit="mL/h" value={faults.leak} onChange={set("leak")} compact />
                <QuantityField label="Air still inside" kind="volume" unit="mL" value={faults.air} onChange={set("air")} hint="empty: as planned" compact />
                <QuantityField label="Room warms an hour" kind="temperature_difference" unit="°C" value={faults.drift} onChange={set("drift")} compact />
              </>
            )}
            <label className="text-small text-quiet">
              Its clock goes
              <select className="select h-9 w-full bg-paper text-ink" value={speed} onChange={(event) => setSpeed(Number(event.target.value))}>
                {[1, 10, 60, 300, 600].map((times) => (
                  <option key={times} value={times}>
                    {times}×{times === 1 ? ", as the clock" : ""}
                  </option>
                ))}
              </select>
            </label>
          </div>
          <button className="btn mt-auto h-14 w-full border-line border-ink text-lead" onClick={rig} disabled={hands.start.isPending}>
            Try it on the simulated rig <kbd className="key">M</kbd>
          </button>
        </section>
      </div>
      {hands.start.error && <Alert>{hands.start.error.message}</Alert>}
      <p className="sr-only">{bench.vessel}</p>
    </div>
  )
}
