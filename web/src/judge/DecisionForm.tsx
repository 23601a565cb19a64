import { useState } from "react"
import { useNavigate } from "react-router"
import { Alert } from "../parts/Alert"
import { Keep, Dialog } from "../parts/Dialog"
import { QuantityField } from "../parts/QuantityField"
import { unitOf, type Habit } from "../parts/units"
import { useDecide, type JudgeState } from "./queries"

/** The decision is a person's: more cautious than the evidence freely, less cautious only with a reason that stays. */
export function DecisionForm({ judge, habit, close }: { judge: JudgeState; habit: Habit; close: () => void }) {
  const navigate = useNavigate()
  const decide = useDecide(judge.id)
  const { advice } = judge
  const [chosen, choose] = useState(judge.choices.find((one) => one.advised)!)
  const [pressure, setPressure] = useState(judge.offer)
  const [reason, setReason] = useState("")
  const [overruled, setOverruled] = useState<Record<string, string>>({})
  const ofValve = judge.valve !== null
  const against = chosen.further && !ofValve ? advice.evidence.filter((line) => line.state === "not met" || (line.asked && line.state === "not known")) : []
  return (
    <Dialog title="The decision is yours" close={close}>
      <form
        onSubmit={(event) => {
          event.preventDefault()
          decide.mutate(
            {
              seen: judge.seen,
              fitness: chosen.fitness,
              valve: chosen.valve || null,
              pressure: chosen.pressed ? pressure : null,
              reason,
              overruled: chosen.further ? overruled : {},
            },
            { onSuccess: () => void navigate(`/records/${judge.id}`) },
          )
        }}
      >
        <p className="mb-3 text-quiet">The evidence says: {advice.says}</p>
        <fieldset className="mb-3 space-y-1">
          <legend className="sr-only">{ofValve ? "What the valve is" : "Fitness"}</legend>
          {judge.choices.map((one) => (
            <label key={one.says} className={`flex min-h-11 items-center gap-3 border-line px-3 ${one === chosen ? "border-ink bg-ground" : "border-rule"}`}>
              <input type="radio" className="radio radio-sm" name="fitness" checked={one === chosen} autoFocus={one.advised} onChange={() => choose(one)} />
              <strong className={`shrink-0 ${ofValve ? "w-32 sm:w-40" : "w-24"}`}>{one.says}</strong> {one.means}
            </label>
          ))}
        </fieldset>
        {chosen.pressed && (
          <QuantityField
            label={chosen.fitness === "tight" ? "Pressure it is tight at" : "Working pressure it is fit for"}
            kind="pressure"
            unit={unitOf("pressure", habit)}
            value={pressure}
            onChange={setPressure}
          />
        )}
        {against.length > 0 && (
          <fieldset className="mb-3">
            <legend className="mb-1 text-body">
              <strong className="text-brass-ink">That goes further than the evidence.</strong> Why, for each line that stands in the way:
            </legend>
            {against.map((line) => (
              <label key={line.code} className="mb-2 block text-small text-quiet">
                {line.name}: {line.state} ({line.says})
                <input
                  className="input h-11 w-full bg-ground text-ink"
                  required
                  value={overruled[line.code ?? ""] ?? ""}
                  onChange={(event) => setOverruled({ ...overruled, [line.code ?? ""]: event.target.value })}
                />
              </label>
            ))}
          </fieldset>
        )}
        <label className="mb-3 block text-small text-quiet">
          {ofValve && chosen.further ? "This goes further than the evidence. Why?" : "Why, in a sentence"}
          <textarea
            className="textarea w-full bg-ground text-ink"
            rows={2}
            required={ofValve && chosen.further}
            value={reason}
            onChange={(event) => setReason(event.target.value)}
          />
        </label>
        {decide.error && <Alert className="mb-3">{decide.error.message}</Alert>}
        <Keep keep="Write it down" close={close} busy={decide.isPending} disabled={chosen.pressed && !pressure.trim()} />
      </form>
    </Dialog>
  )
}
