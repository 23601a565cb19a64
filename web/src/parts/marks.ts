import type { Schema } from "../api/client"
import type { Mark, Move } from "./Glass"

type Answer = Schema["DeriveAnswer"]

/** What is known of vessel and kit: the left of the glass. */
export function factsOf(answer: Answer): Mark[] {
  const marks: (Mark | null)[] = [
    answer.ceiling.pressure != null
      ? { name: answer.ceiling.known ? "ceiling" : "at most", pressure: answer.ceiling.pressure, tone: "vermilion", figures: 4 }
      : null,
    answer.gauge_range != null ? { name: "gauge ends", pressure: answer.gauge_range, tone: "ink" } : null,
    answer.plate_pressure != null ? { name: "plate", pressure: answer.plate_pressure, tone: "ink" } : null,
    answer.allowable.known && answer.allowable.pressure != null ? { name: "allowable", pressure: answer.allowable.pressure, tone: "ink" } : null,
  ]
  return withinReach(marks, answer)
}

/** What of a plan may be moved on the glass. */
export type PlanMoves = { wanted?: Move; relief?: Move; test?: Move; stage?: (index: number) => Move }

/** What is planned: the right of the glass. */
export function planOf(answer: Answer, moves: PlanMoves = {}): Mark[] {
  const stages = answer.stages
    .map((stage, index) => ({ stage, index }))
    .filter(({ stage }) => stage.id !== "test" && stage.id !== "wanted")
    .map(({ stage, index }): Mark => ({
      name: stage.id === "three-quarters" ? "¾" : stage.name,
      pressure: stage.target,
      tone: "brass",
      aim: true,
      move: moves.stage?.(index),
    }))
  const marks: (Mark | null)[] = [
    { name: "test", pressure: answer.gauge_target, tone: "brass", aim: true, move: moves.test },
    { name: "wanted", pressure: answer.working_pressure, tone: "brass", move: moves.wanted },
    answer.relief_set != null && answer.relief_set !== answer.working_pressure
      ? { name: "relief", pressure: answer.relief_set, tone: "brass", move: moves.relief }
      : null,
    ...stages,
  ]
  return withinReach(marks, answer)
}

/** Marks far above everything of interest would squeeze the scale: they are left off it. */
function withinReach(marks: (Mark | null)[], answer: Answer): Mark[] {
  const most = REACH * highest(answer)
  return marks.filter((mark): mark is Mark => mark !== null && mark.pressure <= most)
}

/** What the glass needs of a plan: its ceiling, or that it is off the scale; the test band; where the line begins. */
export function glassOf(answer: Answer) {
  const ceiling = answer.ceiling.pressure
  const near = ceiling != null && ceiling <= REACH * highest(answer)
  const [from = 0, to = 0] = answer.target_band
  return {
    facts: factsOf(answer),
    ceiling: near ? ceiling : null,
    above: near || !answer.ceiling.known ? null : ceiling,
    band: [from, to] as [number, number],
    lineFrom: answer.approach_pressure,
  }
}

const REACH = 3
const highest = (answer: Answer) => Math.max(answer.gauge_target, answer.working_pressure)
