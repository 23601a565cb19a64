import { useEffect, useMemo, useState } from "react"
import { Alert } from "../parts/Alert"
import { Keep, Dialog, useKeeping } from "../parts/Dialog"
import type { BenchState, Hands } from "./queries"

type Leak = BenchState["leaks"][number]

/** A picture with a word to it. It waits here like everything else where the server is away. */
export function PhotoDialog({ hands, leaks, close }: { hands: Hands; leaks: Leak[]; close: () => void }) {
  const [picture, setPicture] = useState<File | null>(null)
  const [text, setText] = useState("")
  const [leak, setLeak] = useState("")
  const { says, busy, keep } = useKeeping(close)
  const shown = useMemo(() => picture && URL.createObjectURL(picture), [picture])
  useEffect(() => () => void (shown && URL.revokeObjectURL(shown)), [shown])
  return (
    <Dialog title="A photo" close={close}>
      <form
        onSubmit={(event) => {
          event.preventDefault()
          if (picture) keep(() => hands.photo(picture, text, leak || null))
        }}
      >
        <label className="block text-quiet">
          Take one, or choose one
          <input
            type="file"
            accept="image/jpeg,image/png,image/webp"
            capture="environment"
            className="file-input h-14 w-full bg-ground text-ink"
            onChange={(event) => setPicture(event.target.files?.[0] ?? null)}
          />
        </label>
        {shown && <img src={shown} alt="The picture that is to be kept" className="mt-3 max-h-64 w-full object-contain" />}
        <label className="my-3 block text-quiet">
          What it shows
          <input className="input h-14 w-full bg-ground text-lg text-ink" value={text} onChange={(event) => setText(event.target.value)} />
        </label>
        {leaks.length > 0 && (
          <label className="mb-3 block text-quiet">
            Of
            <select className="select h-14 w-full bg-ground text-lg text-ink" value={leak} onChange={(event) => setLeak(event.target.value)}>
              <option value="">the run</option>
              {leaks.map((one) => (
                <option key={one.id} value={one.id}>
                  leak: {one.where}
                </option>
              ))}
            </select>
          </label>
        )}
        {says && <Alert className="mb-3">{says}</Alert>}
        <Keep keep="Keep it" close={close} busy={busy} disabled={!picture} />
      </form>
    </Dialog>
  )
}
