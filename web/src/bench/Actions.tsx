import { useEffect, useRef, useState, type ReactNode } from "react"
import { useNavigate } from "react-router"
import type { Refusal } from "../api/client"
import { useKeys } from "../app/keys"
import type { Habit } from "../parts/units"
import { DialPad } from "./DialPad"
import { newId, type BenchState, type useHands } from "./queries"

type Hands = ReturnType<typeof useHands>
type ActionsProps = { bench: BenchState; hands: Hands; habit: Habit; left: number | null }
type Open = "reading" | "strokes" | "note" | "leak" | "early" | null

/** The big actions along the bottom, each with its key on it. */
export function Actions({ bench, hands, habit, left }: ActionsProps) {
  const navigate = useNavigate()
  const [open, setOpen] = useState<Open>(null)
  const [said, setSaid] = useState<string | null>(null)
  const running = bench.state === "running"
  const on = running || bench.state === "held"
  const dial = bench.source === "dial"
  const step = (kind: string, data: Record<string, unknown> = {}, done?: () => void) => {
    setSaid(null)
    hands.step.mutate({ id: newId(), kind, data }, { onSuccess: () => done?.(), onError: (refusal) => setSaid((refusal as Refusal).message) })
  }
  const next = () => {
    if (bench.now.step === "judge") return void navigate(`/trials/${bench.id}/judge`)
    if (bench.now.step === "hold-ended" && left !== null && left > 0) return setOpen("early")
    if (bench.now.step) step(bench.now.step)
  }
  const hold = bench.now.step === "shut-in"
  const mayHold = running && (bench.phase === "raising" || bench.phase === "pausing" || hold)
  const closed = open !== null
  useKeys([
    { key: "r", does: "log a reading", act: () => setOpen("reading"), disabled: !on || !dial },
    { key: "s", does: "log strokes", act: () => setOpen("strokes"), disabled: !running || !dial },
    { key: "Enter", does: bench.now.label ?? "next step", act: next, disabled: closed || !bench.now.step },
    { key: "h", does: "shut in and hold", act: () => step("shut-in"), disabled: !mayHold },
    { key: "n", does: "write a note", act: () => setOpen("note"), disabled: !on },
    { key: "l", does: "a leak was found", act: () => setOpen("leak"), disabled: !on },
    { key: "d", does: "dump", act: () => step("dumped"), disabled: !on },
  ])
  const shut = () => setOpen(null)
  const big = "btn h-16 min-w-0 flex-col gap-0.5 px-1 text-[15px] leading-tight sm:flex-row sm:gap-2 sm:text-[16px] border-[1.5px]"
  return (
    <div className="border-t-[1.5px] border-rule px-2 py-2 sm:px-3">
      {said && (
        <p role="alert" className="strip mb-2 border-vermilion text-[16px]">
          {said}
        </p>
      )}
      <div className="grid grid-cols-3 gap-2 sm:gap-2.5 lg:grid-cols-7">
        <button
          className={`${big} border-ink`}
          disabled={!on || !dial}
          onClick={() => setOpen("reading")}
          title={dial ? "" : "The simulated rig's logger reads by itself"}
        >
          Log reading <kbd className="key hidden sm:inline-grid">R</kbd>
        </button>
        <button
          className={`${big} border-ink`}
          disabled={!running || !dial}
          onClick={() => setOpen("strokes")}
          title={dial ? "" : "The simulated pump counts by itself"}
        >
          Strokes <kbd className="key hidden sm:inline-grid">S</kbd>
        </button>
        <button className={`${big} ${hold ? "border-ink" : "btn-primary"}`} disabled={!bench.now.step || hold} onClick={next}>
          {hold ? "Reached" : (bench.now.label ?? "Reached")} <kbd className="key hidden sm:inline-grid">⏎</kbd>
        </button>
        <button className={`${big} ${hold ? "btn-primary" : "border-ink"}`} disabled={!mayHold} onClick={() => step("shut-in")}>
          Shut in, hold <kbd className="key hidden sm:inline-grid">H</kbd>
        </button>
        <button className={`${big} border-ink`} disabled={!on} onClick={() => setOpen("note")}>
          Note <kbd className="key hidden sm:inline-grid">N</kbd>
        </button>
        <button className={`${big} border-ink`} disabled={!on} onClick={() => setOpen("leak")}>
          Leak <kbd className="key hidden sm:inline-grid">L</kbd>
        </button>
        {bench.state === "aborted" && dial ? (
          <button className={`${big} border-ink`} onClick={() => step("not-dumped")}>
            It was not dumped
          </button>
        ) : (
          <button className={`${big} btn-error col-span-3 lg:col-span-1`} disabled={!on} onClick={() => step("dumped")}>
            Dump <kbd className="key hidden sm:inline-grid">D</kbd>
          </button>
        )}
      </div>
      {open === "reading" && <DialPad habit={habit} hands={hands} every={bench.answer.hold.every} close={shut} />}
      {open === "strokes" && (
        <Ask title="How many strokes?" label="Strokes" keep="Log them" numeric close={shut} done={(text) => step("strokes", { count: Number(text) }, shut)} />
      )}
      {open === "note" && <Ask title="What did you see or do?" label="Note" keep="Write it down" close={shut} done={(text) => step("note", { text }, shut)} />}
      {open === "early" && (
        <Ask
          title="End the hold before its time?"
          label="Why? The reason stays on the record."
          keep="End the hold"
          close={shut}
          done={(reason) => step("hold-ended", { reason }, shut)}
        />
      )}
      {open === "leak" && <LeakAsk close={shut} done={(owner, where) => step("leak", { owner, where }, shut)} />}
    </div>
  )
}

/** A dialog at the bench: one thing asked, Enter keeps it, Escape leaves it. */
export function Sheet({ title, close, children }: { title: string; close: () => void; children: ReactNode }) {
  const ref = useRef<HTMLDialogElement>(null)
  useEffect(() => ref.current?.showModal(), [])
  return (
    <dialog ref={ref} className="modal modal-bottom sm:modal-middle" onClose={close} aria-labelledby="ask-title">
      <div className="modal-box border-[1.5px] border-ink bg-paper">
        <h2 id="ask-title" className="mb-3 text-2xl">
          {title}
        </h2>
        {children}
      </div>
    </dialog>
  )
}

type AskProps = { title: string; label: string; keep: string; numeric?: boolean; close: () => void; done: (text: string) => void }

function Ask({ title, label, keep, numeric, close, done }: AskProps) {
  const [text, setText] = useState("")
  return (
    <Sheet title={title} close={close}>
      <form
        onSubmit={(event) => {
          event.preventDefault()
          if (text.trim()) done(text.trim())
        }}
      >
        <label className="mb-4 block text-quiet">
          {label}
          <input
            autoFocus
            className={`input h-14 w-full bg-ground text-ink ${numeric ? "figure text-3xl" : "text-lg"}`}
            inputMode={numeric ? "numeric" : "text"}
            value={text}
            onChange={(event) => setText(event.target.value)}
          />
        </label>
        <Keep keep={keep} close={close} disabled={!text.trim() || (numeric === true && !/^\d+$/.test(text.trim()))} />
      </form>
    </Sheet>
  )
}

export function Keep({ keep, close, disabled }: { keep: string; close: () => void; disabled: boolean }) {
  return (
    <div className="flex justify-end gap-3">
      <button type="button" className="btn btn-ghost h-14" onClick={close}>
        Leave it <kbd className="key hidden sm:inline-grid">Esc</kbd>
      </button>
      <button className="btn btn-primary h-14 px-8 text-[17px]" disabled={disabled}>
        {keep} <kbd className="key hidden sm:inline-grid">⏎</kbd>
      </button>
    </div>
  )
}

function LeakAsk({ close, done }: { close: () => void; done: (owner: string, where: string) => void }) {
  const [owner, setOwner] = useState("rig")
  const [where, setWhere] = useState("")
  return (
    <Sheet title="A leak" close={close}>
      <form
        onSubmit={(event) => {
          event.preventDefault()
          if (where.trim()) done(owner, where.trim())
        }}
      >
        <fieldset className="mb-3 grid grid-cols-2 gap-3">
          <legend className="mb-1 text-quiet">Whose is it?</legend>
          {[
            ["rig", "The rig's: plug, hose, pump, gauge"],
            ["boundary", "The vessel's own: seam, end, wall, bush"],
          ].map(([key, name]) => (
            <label key={key} className={`flex min-h-14 items-center gap-3 border-[1.5px] px-3 ${owner === key ? "border-ink bg-ground" : "border-rule"}`}>
              <input type="radio" className="radio" name="owner" checked={owner === key} onChange={() => setOwner(key!)} />
              {name}
            </label>
          ))}
        </fieldset>
        <label className="mb-2 block text-quiet">
          Where, and how fast
          <input
            autoFocus
            className="input h-14 w-full bg-ground text-lg text-ink"
            value={where}
            onChange={(event) => setWhere(event.target.value)}
            placeholder="drain bush, a drop in ten seconds"
          />
        </label>
        <p className="mb-4 text-[14px] text-quiet">Release before tightening. A leak of the vessel's own fails it; the rig's voids this hold only.</p>
        <Keep keep="Write it down" close={close} disabled={!where.trim()} />
      </form>
    </Sheet>
  )
}
