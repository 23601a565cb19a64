import { useState } from "react"
import { Alert } from "../parts/Alert"
import { Dialog, Keep } from "../parts/Dialog"
import type { Hands } from "./queries"

const FIELDS = [
  ["how", "How it was made free of gas", "washed out with soda and hot water, twice; aired"],
  ["long", "For how long", "two days, open"],
  ["checked", "How that was checked", "no smell, meter at nought at the bottom"],
  ["whom", "By whom", ""],
] as const

/** Before a tank that held oil or fuel is closed up: how it was made free of gas. */
export function GasFreeDialog({ hands, close }: { hands: Hands; close: () => void }) {
  const [told, setTold] = useState({ how: "", long: "", checked: "", whom: "" })
  const [says, setSays] = useState<string | null>(null)
  const keep = () => hands.step("gas-free", told, "free of gas").then(close, (problem: Error) => setSays(problem.message))
  return (
    <Dialog title="Is it free of gas?" close={close}>
      <form
        onSubmit={(event) => {
          event.preventDefault()
          void keep()
        }}
      >
        <p className="strip mb-3">
          What held oil or fuel holds vapour in its seams and its rust for days. No flame and no spark near it, now and after. Where you are not sure, somebody
          with a meter is.
        </p>
        {FIELDS.map(([key, label, such], n) => (
          <label key={key} className="mb-3 block text-quiet">
            {label}
            <input
              className="input h-12 w-full bg-ground text-lg text-ink"
              autoFocus={n === 0}
              value={told[key]}
              placeholder={such}
              onChange={(event) => setTold({ ...told, [key]: event.target.value })}
            />
          </label>
        ))}
        {says && <Alert className="mb-3">{says}</Alert>}
        <Keep keep="Write it down" close={close} disabled={Object.values(told).some((text) => !text.trim())} />
      </form>
    </Dialog>
  )
}
