import { useState } from "react"
import { useNavigate } from "react-router"
import { Alert } from "../parts/Alert"
import { Keep, Dialog } from "../parts/Dialog"
import { QuantityField } from "../parts/QuantityField"
import type { Fitness } from "../parts/Tag"
import { unitOf, type Habit } from "../parts/units"
import { useDecide, type JudgeState } from "./queries"

const CHOICES: [Fitness, string][] = [
  ["fit", "for the pressure wanted"],
  ["limited", "for less than was wanted"],
  ["tight", "at a pressure; no strength is claimed"],
  ["not proven", "go round again"],
  ["not fit", "stop using it"],
]

/** The decision is a person's: more cautious than the evidence freely, less cautious only with a reason that stays. */
export function DecisionForm({ judge, habit, close }: { judge: JudgeState; habit: Habit; close: () => void }) {
  const navigate = useNavigate()
  const decide = useDecide(judge.id)
  const { advice } = judge
  const [fitness, setFitness] = useState<Fitness>(advice.answer)
  const [pressure, setPressure] = useState(judge.offer)
  const [reason, setReason] = useState("")
  const asks = fitness === "fit" || fitness === "limited" || fitness === "tight"
  return (
    <Dialog title="The decision is yours" close={close}>
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
          <QuantityField
            label={fitness === "tight" ? "Pressure it is tight at" : "Working pressure it is fit for"}
            kind="pressure"
            unit={unitOf("pressure", habit)}
            value={pressure}
            onChange={setPressure}
          />
        )}
        <label className="mb-3 block text-small text-quiet">
          Why, in a sentence
          <textarea className="textarea w-full bg-ground text-ink" rows={2} value={reason} onChange={(event) => setReason(event.target.value)} />
        </label>
        {decide.error && <Alert className="mb-3">{decide.error.message}</Alert>}
        <Keep keep="Write it down" close={close} disabled={decide.isPending || (asks && !pressure.trim())} />
      </form>
    </Dialog>
  )
}
