import { useState } from "react"
import { Link } from "react-router"
import type { Schema } from "../api/client"
import { useCareDone } from "../api/due"
import { day, howFar, today } from "./units"

type Item = Schema["DueItem"]

const TRIALS = ["proof", "tightness", "gas head"]

/** One thing that is due, with the way to tick it off. */
export function DueLine({ item, named }: { item: Item; named: boolean }) {
  const done = useCareDone()
  const [open, setOpen] = useState(false)
  const [on, setOn] = useState(today)
  const [text, setText] = useState("")
  return (
    <li className={`border-b border-rule py-2 ${item.overdue ? "border-l-4 border-l-vermilion pl-3" : ""}`}>
      <div className="grid grid-cols-[104px_1fr_auto] items-baseline gap-x-4">
        <span className={`whitespace-nowrap ${item.overdue ? "font-semibold text-vermilion" : ""}`}>{item.on ? day(item.on) : item.says}</span>
        <span>
          <span className="font-semibold">
            {named && (
              <Link className="underline decoration-rule decoration-2 underline-offset-3 hover:decoration-ink" to={`/vessels/${item.vessel_id}`}>
                {item.vessel}
              </Link>
            )}
            {named ? ": " : ""}
            {item.what}
          </span>
          {item.on && (
            <span className="block text-note text-quiet">
              {item.days != null && `${howFar(item.days)}, `}
              {item.says}
              {item.done && `; last done ${day(item.done)}`}
            </span>
          )}
        </span>
        {item.by_hand && (
          <button className="btn btn-outline btn-sm min-h-9 border-line bg-ground" onClick={() => setOpen(!open)} aria-expanded={open}>
            Done
          </button>
        )}
        {!item.by_hand && TRIALS.includes(item.what) && (
          <Link className="text-water-ink dotted" to={`/vessels/${item.vessel_id}`}>
            plan it
          </Link>
        )}
      </div>
      {open && (
        <form
          className="mt-2 flex flex-wrap items-end gap-3"
          onSubmit={(event) => {
            event.preventDefault()
            done.mutate({ vessel: item.vessel_id, what: item.what, on, text }, { onSuccess: () => setOpen(false) })
          }}
        >
          <label className="flex flex-col text-small text-quiet">
            On
            <input type="date" className="input h-11 bg-paper text-ink" value={on} onChange={(event) => setOn(event.target.value)} required />
          </label>
          <label className="flex flex-1 flex-col text-small text-quiet">
            What was found
            <input className="input h-11 w-full bg-paper text-ink" value={text} onChange={(event) => setText(event.target.value)} />
          </label>
          <button className="btn btn-primary h-11" disabled={done.isPending}>
            Keep it
          </button>
          {done.error && (
            <p role="alert" className="w-full text-vermilion">
              {done.error.message}
            </p>
          )}
        </form>
      )}
    </li>
  )
}
