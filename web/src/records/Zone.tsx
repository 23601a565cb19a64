import { useState } from "react"
import { useHabits, useMe } from "../api/me"
import { Alert } from "../parts/Alert"
import { Heading } from "./Heading"

/** In which zone days and times are told, here and on paper. */
export function Zone() {
  const { data: me } = useMe()
  const habits = useHabits()
  const [typed, setTyped] = useState<string | null>(null)
  if (!me) return null
  const zones = Intl.supportedValuesOf?.("timeZone") ?? []
  return (
    <section>
      <Heading>Days and times</Heading>
      <form
        className="flex flex-wrap items-end gap-3"
        onSubmit={(event) => {
          event.preventDefault()
          habits.mutate({ units: me.units, zone: (typed ?? me.zone).trim() }, { onSuccess: () => setTyped(null) })
        }}
      >
        <label className="flex flex-1 flex-col text-small text-quiet">
          Time zone of the workshop
          <input
            className="input h-11 w-full bg-paper text-ink"
            list="zones"
            value={typed ?? me.zone}
            onChange={(event) => setTyped(event.target.value)}
            maxLength={60}
            required
          />
        </label>
        <datalist id="zones">
          {zones.map((name) => (
            <option key={name} value={name} />
          ))}
        </datalist>
        <button className="btn btn-outline h-11 border-line bg-ground" disabled={typed === null || habits.isPending}>
          Keep
        </button>
      </form>
      <p className="mt-1 text-small text-quiet">Records and their papers tell days and times in it, and name it. What is stored stays the same.</p>
      {habits.error && <Alert className="mt-2">{habits.error.message}</Alert>}
    </section>
  )
}
