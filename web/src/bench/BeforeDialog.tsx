import { useState } from "react"
import { Alert } from "../parts/Alert"
import { Dialog, Keep, useKeeping } from "../parts/Dialog"
import { BEFORE } from "./before"
import type { Hands } from "./queries"

/** What is written down before anything is closed up: that a tank is free of gas, that a cask is swelled. */
export function BeforeDialog({ step, hands, close }: { step: string; hands: Hands; close: () => void }) {
  const { title, says: warns, fields } = BEFORE[step]!
  const [told, setTold] = useState<Record<string, string>>({})
  const { says, busy, keep } = useKeeping(close)
  return (
    <Dialog title={title} close={close}>
      <form
        onSubmit={(event) => {
          event.preventDefault()
          keep(() => hands.step(step, told, title))
        }}
      >
        <p className="strip mb-3">{warns}</p>
        {fields.map(([key, label, such], n) => (
          <label key={key} className="mb-3 block text-quiet">
            {label}
            <input
              className="input h-12 w-full bg-ground text-lg text-ink"
              autoFocus={n === 0}
              value={told[key] ?? ""}
              placeholder={such}
              onChange={(event) => setTold({ ...told, [key]: event.target.value })}
            />
          </label>
        ))}
        {says && <Alert className="mb-3">{says}</Alert>}
        <Keep keep="Write it down" close={close} busy={busy} disabled={fields.some(([key]) => !told[key]?.trim())} />
      </form>
    </Dialog>
  )
}
