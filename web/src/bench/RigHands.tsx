import { useKeys } from "../app/keys"
import { BoilerHands } from "./BoilerHands"
import type { BenchState, Hands } from "./queries"

type HandsProps = { bench: BenchState; hands: Hands }

/** Hands on the simulated rig: a pump and its valve, or a boiler's fire; and how fast its clock goes. */
export function RigHands({ bench, hands }: HandsProps) {
  const { mine } = bench.hand
  return (
    <div className="mx-4 mt-2 border-line border-rule bg-paper px-2 py-1.5" aria-label="The simulated rig" role="group">
      <div className={`flex flex-wrap items-center gap-1.5 ${bench.rig!.boiler ? "" : "xl:flex-nowrap"}`}>
        {bench.rig!.boiler ? <BoilerHands bench={bench} hands={hands} /> : <PumpHands bench={bench} hands={hands} />}
        <select
          className="select select-sm ml-auto w-20 shrink-0 bg-paper"
          aria-label="The rig's clock"
          value={bench.clock.speed}
          disabled={!mine}
          onChange={(event) => hands.speed.mutate(Number(event.target.value))}
        >
          {[1, 10, 60, 300, 600].map((times) => (
            <option key={times} value={times}>
              {times}×
            </option>
          ))}
        </select>
      </div>
      <Sights bench={bench} hands={hands} />
      {hands.rig.error && (
        <p role="alert" className="text-note text-vermilion">
          {hands.rig.error.message}
        </p>
      )}
    </div>
  )
}

const SMALL = "btn btn-sm px-2.5 whitespace-nowrap"

function PumpHands({ bench, hands }: HandsProps) {
  const rig = bench.rig!
  // What the plan expects; of a pump that it does not know, what this one needs.
  const expected = rig.to_stage ?? bench.now.to_go ?? null
  const toGo = Math.max(1, (expected ?? 0) - rig.to_go)
  const mine = bench.hand.mine
  const pump = (strokes: number) => hands.rig.mutate({ action: "pump", strokes })
  const may = mine && !rig.vent_open && !rig.shut_in && bench.state === "running"
  const bleed = () => hands.rig.mutate({ action: "bleed" })
  const mayBleed = mine && !rig.vent_open && bench.state !== "aborted"
  const valve = () => hands.rig.mutate({ action: rig.shut_in ? "open" : "shut" })
  useKeys([
    { key: "p", does: "one stroke of the simulated pump", act: () => pump(1), disabled: !may },
    { key: "P", does: "the strokes expected to the next stage", act: () => pump(toGo), disabled: !may },
    { key: "v", does: rig.shut_in ? "open the shut-off" : "shut the shut-off", act: valve, disabled: !mine },
    { key: "V", does: "let a little out of the simulated rig", act: bleed, disabled: !mayBleed },
  ])
  return (
    <>
      <button className={SMALL} disabled={!may} onClick={() => pump(1)}>
        1 stroke <kbd className="key">P</kbd>
      </button>
      <button className={SMALL} disabled={!may || expected === null} onClick={() => pump(toGo)}>
        Pump {toGo} <kbd className="key">⇧P</kbd>
      </button>
      <button className={SMALL} disabled={!mine || rig.to_go === 0} onClick={() => hands.rig.mutate({ action: "stop" })}>
        Stop
      </button>
      <button className={SMALL} disabled={!mine} onClick={valve}>
        {rig.shut_in ? "Open the shut-off" : "Shut the shut-off"} <kbd className="key">V</kbd>
      </button>
      <button className={SMALL} disabled={!mayBleed} onClick={bleed}>
        Let a little out <kbd className="key">⇧V</kbd>
      </button>
      <span className="truncate text-small text-quiet" aria-live="polite">
        {rig.burst ? "it burst" : rig.vent_open ? "vent open" : rig.shut_in ? "rig shut off" : rig.to_go ? `pumping, ${rig.to_go} to go` : "pump still"}
        {rig.lifted ? ", relief valve lifting" : ""}
      </span>
    </>
  )
}

/** What is seen of leaks on the simulated rig, and the key that tightens one. */
function Sights({ bench, hands }: HandsProps) {
  const rig = bench.rig!
  const { mine } = bench.hand
  const joints = rig.joints ?? []
  // One leak may be called as its finder likes; of several each is told by its name.
  const which = (where: string) => {
    const named = joints.findIndex((joint) => where.toLowerCase().includes(joint.replace(/^the /, "").toLowerCase()))
    return named < 0 && joints.length === 1 ? 0 : named
  }
  return (
    <>
      {rig.stroke_says && <p className="mt-1 text-note text-brass-ink">{rig.stroke_says}</p>}
      {rig.sights.map((sight) => (
        <p key={sight.number} className="mt-1 flex flex-wrap items-center gap-2 text-note" data-testid="sight">
          <span>
            You see a {sight.how} at {sight.where}
            {sight.how === "drip" ? `, ${Math.round(sight.drops)} drops a minute` : ""}.
          </span>
        </p>
      ))}
      {bench.leaks
        .filter((leak) => leak.owner !== "boundary" && which(leak.where) >= 0)
        .map((leak) => (
          <p key={leak.id} className="mt-1 text-note">
            <button
              className={SMALL}
              disabled={!mine}
              onClick={(event) => {
                event.currentTarget.blur() // the next Enter is the run's
                hands.rig.mutate(
                  { action: "tighten", which: which(leak.where) },
                  { onSuccess: () => void hands.step("mended", { leak: leak.id, act: "tightened", did: "an eighth of a turn" }, `${leak.where} tightened`) },
                )
              }}
            >
              Tighten it an eighth: {leak.where}
            </button>
          </p>
        ))}
    </>
  )
}
