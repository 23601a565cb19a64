import { useKeys } from "../app/keys"
import type { BenchState, useHands } from "./queries"

/** Hands on the simulated rig: its pump and its valve, and how fast its clock goes. */
export function RigHands({ bench, hands }: { bench: BenchState; hands: ReturnType<typeof useHands> }) {
  const rig = bench.rig!
  const next = bench.answer.stages[bench.reached]
  const toGo = next?.strokes != null ? Math.max(1, Math.floor(next.strokes) - rig.strokes - rig.to_go) : 1
  const pump = (strokes: number) => hands.rig.mutate({ action: "pump", strokes })
  const may = !rig.vent_open && !rig.shut_in && bench.state === "running"
  useKeys([
    { key: "p", does: "one stroke of the simulated pump", act: () => pump(1), disabled: !may },
    { key: "P", does: "the strokes expected to the next stage", act: () => pump(toGo), disabled: !may },
    {
      key: "v",
      does: rig.shut_in ? "open the shut-off" : "shut the shut-off",
      act: () => hands.rig.mutate({ action: rig.shut_in ? "open" : "shut", strokes: 0 }),
    },
  ])
  return (
    <div
      className="mx-4 mt-2 flex flex-wrap items-center gap-1.5 lg:flex-nowrap border-[1.5px] border-rule bg-paper px-2 py-1.5"
      aria-label="The simulated rig"
      role="group"
    >
      <button className="btn btn-sm px-2.5 whitespace-nowrap" disabled={!may} onClick={() => pump(1)}>
        1 stroke <kbd className="key">P</kbd>
      </button>
      <button className="btn btn-sm px-2.5 whitespace-nowrap" disabled={!may || next === undefined} onClick={() => pump(toGo)}>
        Pump {toGo} <kbd className="key">⇧P</kbd>
      </button>
      <button className="btn btn-sm px-2.5 whitespace-nowrap" disabled={rig.to_go === 0} onClick={() => hands.rig.mutate({ action: "stop", strokes: 0 })}>
        Stop the pump
      </button>
      <button className="btn btn-sm px-2.5 whitespace-nowrap" onClick={() => hands.rig.mutate({ action: rig.shut_in ? "open" : "shut", strokes: 0 })}>
        {rig.shut_in ? "Open the shut-off" : "Shut the shut-off"} <kbd className="key">V</kbd>
      </button>
      <span className="truncate text-[13.5px] text-quiet" aria-live="polite">
        {rig.vent_open ? "vent open" : rig.shut_in ? "rig shut off" : rig.to_go ? `pumping, ${rig.to_go} to go` : "pump still"}
      </span>
      <select
        className="select select-sm ml-auto w-20 shrink-0 bg-paper"
        aria-label="The rig's clock"
        value={bench.clock.speed}
        onChange={(event) => hands.speed.mutate(Number(event.target.value))}
      >
        {[1, 10, 60, 300, 600].map((times) => (
          <option key={times} value={times}>
            {times}×
          </option>
        ))}
      </select>
      {hands.rig.error && <p className="w-full text-[13.5px] text-vermilion">{hands.rig.error.message}</p>}
    </div>
  )
}
