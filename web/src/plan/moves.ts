import type { PlanMoves } from "../parts/marks"
import type { Habit } from "../parts/units"
import type { FieldsProps } from "./Bases"
import type { Sheet } from "./queries"
import { ownStages, stepOf, within, written } from "./stages"

/** What may be moved on the glass, and what follows in the sheet. */
export function movesOf({ draft, change, habit, answer }: FieldsProps): PlanMoves {
  const step = stepOf(draft, habit)
  const head = answer.gauge_head ?? 0
  return {
    wanted: { step, does: "the wanted pressure, up and down", to: (pressure) => change({ ...draft, working_pressure: written(pressure, habit) }) },
    relief: { step, does: "where the relief valve is set", to: (pressure) => change({ ...draft, relief_set: written(pressure, habit) }) },
    test: {
      step,
      does: "the test, by a factor of your own",
      to: (pressure) =>
        change({ ...draft, basis: "own", factor: Math.min(4, Math.max(1, Math.round(((pressure - head) / answer.base_pressure) * 100) / 100)) }),
    },
    stage: (index) => ({ step, does: "a stage, up and down", to: (pressure) => change(withStage(draft, answer, habit, index, pressure, step)) }),
  }
}

/** The sheet with a stage moved to a pressure, as far as its neighbours let it. */
export function withStage(draft: Sheet, answer: FieldsProps["answer"], habit: Habit, index: number, pressure: number, step: number): Sheet {
  const target = written(within(answer, index, pressure, step), habit)
  return { ...draft, stages: ownStages(draft, answer, habit).map((stage, i) => (i === index ? { ...stage, target } : stage)) }
}
