import { Ask } from "../parts/Dialog"
import { show, type Habit } from "../parts/units"
import type { BenchState, Hands } from "./queries"

/** Shut in below what was planned: a hold that shows nothing above what is held is asked for with its reason, never stumbled into. */
export function ShutInDialog({ bench, hands, habit, close }: { bench: BenchState; hands: Hands; habit: Habit; close: () => void }) {
  const [last, now] = [bench.answer.stages.at(-1), bench.latest?.pressure ?? null]
  return (
    <Ask
      title={now === null ? "Hold it here?" : `Hold it here, at ${show(now, "pressure", habit, 3)}?`}
      label="Why is a hold so low enough? It stays on the record."
      keep="Shut in here"
      close={close}
      done={(reason) => hands.step("shut-in", { reason }, "shut in")}
    >
      <p className="mb-4 text-lead">
        {last && <>The plan goes to {show(last.target, "pressure", habit, 3)}. </>}A hold at less shows nothing above what is held.
      </p>
    </Ask>
  )
}
