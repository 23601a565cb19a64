import { useState } from "react"
import { useKeys } from "../app/keys"
import type { BenchState, Hands } from "./queries"

const FIRES = [
  [0, "out"],
  [0.5, "half"],
  [1, "full"],
] as const

/** Hands on the simulated boiler: its fire, its feeds and its outlet, and what is seen in its glass. */
export function BoilerHands({ bench, hands }: { bench: BenchState; hands: Hands }) {
  const rig = bench.rig!
  const boiler = rig.boiler!
  const mine = bench.hand.mine
  const [blown, setBlown] = useState(false)
  const fire = (part: number) => hands.rig.mutate({ action: "fire", part })
  const feed = (which: number) => hands.rig.mutate({ action: "feed", which })
  const outlet = () => hands.rig.mutate({ action: "outlet" })
  const running = mine && bench.state === "running"
  useKeys([
    {
      key: "p",
      does: boiler.fire ? "take the simulated fire out" : "light the simulated fire, full",
      act: () => fire(boiler.fire ? 0 : 1),
      disabled: !running,
    },
    { key: "v", does: "the simulated first feed, on or off", act: () => feed(0), disabled: !mine },
    { key: "V", does: "the simulated second feed, on or off", act: () => feed(1), disabled: !mine },
  ])
  const small = "btn btn-sm px-2.5 whitespace-nowrap"
  return (
    <>
      {FIRES.map(([part, name]) => (
        <button
          key={name}
          className={`${small} ${boiler.fire === part ? "border-ink" : ""}`}
          disabled={!running}
          aria-pressed={boiler.fire === part}
          onClick={() => fire(part)}
        >
          Fire {name} {name === (boiler.fire ? "out" : "full") && <kbd className="key">P</kbd>}
        </button>
      ))}
      {boiler.feeding.map((on, which) => (
        <button key={which} className={`${small} ${on ? "border-ink" : ""}`} disabled={!mine} aria-pressed={on} onClick={() => feed(which)}>
          {which ? "Second" : "First"} feed {on ? "off" : "on"} <kbd className="key">{which ? "⇧V" : "V"}</kbd>
        </button>
      ))}
      <button className={`${small} ${boiler.outlet_open ? "border-ink" : ""}`} disabled={!mine} aria-pressed={boiler.outlet_open} onClick={outlet}>
        {boiler.outlet_open ? "Shut" : "Open"} the outlet
      </button>
      <button className={small} disabled={!mine} onClick={() => setBlown(true)}>
        Blow the glass
      </button>
      <span className="text-small text-quiet" aria-live="polite" data-testid="boiler-seen">
        water at {Math.round(boiler.glass * 100)} % of the glass
        {blown ? (boiler.blown === "comes back" ? "; blown, it came back" : "; blown, it did not come back") : ""}
        {rig.vent_open ? "; vent open" : ""}
        {rig.lifted ? "; the valve blows" : ""}
      </span>
    </>
  )
}
