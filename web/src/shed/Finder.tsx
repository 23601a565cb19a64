import type { Schema } from "../api/client"
import { Pages } from "../parts/Pages"
import type { Sought } from "./queries"

type Shed = Schema["ShedOut"]

export const TAGS = ["fit", "limited", "tight", "not fit", "not proven", "retired"] as const
export const ORDERS = [
  ["hung", "as they were hung up"],
  ["name", "by name"],
  ["due", "by what is due"],
] as const
/** So many vessels are seen at a glance. */
export const FEW = 8

/** Finding one of many: by words of its name or kind, by its tag, and page by page. */
export function Finder({ shed, wanted, seek }: { shed: Shed; wanted: Sought; seek: (to: Partial<Sought>) => void }) {
  const choice = "select h-10 w-auto bg-paper text-body text-ink"
  return (
    <form role="search" className="flex flex-wrap items-end gap-x-4 gap-y-2 pt-2" onSubmit={(event) => event.preventDefault()}>
      <label className="flex max-w-sm min-w-44 flex-1 flex-col text-small text-quiet">
        A vessel by name or kind
        <input
          type="search"
          className="input h-10 w-full bg-paper text-body text-ink"
          value={wanted.text}
          onChange={(event) => seek({ text: event.target.value })}
          maxLength={120}
        />
      </label>
      <label className="flex flex-col text-small text-quiet">
        Its tag
        <select className={choice} value={wanted.tag} onChange={(event) => seek({ tag: event.target.value as Sought["tag"] })}>
          <option value="">any</option>
          {TAGS.map((tag) => (
            <option key={tag}>{tag}</option>
          ))}
        </select>
      </label>
      <label className="flex flex-col text-small text-quiet">
        In order
        <select className={choice} value={wanted.order} onChange={(event) => seek({ order: event.target.value as Sought["order"] })}>
          {ORDERS.map(([order, says]) => (
            <option key={order} value={order}>
              {says}
            </option>
          ))}
        </select>
      </label>
      <p className="pb-2.5 text-note text-quiet" role="status">
        {wanted.tag === "retired"
          ? `${shed.found} of ${shed.retired} retired`
          : shed.found === shed.in_all
            ? `${shed.in_all} vessels`
            : `${shed.found} of ${shed.in_all} vessels`}
      </p>
      {shed.pages > 1 && <Pages page={shed.page} pages={shed.pages} turn={(page) => seek({ page })} />}
      {shed.found === 0 && <p className="w-full py-6">No vessel answers to that. Take a word out, or look at them all.</p>}
    </form>
  )
}
