import type { Schema } from "../api/client"
import { digits, inUnit, unitOf, type Habit } from "../parts/units"
import type { Sheet } from "./queries"

export type StageSheet = { target: string; pause?: string; name?: string }
type Answer = Schema["DeriveAnswer"]

/** A pressure as it is written into the sheet, in the person's unit. */
export function written(pressure: number, habit: Habit, figures = 4): string {
  return `${digits(inUnit(pressure, "pressure", habit), figures)
    .replaceAll("\u2009", "")
    .replace("−", "-")} ${unitOf("pressure", habit)}`
}

/** Seconds as they are written into the sheet. */
export function pause(seconds: number): string {
  return seconds % 60 === 0 ? `${seconds / 60} min` : `${Math.round(seconds)} s`
}

/** The stages as a person's own: those in the sheet, else the raising style's written out; the test itself is not among them. */
export function ownStages(draft: Sheet, answer: Answer, habit: Habit): StageSheet[] {
  const own = draft["stages"] as StageSheet[] | undefined
  if (own?.length) return own
  return answer.stages.slice(0, -1).map((stage) => ({ target: written(stage.target, habit), pause: pause(stage.pause), name: stage.name }))
}

const PASCAL: Record<string, number> = { bar: 1e5, psi: 6894.757293168, mbar: 100, kPa: 1000 }

/** A pressure as it is usually written, in Pa; null where only the server can read it. */
function pascal(text: string): number | null {
  const size = Number.parseFloat(text.replace(",", "."))
  const unit = PASCAL[text.replace(/^[\d.,\s]+/, "").trim()]
  return Number.isFinite(size) && unit ? size * unit : null
}

/**
 * A new stage in the widest gap between those there are. The answer may be older than the stages, where somebody is quick: what is
 * written counts.
 */
export function withOneMore(stages: StageSheet[], answer: Answer, habit: Habit): StageSheet[] {
  const known = stages.map((stage, i) => pascal(stage.target) ?? (stages.length === answer.stages.length - 1 ? answer.stages[i]!.target : null))
  if (known.some((target) => target === null)) return stages
  const targets = [0, ...(known as number[]), answer.stages.at(-1)!.target]
  let widest = 0
  targets.forEach((target, i) => {
    if (i && target - targets[i - 1]! > targets[widest + 1]! - targets[widest]!) widest = i - 1
  })
  const middle = (targets[widest]! + targets[widest + 1]!) / 2
  const next = [...stages]
  next.splice(widest, 0, { target: written(middle, habit, 3), pause: "3 min" })
  return next
}

/** Where a stage may be moved to: between its neighbours, on the gauge's divisions. Pa. */
export function within(answer: Answer, index: number, pressure: number, step: number): number {
  const [below, above] = [index ? answer.stages[index - 1]!.target : 0, answer.stages[index + 1]!.target]
  const snapped = Math.round(pressure / step) * step
  return Math.min(Math.max(snapped, below + step), above - step)
}

/** A step of the arrow keys: the gauge's division where it is known, else a tenth of a bar or a psi. Pa. */
export function stepOf(draft: Sheet, habit: Habit): number {
  const division = (draft["gauge"] as { division?: string } | undefined)?.division ?? ""
  const size = pascal(division)
  if (size) return size
  return { metric: 1e4, imperial: 6894.757293168, millibar: 100 }[habit]
}
