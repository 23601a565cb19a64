import { useState } from "react"
import { Alert } from "../parts/Alert"
import { Dialog, Keep, useKeeping } from "../parts/Dialog"
import { span } from "../parts/units"
import type { BenchState, Hands } from "./queries"

type Leak = BenchState["leaks"][number]

/** What was done about a leak: a way of mending, with what it was sealed, in words where there is more to tell; what it voids and asks for is said first. */
export function MendDialog({ bench, leak, hands, close }: { bench: BenchState; leak: Leak; hands: Hands; close: () => void }) {
  const [act, setAct] = useState("")
  const [compound, setCompound] = useState("")
  const [did, setDid] = useState("")
  const { says, busy, keep } = useKeeping(close)
  const way = bench.ways.find((one) => one.id === act)
  const with_ = bench.compounds.find((one) => one.id === compound)
  const again = act === "tightened" && leak.times_tightened >= 2
  return (
    <Dialog title={`${leak.where}: what was done?`} close={close} wide>
      <form
        onSubmit={(event) => {
          event.preventDefault()
          if (act || did.trim())
            keep(() =>
              hands.step("mended", { leak: leak.id, did: did.trim(), act, compound: way?.seals ? compound : "" }, `${leak.where}: ${did.trim() || way?.name}`),
            )
        }}
      >
        <label className="mb-3 block text-quiet">
          In words: by how much, which part
          <input autoFocus className="input h-12 w-full bg-ground text-lg text-ink" value={did} onChange={(event) => setDid(event.target.value)} />
        </label>
        <div role="group" aria-label="How" className="mb-3 flex flex-wrap gap-2">
          {bench.ways.map((one) => (
            <button
              key={one.id}
              type="button"
              aria-pressed={act === one.id}
              className={`btn min-h-11 border-line ${act === one.id ? "border-ink bg-ground font-bold" : "border-rule"}`}
              onClick={() => setAct(act === one.id ? "" : one.id)}
            >
              {one.name}
            </button>
          ))}
        </div>
        {way?.seals && (
          <label className="mb-3 block text-quiet">
            With
            <select className="select h-12 w-full bg-ground text-lg text-ink" value={compound} onChange={(event) => setCompound(event.target.value)}>
              <option value="">not said: wait as for the slowest</option>
              {bench.compounds.map((one) => (
                <option key={one.id} value={one.id}>
                  {one.name}
                  {one.cures_in === null ? ", does not cure this cold" : one.cures_in > 0 ? `, cures in ${span(one.cures_in)}` : ""}
                </option>
              ))}
            </select>
            {with_ && <span className="block text-small">{with_.source}</span>}
          </label>
        )}
        {way && <p className="strip mb-3">{again ? "Tightened twice already. Take it apart: seat, thread and washer." : way.asks[leak.owner]}</p>}
        {!way && <p className="mb-3 text-quiet">{bench.mending}</p>}
        {says && <Alert className="mb-3">{says}</Alert>}
        <Keep keep="Write it down" close={close} busy={busy} disabled={!act && !did.trim()} />
      </form>
    </Dialog>
  )
}
