import { useKeys } from "../app/keys"
import { DetectCurve } from "../parts/DetectCurve"
import { Why } from "../parts/Lines"
import { withAt } from "../parts/path"
import { show, span } from "../parts/units"
import type { FieldsProps } from "./Bases"
import { pause } from "./stages"

type LowProps = Pick<FieldsProps, "answer" | "habit" | "draft" | "change" | "disabled">

/** Low holds before and after: offered where they decide, and what they buy for their minutes. */
function LowHolds({ answer, habit, draft, change, disabled }: LowProps) {
  const low = answer.hold.low!
  const turn = () => change(withAt(draft, "low_holds", low.chosen ? undefined : pause(low.long)))
  useKeys([{ key: "l", does: low.chosen ? "no low holds" : "low holds before and after", act: turn, disabled }])
  return (
    <div className="mb-1 text-small">
      {low.offer && <p className="strip mb-1">{low.offer}</p>}
      <label className="flex items-baseline gap-2">
        <input type="checkbox" className="checkbox checkbox-sm translate-y-0.5" checked={low.chosen} disabled={disabled} onChange={turn} />
        <span>
          Low holds of {span(low.long)} at {show(low.pressure, "pressure", habit, 3)}, before and after{" "}
          <span className="text-quiet">
            {low.smallest_leak != null && `then from ${show(low.smallest_leak, "leak", habit, 2)} on; `}
            {span(2 * low.long)} more
          </span>{" "}
          <kbd className="key">L</kbd>
        </span>
      </label>
    </div>
  )
}

/** What the hold can tell, with the chosen hold on it. */
export function HoldCurve({ answer, habit, draft, change, disabled }: FieldsProps) {
  if (answer.hold.detect.length < 2) return null
  return (
    <section>
      <h2 className="text-plain">
        Hold {span(answer.hold.minimum)} <span className="font-sans text-small font-normal text-quiet">smallest leak this kit can tell, mL/h</span>
      </h2>
      {answer.hold.low && <LowHolds answer={answer} habit={habit} draft={draft} change={change} disabled={disabled} />}
      <DetectCurve hold={answer.hold} habit={habit} choose={disabled ? undefined : (seconds) => change(withAt(draft, "hold.minimum", pause(seconds)))} />
      <Why
        lines={answer.lines}
        figures={["hold.accepted_leak", "hold.smallest_leak", "hold.low.smallest_leak", "hold.needed", "hold.minimum", "hold.every", "hold.look_pressure"]}
      />
    </section>
  )
}
