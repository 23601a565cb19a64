import { Alert } from "../parts/Alert"
import { Dialog, Keep, useKeeping } from "../parts/Dialog"
import { show, type Habit } from "../parts/units"
import type { BenchState, Hands } from "./queries"

/** Shut in before the last stage: a hold that shows nothing above what is held is asked for, never stumbled into. */
export function ShutInDialog({ bench, hands, habit, close }: { bench: BenchState; hands: Hands; habit: Habit; close: () => void }) {
  const { says, busy, keep } = useKeeping(close)
  const [last, now] = [bench.answer.stages.at(-1), bench.latest?.pressure ?? null]
  return (
    <Dialog title={now === null ? "Hold it here?" : `Hold it here, at ${show(now, "pressure", habit, 3)}?`} close={close}>
      <form
        onSubmit={(event) => {
          event.preventDefault()
          keep(() => hands.step("shut-in", {}, "shut in"))
        }}
      >
        <p className="mb-4 text-lead">
          {last && <>The plan goes to {show(last.target, "pressure", habit, 3)}. </>}A hold at less shows nothing above what is held.
        </p>
        {says && <Alert className="mb-3">{says}</Alert>}
        <Keep keep="Shut in here" close={close} busy={busy} />
      </form>
    </Dialog>
  )
}
