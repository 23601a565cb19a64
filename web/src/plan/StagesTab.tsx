import { useState } from "react"
import { Pick } from "../parts/Fields"
import { QuantityField, withUnit } from "../parts/QuantityField"
import { aim, digits, show, unitOf, type Habit } from "../parts/units"
import type { FieldsProps } from "./Bases"
import type { Sheet } from "./queries"
import { ownStages, withOneMore, type StageSheet } from "./stages"

const STYLES = [
  ["quarters", "in quarters"],
  ["half-then-tenths", "half, then tenths"],
  ["single", "in one rise"],
] as const

/** The stages one under the other: target, pause, what is pumped, and where people stand. */
export function StagesTab({ draft, change, habit, disabled, answer, problem }: FieldsProps) {
  const own = (draft["stages"] as StageSheet[] | undefined)?.length ?? 0
  const write = (index: number, key: "target" | "pause", text: string) => {
    const stages = ownStages(draft, answer, habit).map((stage, i) =>
      i === index ? { ...stage, [key]: withUnit(text, key === "pause" ? "min" : unitOf("pressure", habit)) } : stage,
    )
    change({ ...draft, stages })
  }
  const choose = (style: string) => {
    const every = style === "every" ? `${aim(answer.gauge_target / 5, habit)} ${unitOf("pressure", habit)}` : undefined
    change({ ...draft, stages: undefined, raising: (style && !every ? style : undefined) as Sheet["raising"], raising_by: every })
  }
  const remove = (index: number) => change({ ...draft, stages: ownStages(draft, answer, habit).filter((_, i) => i !== index) })
  const stages = ownStages(draft, answer, habit)
  const wrong = problem?.field?.match(/^stages(\.(\d+)\.)?/)
  return (
    <div>
      <div className="flex flex-wrap items-end gap-3">
        <div className="w-44">
          <Pick
            compact
            label="Raise"
            value={own ? "own" : draft["raising_by"] != null ? "every" : ((draft["raising"] as string | undefined) ?? "")}
            disabled={disabled}
            onChange={choose}
            options={[["", "as the basis says"], ...STYLES, ["every", "every so much"] as const, ...(own ? [["own", "my own stages"] as const] : [])]}
          />
        </div>
        {draft["raising_by"] != null && !own && (
          <div className="w-32">
            <QuantityField
              compact
              label="Every"
              kind="pressure"
              unit={unitOf("pressure", habit)}
              value={draft["raising_by"]}
              onChange={(text) => change({ ...draft, raising_by: text || undefined })}
              disabled={disabled}
              problem={problem?.field === "raising_by" ? problem.message : null}
            />
          </div>
        )}
        <button
          className="btn btn-outline btn-sm border-line bg-ground mb-[17px] min-h-9"
          disabled={disabled}
          onClick={() => change({ ...draft, stages: withOneMore(stages, answer, habit) })}
        >
          Add a stage
        </button>
        {wrong && <p className="mb-[17px] text-small text-vermilion">{problem!.message}</p>}
      </div>
      <table className="w-full text-small">
        <thead>
          <tr className="border-b border-rule text-left text-quiet">
            {["", "to", "pause", "pump in", "strokes", "who", ""].map((head, i) => (
              <th key={i} className="font-normal">
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {answer.stages.map((stage, index) => {
            const last = index === answer.stages.length - 1
            const mine = stages[index]
            return (
              <tr key={index} className="border-b border-rule">
                <td className="pr-1">{stage.id === "three-quarters" ? "¾" : stage.name}</td>
                <td>
                  {last || !mine ? (
                    <span className="figure">
                      {aim(stage.target, habit)} {unitOf("pressure", habit)}
                    </span>
                  ) : (
                    <Cell
                      label={`Target of stage ${index + 1}`}
                      text={own ? mine.target : `${aim(stage.target, habit)} ${unitOf("pressure", habit)}`}
                      write={(text) => write(index, "target", text)}
                      disabled={disabled}
                    />
                  )}
                </td>
                <td>
                  {last || !mine ? (
                    <span className="text-quiet">hold</span>
                  ) : (
                    <Cell
                      label={`Pause at stage ${index + 1}`}
                      text={mine.pause ?? "3 min"}
                      write={(text) => write(index, "pause", text)}
                      disabled={disabled}
                    />
                  )}
                </td>
                <td className="figure px-1 whitespace-nowrap">{pumped(stage.pumped, habit)}</td>
                <td className="figure px-1 whitespace-nowrap">
                  {stage.strokes != null ? digits(stage.strokes, 2) : "–"}
                  {stage.strokes_from_last != null && <span className="font-normal text-quiet"> +{digits(stage.strokes_from_last, 2)}</span>}
                </td>
                <td className={stage.zone === "line" ? "text-brass-ink" : ""} title={stage.zone === "line" ? "nobody near" : "people may be near"}>
                  {stage.zone === "line" ? "nobody" : "near"}
                </td>
                <td className="text-right">
                  {!last && (
                    <button
                      className="min-h-8 px-2 text-vermilion disabled:opacity-40"
                      disabled={disabled || answer.stages.length < 3}
                      aria-label={`Take out stage ${index + 1}`}
                      onClick={() => remove(index)}
                    >
                      ×
                    </button>
                  )}
                </td>
              </tr>
            )
          })}
        </tbody>
      </table>
    </div>
  )
}

function pumped(volume: number | null, habit: Habit): string {
  if (volume == null) return "–"
  return volume >= 1e-3 ? show(volume, "volume", habit, 3) : show(volume, "small", habit, 3)
}

function Cell({ label, text, write, disabled }: { label: string; text: string; write: (text: string) => void; disabled: boolean }) {
  const [typed, setTyped] = useState<string | null>(null)
  return (
    <input
      className="figure h-7 w-[84px] rounded-[4px] border-line border-rule bg-paper px-1.5 disabled:border-transparent disabled:bg-transparent"
      aria-label={label}
      value={typed ?? text}
      disabled={disabled}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={() => {
        if (typed !== null && typed.trim() !== "" && typed !== text) write(typed)
        setTyped(null)
      }}
      onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
    />
  )
}
