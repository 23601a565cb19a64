import { useState } from "react"
import { useNavigate } from "react-router"
import { Alert } from "../parts/Alert"
import { Keep, Dialog } from "../parts/Dialog"
import { QuantityField } from "../parts/QuantityField"
import { VALVES, type Fitness, type Valve } from "../parts/Tag"
import { unitOf, type Habit } from "../parts/units"
import { useDecide, type JudgeState } from "./queries"

const CHOICES: [Fitness, string][] = [
  ["fit", "for the pressure wanted"],
  ["limited", "for less than was wanted"],
  ["tight", "at a pressure; no strength is claimed"],
  ["not proven", "go round again"],
  ["not fit", "stop using it"],
]

/** From the most cautious to the least. */
const ORDER: Fitness[] = ["not fit", "not proven", "tight", "limited", "fit"]

/** Of a relief valve's own trial: of the valve alone, from the most cautious to the least. */
const OF_VALVE: [Valve, string][] = [
  ["good", "it lifts at its set and shuts again"],
  ["reset", "have it set, and try it again"],
  ["bad", "take it out of use"],
  ["cannot-tell", "go round again"],
]
const VALVE_ORDER: Valve[] = ["bad", "reset", "cannot-tell", "good"]

/** The decision is a person's: more cautious than the evidence freely, less cautious only with a reason that stays. */
export function DecisionForm({ judge, habit, close }: { judge: JudgeState; habit: Habit; close: () => void }) {
  const navigate = useNavigate()
  const decide = useDecide(judge.id)
  const { advice } = judge
  const found = judge.valve?.answer ?? null
  const [valve, setValve] = useState<Valve | null>(advice.answer === "not fit" ? null : found)
  const [fitness, setFitness] = useState<Fitness>(advice.answer)
  const [pressure, setPressure] = useState(judge.offer)
  const [reason, setReason] = useState("")
  const [overruled, setOverruled] = useState<Record<string, string>>({})
  const bold = found !== null && valve !== null && VALVE_ORDER.indexOf(valve) > VALVE_ORDER.indexOf(found)
  const further = bold || ORDER.indexOf(fitness) > ORDER.indexOf(advice.answer)
  const choose = (next: Fitness, of: Valve | null = null) => (setFitness(next), setValve(of))
  const against = further && found === null ? advice.evidence.filter((line) => line.state === "not met" || (line.asked && line.state === "not known")) : []
  const asks = fitness === "fit" || fitness === "limited" || fitness === "tight"
  return (
    <Dialog title="The decision is yours" close={close}>
      <form
        onSubmit={(event) => {
          event.preventDefault()
          decide.mutate(
            { seen: judge.seen, fitness, valve, pressure: asks ? pressure : null, reason, overruled: further ? overruled : {} },
            { onSuccess: () => void navigate(`/records/${judge.id}`) },
          )
        }}
      >
        <p className="mb-3 text-quiet">The evidence says: {advice.says}</p>
        <fieldset className="mb-3 space-y-1">
          <legend className="sr-only">{found ? "What the valve is" : "Fitness"}</legend>
          {found
            ? OF_VALVE.map(([key, means]) => (
                <Choice wide key={key} says={VALVES[key]} means={means} on={valve === key} first={key === valve} choose={() => choose("not proven", key)} />
              ))
            : CHOICES.map(([key, means]) => (
                <Choice key={key} says={key} means={means} on={fitness === key} first={key === advice.answer} choose={() => choose(key)} />
              ))}
          {found && (
            <Choice
              wide
              says="vessel not fit"
              means="something was seen of the vessel itself"
              on={valve === null}
              first={valve === null}
              choose={() => choose("not fit")}
            />
          )}
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
          {bold ? "That goes further than what was found of the valve. Why?" : "Why, in a sentence"}
          <textarea
            className="textarea w-full bg-ground text-ink"
            rows={2}
            required={bold}
            value={reason}
            onChange={(event) => setReason(event.target.value)}
          />
        </label>
        {decide.error && <Alert className="mb-3">{decide.error.message}</Alert>}
        <Keep keep="Write it down" close={close} busy={decide.isPending} disabled={asks && !pressure.trim()} />
      </form>
    </Dialog>
  )
}

function Choice({
  says,
  means,
  on,
  first,
  wide = false,
  choose,
}: {
  says: string
  wide?: boolean
  means: string
  on: boolean
  first: boolean
  choose: () => void
}) {
  return (
    <label className={`flex min-h-11 items-center gap-3 border-line px-3 ${on ? "border-ink bg-ground" : "border-rule"}`}>
      <input type="radio" className="radio radio-sm" name="fitness" checked={on} autoFocus={first} onChange={choose} />
      <strong className={`shrink-0 ${wide ? "w-32 sm:w-40" : "w-24"}`}>{says}</strong> {means}
    </label>
  )
}
