import { CourseChart } from "../parts/CourseChart"
import { digits, show, span } from "../parts/units"
import type { FieldsProps } from "./Bases"
import { withStage } from "./moves"
import { StageHandles } from "./StageHandles"
import { ownStages, pause, stepOf, withOneMore } from "./stages"
import type { Drafting } from "./useDraft"

/** The course over time, its stages moved where they are. */
export function Course({ drafting, ...fields }: FieldsProps & { drafting: Drafting }) {
  const { draft, change, habit, answer, disabled } = fields
  const { strokes, volume } = answer.pump
  const whole = span(Math.round((answer.profile.at(-1)?.time ?? 0) / 60) * 60)
  const step = stepOf(draft, habit)
  const stages = () => ownStages(draft, answer, habit)
  const pauseAt = (index: number, seconds: number) =>
    change({ ...draft, stages: stages().map((stage, i) => (i === index ? { ...stage, pause: pause(seconds) } : stage)) })
  const remove = (index: number) => answer.stages.length > 2 && change({ ...draft, stages: stages().filter((_, i) => i !== index) })
  const quiet = "btn btn-ghost btn-sm min-h-8 px-2 text-small"
  return (
    <section className="flex flex-col px-4 pt-2 lg:min-h-0 lg:flex-1">
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h2 className="text-title">Raise in {answer.stages.length} stages</h2>
        <span className="text-note text-quiet">
          {strokes != null && volume != null
            ? `${digits(strokes, 2)} strokes, ${show(volume, volume >= 1e-3 ? "volume" : "small", habit)} to the top, ${whole} in all`
            : `${whole} in all${answer.procedure === "steam" ? (answer.heating ? ", at the soonest" : "; how long once its burner is said") : "; strokes once a pump is said"}`}
        </span>
        {!disabled && (
          <span className="ml-auto flex items-center">
            <button className={quiet} onClick={() => drafting.undo?.()} disabled={!drafting.undo} title="Ctrl Z">
              Undo
            </button>
            <button className={quiet} onClick={() => drafting.redo?.()} disabled={!drafting.redo} title="Ctrl Shift Z">
              Redo
            </button>
            <button className={quiet} onClick={() => change({ ...draft, stages: withOneMore(stages(), answer, habit) })}>
              Add a stage
            </button>
          </span>
        )}
      </div>
      <div className="h-72 lg:h-auto lg:min-h-0 lg:flex-1">
        <CourseChart
          answer={answer}
          habit={habit}
          named
          over={
            disabled
              ? undefined
              : (chart) => (
                  <StageHandles
                    answer={answer}
                    chart={chart}
                    habit={habit}
                    step={step}
                    move={(index, pressure) => change(withStage(draft, answer, habit, index, pressure, step))}
                    pauseAt={pauseAt}
                    remove={remove}
                  />
                )
          }
        />
      </div>
    </section>
  )
}
