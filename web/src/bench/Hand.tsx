import { useState } from "react"
import { useKeys } from "../app/keys"
import { Alert } from "../parts/Alert"
import { useSetting } from "./settings"
import type { BenchState, Hands } from "./queries"

/** Somebody else has the run: it is seen as it happens, may be asked for, and stop may be called. */
export function OtherHand({ bench, hands, works }: { bench: BenchState; hands: Hands; works: boolean }) {
  const ask = () => hands.hold.mutate("ask")
  const take = () => hands.hold.mutate("take")
  const stop = () => hands.callStop.mutate("")
  useKeys([
    { key: "t", does: "take the run over", act: take, disabled: !works },
    { key: "y", does: "ask for the run", act: ask, disabled: !works || bench.hand.asking },
    { key: "!", does: "call stop", act: stop, disabled: !works },
  ])
  return (
    <div className="flex flex-wrap items-center gap-2 border-l-8 border-water bg-water-soft px-4 py-2 sm:gap-3">
      <span className="min-w-56 flex-1">
        The run is in the hand of {bench.hand.name || "another window"}. You see it as it happens{works && ", and may write notes, readings and leaks"}.
      </span>
      {works && (
        <>
          <button className="btn h-11 border-line border-ink" onClick={ask} disabled={hands.hold.isPending || bench.hand.asking}>
            {bench.hand.asking ? "Asked for" : "Ask for it"} <kbd className="key hidden sm:inline-grid">Y</kbd>
          </button>
          <button className="btn h-11 border-line border-ink" onClick={take} disabled={hands.hold.isPending}>
            Take it over <kbd className="key hidden sm:inline-grid">T</kbd>
          </button>
          <button className="btn btn-error h-11" onClick={stop} disabled={hands.callStop.isPending}>
            Call stop <kbd className="key hidden sm:inline-grid">!</kbd>
          </button>
        </>
      )}
      {hands.callStop.error && works && <Alert>{hands.callStop.error.message} Shout.</Alert>}
    </div>
  )
}

/** Somebody asks for the run that is in this hand. */
export function AskedFor({ name, hands }: { name: string; hands: Hands }) {
  const give = () => hands.hold.mutate("give")
  const keep = () => hands.hold.mutate("keep")
  useKeys([{ key: "y", does: `hand the run over to ${name}`, act: give }])
  return (
    <p role="alert" className="flex flex-wrap items-center gap-3 border-l-8 border-brass bg-brass-soft px-4 py-2">
      <span className="min-w-56 flex-1 text-lead">{name} asks for the run.</span>
      <button className="btn btn-primary h-12" onClick={give} disabled={hands.hold.isPending}>
        Hand it over <kbd className="key hidden sm:inline-grid">Y</kbd>
      </button>
      <button className="btn btn-ghost h-12" onClick={keep} disabled={hands.hold.isPending}>
        Keep it
      </button>
    </p>
  )
}

/** What somebody who watches has under their thumb: stop, and what they hear. */
export function WatchBar({ bench, hands }: { bench: BenchState; hands: Hands }) {
  const [text, setText] = useState("")
  const [bell, turnBell] = useSetting("bell")
  const [calls, turnCalls] = useSetting("calls")
  const on = bench.state === "running" || bench.state === "held"
  const stop = () => hands.callStop.mutate(text.trim(), { onSuccess: () => setText("") })
  useKeys([
    { key: "!", does: "call stop", act: stop, disabled: !on },
    { key: "q", does: bell ? "bell off" : "bell on", act: turnBell },
    { key: "c", does: calls ? "call-outs off" : "call out aloud", act: turnCalls },
  ])
  return (
    <div className="grid gap-2 border-t-line border-rule px-3 py-2 sm:grid-cols-[1fr_auto_auto_2fr]">
      <label className="text-note text-quiet">
        What you see, where there is time
        <input className="input h-12 w-full bg-ground text-ink" value={text} maxLength={200} onChange={(event) => setText(event.target.value)} />
      </label>
      <div className="col-span-1 grid grid-cols-2 gap-2 sm:contents">
        <button className="btn h-12 border-line border-ink self-end" onClick={turnBell} aria-pressed={bell}>
          {bell ? "Bell on" : "Bell off"}
        </button>
        <button className="btn h-12 border-line border-ink self-end" onClick={turnCalls} aria-pressed={calls}>
          {calls ? "Calls out aloud" : "Call out aloud"}
        </button>
      </div>
      <button className="btn btn-error h-20 text-head sm:h-16 sm:self-end" disabled={!on || hands.callStop.isPending} onClick={stop}>
        Call stop <kbd className="key hidden sm:inline-grid">!</kbd>
      </button>
      {hands.callStop.error && <Alert className="sm:col-span-4">{hands.callStop.error.message} Shout.</Alert>}
    </div>
  )
}

/** A run that was not begun, for whoever only watches. */
export function NotBegun({ vessel }: { vessel: string }) {
  return (
    <div className="grid flex-1 place-content-center gap-2 p-6 text-center">
      <p className="text-head">The run has not begun.</p>
      <p className="max-w-md text-lead text-quiet">
        Stay behind the wall, or out of line of plugs and ends. As soon as {vessel} is on the bench you see it here.
      </p>
    </div>
  )
}
