import { DetectCurve } from "../parts/DetectCurve"
import { Why } from "../parts/Lines"
import { withAt } from "../parts/path"
import { span } from "../parts/units"
import type { FieldsProps } from "./Bases"
import { pause } from "./stages"

/** What the hold can tell, with the chosen hold on it. */
export function HoldCurve({ answer, habit, draft, change, disabled }: FieldsProps) {
  if (answer.hold.detect.length < 2) return null
  return (
    <section>
      <h2 className="text-plain">
        Hold {span(answer.hold.minimum)} <span className="font-sans text-small font-normal text-quiet">smallest leak this kit can tell, mL/h</span>
      </h2>
      <DetectCurve hold={answer.hold} habit={habit} choose={disabled ? undefined : (seconds) => change(withAt(draft, "hold.minimum", pause(seconds)))} />
      <Why lines={answer.lines} figures={["hold.accepted_leak", "hold.smallest_leak", "hold.needed", "hold.minimum", "hold.every", "hold.look_pressure"]} />
    </section>
  )
}
