import { useState } from "react"
import type { Schema } from "../api/client"
import { useDue } from "../api/due"
import { Loading } from "../app/Loading"
import { Failed } from "../app/states"
import { DueLine } from "../parts/DueLine"
import { useRenewCalendar } from "./queries"
import { RecordsRoom } from "./RecordsRoom"

/** What is due, the soonest first, and the way into a calendar. */
export function Due() {
  const due = useDue()
  if (due.error) return <Failed error={due.error} retry={() => void due.refetch()} />
  if (!due.data) return <Loading what="what is due" />
  const { items } = due.data
  const late = items.filter((one) => one.overdue)
  const dated = items.filter((one) => one.on && !one.overdue)
  const undated = items.filter((one) => !one.on)
  return (
    <RecordsRoom title="Due">
      <div className="grid gap-x-10 gap-y-6 lg:grid-cols-[1.7fr_1fr]">
        <div>
          {items.length === 0 && (
            <p className="text-lg text-quiet">Nothing is due. Dates come with a decision: fit, or limited, for a pressure and until its next proof.</p>
          )}
          <Part title="Overdue" items={late} />
          <Part title="To come" items={dated} />
          <Part title="When it happens" items={undated} />
        </div>
        <Calendar address={due.data.calendar} any={dated.length + late.length > 0} />
      </div>
    </RecordsRoom>
  )
}

function Part({ title, items }: { title: string; items: Schema["DueItem"][] }) {
  if (items.length === 0) return null
  return (
    <section className="mb-6">
      <h2 className="border-b-line border-ink pb-1 text-title">{title}</h2>
      <ul>
        {items.map((one) => (
          <DueLine key={one.vessel_id + one.what} item={one} named />
        ))}
      </ul>
    </section>
  )
}

function Calendar({ address, any }: { address: string; any: boolean }) {
  const renew = useRenewCalendar()
  const [copied, setCopied] = useState(false)
  return (
    <aside className="h-fit border-line border-rule bg-paper p-4 text-body">
      <h2 className="mb-1 text-title">In a calendar</h2>
      <p className="text-quiet">Each date with a reminder a fortnight before.</p>
      <p className="my-2">
        <a className={`btn btn-outline h-11 border-line bg-ground ${any ? "" : "btn-disabled"}`} href="/api/due.ics" download>
          Calendar file
        </a>
      </p>
      <label className="block text-small text-quiet">
        Or subscribe to this address; whoever has it may read what is due
        <input className="input mt-1 h-11 w-full bg-ground font-mono text-fine text-ink" readOnly value={address} onFocus={(event) => event.target.select()} />
      </label>
      <p className="mt-2 flex flex-wrap gap-3">
        <button
          className="btn btn-outline btn-sm min-h-9 border-line bg-ground"
          onClick={() => void navigator.clipboard.writeText(address).then(() => setCopied(true))}
        >
          {copied ? "Copied" : "Copy"}
        </button>
        <button
          className="btn btn-ghost btn-sm min-h-9"
          onClick={() => renew.mutate(undefined, { onSuccess: () => setCopied(false) })}
          disabled={renew.isPending}
        >
          New address; the old one ends
        </button>
      </p>
      <p className="mt-2 text-small text-quiet">Sooner than any date after a knock, a mend or a change. Your inspector's dates come first.</p>
    </aside>
  )
}
