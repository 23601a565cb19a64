import { useRef, useState } from "react"
import { Alert } from "../parts/Alert"
import { Keep, Dialog, useKeeping } from "../parts/Dialog"
import { columnUnit, withUnit } from "../parts/QuantityField"
import { isMetric, unitOf, type Habit } from "../parts/units"
import type { Hands } from "./queries"

type DialPadProps = { habit: Habit; hands: Hands; close: () => void; column?: boolean }

/** What the dial shows, typed or tapped. It closes when the reading is on the disk, or written down here to be sent. */
export function DialPad({ habit, hands, close, column }: DialPadProps) {
  const own = column ? columnUnit(isMetric(habit)) : unitOf("pressure", habit)
  const [pressure, setPressure] = useState("")
  const [temperature, setTemperature] = useState("")
  const { says, busy, keep } = useKeeping(close)
  const log = () => {
    const unit = withUnit(pressure.trim(), own)
    keep(() => hands.read(unit, temperature.trim() || null))
  }
  const field = useRef<HTMLInputElement>(null)
  const tap = (key: string) => {
    setPressure((text) => (key === "⌫" ? text.slice(0, -1) : text + key))
    requestAnimationFrame(() => {
      field.current?.focus()
      field.current?.setSelectionRange(field.current.value.length, field.current.value.length)
    })
  }
  return (
    <Dialog title="What does the dial show?" close={close}>
      <form
        onSubmit={(event) => {
          event.preventDefault()
          if (pressure.trim()) log()
        }}
      >
        <div className="mb-3 grid grid-cols-[1fr_130px] gap-3">
          <label className="text-quiet">
            Pressure
            <span className="input flex h-16 w-full items-center bg-ground text-ink">
              <input
                ref={field}
                autoFocus
                aria-label="Pressure"
                inputMode="none"
                className="figure w-full text-4xl"
                value={pressure}
                onChange={(event) => setPressure(event.target.value)}
                aria-invalid={says ? true : undefined}
              />
              <span className="text-xl whitespace-nowrap">{own}</span>
            </span>
          </label>
          <label className="text-quiet">
            {column ? "Gas" : "Water"}
            <span className="input flex h-16 w-full items-center bg-ground text-ink">
              <input
                aria-label="Water temperature"
                className="figure w-full text-xl"
                inputMode="decimal"
                value={temperature}
                onChange={(event) => setTemperature(event.target.value)}
              />
              <span>°C</span>
            </span>
          </label>
        </div>
        {says && <Alert className="mb-3">{says} Nothing was stored yet.</Alert>}
        <div className="mb-4 grid grid-cols-3 gap-2">
          {["7", "8", "9", "4", "5", "6", "1", "2", "3", ".", "0", "⌫"].map((key) => (
            <button key={key} type="button" className="btn figure h-14 text-2xl" onClick={() => tap(key)} aria-label={key === "⌫" ? "take the last back" : key}>
              {key}
            </button>
          ))}
        </div>
        <Keep keep="Log it" close={close} busy={busy} disabled={!pressure.trim()} />
      </form>
    </Dialog>
  )
}
