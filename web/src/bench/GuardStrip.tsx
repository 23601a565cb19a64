import { useState } from "react"
import { useKeys } from "../app/keys"
import { Ask } from "../parts/Dialog"
import type { BenchState, Hands } from "./queries"

const DO = { dump: "Dump (D).", stop: "Stop, and look.", vent: "Let it go, and vent again.", fire: "Fire out (D)." } as const

/** A guard that tripped: said where it cannot be missed, until it is answered. */
export function GuardStrip({ bench, hands }: { bench: BenchState; hands: Hands }) {
  const [answering, setAnswering] = useState(false)
  const guard = bench.guards.at(-1)
  const open = guard !== undefined && bench.hand.mine && (bench.state === "running" || bench.state === "held")
  const vent = open && guard.does === "vent"
  const again = () => void hands.step("gone-back", { to: 0, vent: true, why: "air left in" }, "let go, vent open again").catch(() => undefined)
  useKeys([
    { key: "a", does: "answer the guard that tripped", act: () => setAnswering(true), disabled: !open },
    { key: "w", does: "let the pressure go and vent again", act: again, disabled: !vent },
  ])
  if (!guard) return null
  return (
    <div role="alert" className="flex flex-wrap items-center gap-x-4 gap-y-2 border-l-8 border-vermilion bg-vermilion-soft px-4 py-2.5">
      <p className="min-w-56 flex-1 text-title leading-snug font-semibold">
        {guard.says} {bench.guards.length > 1 && <span className="font-normal">And {bench.guards.length - 1} more.</span>}
      </p>
      {open && (
        <span className="flex items-center gap-2">
          {vent ? (
            <button className="btn h-12 border-line border-ink" onClick={again}>
              Vent again <kbd className="key">W</kbd>
            </button>
          ) : (
            <span className="text-quiet">{DO[guard.does as keyof typeof DO]}</span>
          )}
          <button className="btn btn-ghost h-12" onClick={() => setAnswering(true)}>
            Answer <kbd className="key">A</kbd>
          </button>
        </span>
      )}
      {answering && guard && (
        <Ask
          title="Go on all the same?"
          label="What was seen, and why is it safe to go on? It stays on the record."
          keep="Go on"
          close={() => setAnswering(false)}
          done={(reason) => hands.step("guard-answered", { guard: guard.id, reason }, "guard answered")}
        >
          <p className="mb-3 text-lead">{guard.says}</p>
        </Ask>
      )}
    </div>
  )
}
