import { useState } from "react"
import { useNavigate } from "react-router"
import { Keep, Sheet } from "../bench/Sheet"
import { QuantityField } from "../parts/QuantityField"
import type { Fitness } from "../parts/Tag"
import { digits, inUnit, unitOf, type Habit } from "../parts/units"
import { useDecide, type JudgeState } from "./queries"

const CHOICES: [Fitness, string][] = [
  ["fit", "for the pressure wanted"],
  ["limited", "for less than was wanted"],
  ["not proven", "go round again"],
  ["not fit", "stop using it"],
]

/** The decision is a person's: more cautious than the evidence freely, less cautious only with a reason that stays. */
export function DecisionForm({ judge, habit, close }: { judge: JudgeState; habit: Habit; close: () => void }) {
  const navigate = useNavigate()
  const decide = useDecide(judge.id)
  const { advice } = judge
  const [fitness, setFitness] = useState<Fitness>(advice.answer)
  const [pressure, setPressure] = useState(() => written(advice.pressure ?? judge.plan.working_pressure, habit))
  const [reason, setReason] = useState("")
  const asks = fitness === "fit" || fitness === "limited"
  return (
    <Sheet title="The decision is yours" close={close}>
      <form
        onSubmit={(event) => {
          event.preventDefault()
          decide.mutate({ seen: judge.seen, fitness, pressure: asks ? pressure : null, reason }, { onSuccess: () => void navigate(`/records/${judge.id}`) })
        }}
      >
        <p className="mb-3 text-quiet">The evidence says: {advice.says}</p>
        <fieldset className="mb-3 space-y-1">
          <legend className="sr-only">Fitness</legend>
          {CHOICES.map(([key, means]) => (
            <label key={key} className={`flex min-h-11 items-center gap-3 border-line px-3 ${fitness === key ? "border-ink bg-ground" : "border-rule"}`}>
              <input
                type="radio"
                className="radio radio-sm"
                name="fitness"
                checked={fitness === key}
                autoFocus={key === advice.answer}
                onChange={() => setFitness(key)}
              />
              <strong className="w-24">{key}</strong> {means}
            </label>
          ))}
        </fieldset>
        {asks && (
          <QuantityField label="Working pressure it is fit for" kind="pressure" unit={unitOf("pressure", habit)} value={pressure} onChange={setPressure} />
        )}
        <label className="mb-3 block text-small text-quiet">
          Why, in a sentence
          <textarea className="textarea w-full bg-ground text-ink" rows={2} value={reason} onChange={(event) => setReason(event.target.value)} />
        </label>
        {decide.error && (
          <p role="alert" className="strip mb-3 border-vermilion">
            {decide.error.message}
          </p>
        )}
        <Keep keep="Write it down" close={close} disabled={decide.isPending || (asks && !pressure.trim())} />
      </form>
    </Sheet>
  )
}

/** A pressure as the field is prefilled with it: rounded down, never up, to what a person would write. */
function written(pressure: number, habit: Habit): string {
  const value = inUnit(pressure, "pressure", habit)
  const step = habit === "metric" ? 0.01 : 0.1
  const exact = Math.round(value / step) * step
  const down = Math.abs(exact - value) < step * 1e-4 ? exact : Math.floor(value / step) * step
  return `${digits(down, 5)} ${unitOf("pressure", habit)}`
}
