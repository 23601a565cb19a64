import { useEffect, useRef, useState } from "react"
import { useNavigate } from "react-router"
import { useMe } from "../api/me"
import { useKeys, type Key } from "../app/keys"
import { Alert } from "../parts/Alert"
import { Ask, Dialog, useKeeping } from "../parts/Dialog"
import { HappenedDialog } from "../parts/HappenedDialog"
import { span, type Habit } from "../parts/units"
import { BringPhone } from "../people/BringPhone"
import { DevicesDialog } from "./DevicesDialog"
import { DialPad } from "./DialPad"
import { BEFORE } from "./before"
import { BeforeDialog } from "./BeforeDialog"
import { isPast } from "./clock"
import { ImportDialog } from "./ImportDialog"
import { LeakDialog } from "./LeakDialog"
import { PhotoDialog } from "./PhotoDialog"
import type { BenchState, Hands } from "./queries"
import { ShutInDialog } from "./ShutInDialog"
import { useSetting } from "./settings"

type ActionsProps = { bench: BenchState; hands: Hands; habit: Habit }
type Open =
  | "reading"
  | "strokes"
  | "note"
  | "leak"
  | "early"
  | "low"
  | "longer"
  | "odd"
  | "back"
  | "photo"
  | "import"
  | "devices"
  | "happened"
  | "before"
  | "phone"
  | "more"
  | null

/** The big actions along the bottom, each with its key on it; what is wanted less often lies under “more”, and has its key too. */
export function Actions({ bench, hands, habit }: ActionsProps) {
  const navigate = useNavigate()
  const [open, setOpen] = useState<Open>(null)
  const [refusal, setRefusal] = useState<{ says: string; to: string } | null>(null)
  const [bell, turnBell] = useSetting("bell")
  const [calls, turnCalls] = useSetting("calls")
  const { data: me } = useMe()
  const owner = me?.role === "owner" && me.run == null
  const running = bench.state === "running"
  const on = running || bench.state === "held"
  const { mine } = bench.hand
  const dial = bench.source === "dial"
  const waits = (kind: string) => hands.items.some((item) => item.kind === "step" && item.body.kind === kind && item.refused === null)
  // A refusal stands until the run has moved on: something was written, or read from the dial.
  const standing = `${bench.now.says} ${bench.guards.length} ${bench.log.length} ${dial ? (bench.latest?.at ?? "") : ""}`
  if (open === "early" && (bench.phase !== "holding" || (bench.over_from && isPast(bench.over_from, bench)))) setOpen(null) // its time came meanwhile
  const said = refusal?.to === standing ? refusal.says : null
  const step = (kind: string, data: Record<string, unknown> = {}, says?: string) => {
    setRefusal(null)
    hands.step(kind, data, says).catch((problem: Error) => setRefusal({ says: problem.message, to: standing }))
  }
  const next = () => {
    const { step: kind, label } = bench.now
    if (kind === "judge") return void navigate(`/trials/${bench.id}/judge`)
    if (kind && kind in BEFORE) return setOpen("before")
    if (kind === "hold-ended" && bench.over_from && !isPast(bench.over_from, bench)) return setOpen("early")
    if (kind) step(kind, {}, label ?? kind)
  }
  const shut = () => setOpen(null)
  const chosen = ({ act }: Pick<Key, "act">) => {
    shut()
    act()
  }
  // Letting go waits for neither of the dialogs that lead to it; where something is written down, a d is a letter.
  const dump = () => {
    shut()
    step("dumped", {}, "dumped")
  }
  const may = (kind: string) => bench.allowed.includes(kind) && mine && !waits(kind)
  const hold = bench.now.step === "shut-in"
  const mayNext = bench.now.step !== null && (mine || bench.now.step === "judge") && !waits(bench.now.step ?? "")
  const mayHold = may("shut-in")
  const unread = bench.state === "aborted" && bench.reads // dumped, and zero was not read yet
  const shutIn = () => (bench.now.step === "shut-in" ? step("shut-in", {}, "shut in") : setOpen("low"))
  const alarm = bench.guards.length > 0 && bench.now.step === null ? "An alarm stands. Answer it first (A)." : null
  const onItsWay = waits(bench.now.step ?? "") ? "It is still on its way to the server." : alarm
  const more: Key[] = [
    { key: "o", does: "something odd: a noise, a movement", act: () => setOpen("odd"), disabled: !bench.allowed.includes("odd") },
    { key: "b", does: "go back a stage, or let it go", act: () => setOpen("back"), disabled: !may("gone-back") },
    { key: "k", does: "a low hold now", act: () => step("low-hold", {}, "low hold"), disabled: !may("low-hold") || bench.answer.medium !== "water" },
    {
      key: "e",
      does: "let it go, without the low hold",
      act: () => step("released", {}, "let go"),
      disabled: bench.now.step !== "low-hold" || !may("released"),
    },
    { key: "x", does: "make the hold longer", act: () => setOpen("longer"), disabled: !may("hold-set") },
    { key: "w", does: "something happened to the vessel", act: () => setOpen("happened") },
    { key: "f", does: "keep a photo", act: () => setOpen("photo"), disabled: !on },
    { key: "i", does: "take in a logger's file", act: () => setOpen("import"), disabled: !on || !dial },
    { key: "j", does: "loggers that read for this run", act: () => setOpen("devices"), disabled: !on || !dial },
    { key: "+", does: "bring a phone", act: () => setOpen("phone"), disabled: !owner },
    { key: "q", does: bell ? "bell off" : "bell on", act: turnBell },
    { key: "c", does: calls ? "call-outs off" : "call out aloud", act: turnCalls },
  ]
  const fire = bench.steam != null
  const typed = useTypedNumber()
  const strokes = () => {
    const count = typed.take()
    if (count) step("strokes", { count }, `${count} strokes`)
    else setOpen("strokes")
  }
  useKeys([
    { key: "r", does: "log a reading", act: () => setOpen("reading"), disabled: !bench.reads || !dial },
    { key: "s", does: "log strokes; or a number, then S", act: strokes, disabled: !running || !dial || fire },
    { key: "Enter", does: bench.now.label ?? "next step", act: next, disabled: open !== null || !mayNext, waits: onItsWay },
    { key: "h", does: "shut in and hold", act: shutIn, disabled: !mayHold },
    { key: "n", does: "write a note", act: () => setOpen("note"), disabled: !on },
    { key: "l", does: "a leak was found", act: () => setOpen("leak"), disabled: !on },
    { key: "d", does: fire ? "fire out, the run is over" : "dump", act: dump, disabled: !on, through: open === "odd" || open === "more" },
    { key: "m", does: "more to do", act: () => setOpen("more") },
    ...more.map((key) => (open === "more" ? { ...key, act: () => chosen(key), through: true } : key)),
  ])
  const big = "btn h-16 min-w-0 flex-col gap-0.5 px-1 text-body leading-tight sm:flex-row sm:gap-2 sm:text-plain border-line"
  return (
    <div className="border-t-line border-rule px-2 py-2 sm:px-3">
      {said && <Alert className="mb-2 text-plain">{said}</Alert>}
      <div className="grid grid-cols-3 gap-2 lg:auto-cols-fr lg:grid-flow-col lg:grid-cols-none">
        <button
          className={`${big} ${unread ? "btn-primary" : "border-ink"}`}
          disabled={!bench.reads || !dial}
          onClick={() => setOpen("reading")}
          title={dial ? "" : "The simulated rig's logger reads by itself"}
        >
          Log reading <Kbd k="R" />
        </button>
        {!fire && (
          <button
            className={`${big} border-ink`}
            disabled={!running || !dial}
            onClick={() => setOpen("strokes")}
            title={dial ? "" : "The simulated pump counts by itself"}
          >
            Strokes <Kbd k="S" />
          </button>
        )}
        <button className={`${big} ${hold || unread ? "border-ink" : "btn-primary"}`} disabled={!mayNext || hold} onClick={next}>
          {hold ? "Reached" : (bench.now.label ?? "Reached")} <Kbd k="⏎" />
        </button>
        {!fire && !bench.valve && (
          <button className={`${big} ${hold ? "btn-primary" : "border-ink"}`} disabled={!mayHold} onClick={shutIn}>
            Shut in, hold <Kbd k="H" />
          </button>
        )}
        <button className={`${big} border-ink`} disabled={!on} onClick={() => setOpen("note")}>
          Note <Kbd k="N" />
        </button>
        <button className={`${big} border-ink`} disabled={!on} onClick={() => setOpen("leak")}>
          Leak <Kbd k="L" />
        </button>
        <button className={`${big} border-ink`} onClick={() => setOpen("more")}>
          More <Kbd k="M" />
        </button>
        {bench.state === "aborted" && dial ? (
          <button className={`${big} col-span-2 border-ink lg:col-span-1`} disabled={!mine} onClick={() => step("not-dumped", {}, "it was not dumped")}>
            It was not dumped
          </button>
        ) : (
          <button className={`${big} btn-error ${fire ? "" : "col-span-2"} lg:col-span-1`} disabled={!on} onClick={dump}>
            {fire ? "Fire out" : "Dump"} <Kbd k="D" />
          </button>
        )}
      </div>
      {open === "reading" && <DialPad habit={habit} hands={hands} close={shut} column={bench.answer.procedure === "gas-head"} />}
      {open === "strokes" && <StrokesAsk hands={hands} close={shut} />}
      {open === "note" && <Ask title="A note" label="Note" keep="Write it down" close={shut} done={(text) => hands.step("note", { text }, text)} />}
      {open === "early" && (
        <Ask
          title="End the hold before its time?"
          label="Why? The reason stays on the record."
          keep="End the hold"
          close={shut}
          done={(reason) => hands.step("hold-ended", { reason }, "hold ended early")}
        />
      )}
      {open === "low" && <ShutInDialog bench={bench} hands={hands} habit={habit} close={shut} />}
      {open === "longer" && bench.hold && (
        <Ask
          title="How long is the hold to be?"
          label={`Minutes in all; ${span(bench.hold.asked)} were asked for`}
          keep="Make it longer"
          numeric
          close={shut}
          done={(minutes) => hands.step("hold-set", { seconds: Number(minutes) * 60 }, `hold of ${minutes} min`)}
        />
      )}
      {open === "leak" && <LeakDialog bench={bench} hands={hands} close={shut} />}
      {open === "odd" && <OddAsk fire={fire} hands={hands} close={shut} />}
      {open === "back" && <BackAsk bench={bench} hands={hands} close={shut} />}
      {open === "photo" && <PhotoDialog hands={hands} leaks={bench.leaks} close={shut} />}
      {open === "import" && <ImportDialog bench={bench} hands={hands} habit={habit} close={shut} />}
      {open === "devices" && <DevicesDialog bench={bench} habit={habit} close={shut} />}
      {open === "before" && bench.now.step && bench.now.step in BEFORE && <BeforeDialog step={bench.now.step} hands={hands} close={shut} />}
      {open === "phone" && <BringPhone trial={bench.id} close={shut} />}
      {open === "happened" && <HappenedDialog vessel={bench.vessel_id} close={shut} />}
      {open === "more" && (
        <Dialog title="More" close={shut}>
          <div className="grid gap-2 sm:grid-cols-2">
            {more.map(({ key, does, act, disabled }) => (
              <button
                key={key}
                className="btn h-14 justify-between border-line border-ink text-left text-plain"
                disabled={disabled}
                onClick={() => chosen({ act })}
              >
                {does[0]!.toUpperCase() + does.slice(1)} <kbd className="key">{key.toUpperCase()}</kbd>
              </button>
            ))}
          </div>
          <div className="mt-3 flex justify-end">
            <button className="btn btn-ghost h-12" onClick={shut}>
              Leave it <kbd className="key hidden sm:inline-grid">Esc</kbd>
            </button>
          </div>
        </Dialog>
      )}
    </div>
  )
}

const TYPED_FOR = 3000

/** A number typed on the bare bench, ready to be taken for a moment. */
function useTypedNumber() {
  const typed = useRef({ digits: "", at: -Infinity })
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const busy = event.target instanceof HTMLInputElement || document.querySelector("dialog[open], [data-digits]") !== null
      if (busy || !/^\d$/.test(event.key)) return
      const fresh = performance.now() - typed.current.at > TYPED_FOR
      typed.current = { digits: ((fresh ? "" : typed.current.digits) + event.key).slice(0, 4), at: performance.now() }
    }
    addEventListener("keydown", onKey)
    return () => removeEventListener("keydown", onKey)
  }, [])
  return {
    take: () => {
      const { digits, at } = typed.current
      typed.current = { digits: "", at: -Infinity }
      return performance.now() - at > TYPED_FOR ? 0 : Number(digits)
    },
  }
}

function Kbd({ k }: { k: string }) {
  return <kbd className="key hidden sm:inline-grid">{k}</kbd>
}

/** Strokes, tapped one by one or typed as a number. */
function StrokesAsk({ hands, close }: { hands: Hands; close: () => void }) {
  const [tapped, setTapped] = useState(0)
  const tap = () => {
    setTapped((count) => count + 1)
    hands.step("strokes", { count: 1 }, "1 stroke").catch(() => setTapped((count) => count - 1))
  }
  return (
    <Ask
      title="Strokes made"
      label="How many"
      keep="Count them"
      numeric
      close={close}
      done={(count) => hands.step("strokes", { count: Number(count) }, `${count} strokes`)}
    >
      <button type="button" className="btn mb-3 h-20 w-full border-line border-ink text-2xl" onClick={tap}>
        One stroke{tapped > 0 && <span className="figure text-quiet">{tapped} counted</span>}
      </button>
    </Ask>
  )
}

function OddAsk({ fire, hands, close }: { fire: boolean; hands: Hands; close: () => void }) {
  const [text, setText] = useState("")
  const { says, keep } = useKeeping(close)
  const odd = (what: string) => keep(() => hands.step("odd", { what, text }, what))
  return (
    <Dialog title="Something odd?" close={close}>
      <p className="mb-3 text-lead">
        {fire ? "Fire out, everybody away, nobody opens anything." : "Stop, dump, and only then approach."} Say what it was, so that it stands in the log:
      </p>
      <div className="mb-3 grid grid-cols-2 gap-3">
        <button className="btn h-20 border-line border-vermilion text-xl" autoFocus onClick={() => odd("noise")}>
          A noise
        </button>
        <button className="btn h-20 border-line border-vermilion text-xl" onClick={() => odd("movement")}>
          A bulge, a movement
        </button>
        {fire && (
          <button className="btn col-span-2 h-14 border-line border-brass text-xl" onClick={() => odd("priming")}>
            The glass surges: it primes
          </button>
        )}
      </div>
      <label className="mb-3 block text-quiet">
        In words, where there is time
        <input className="input h-14 w-full bg-ground text-lg text-ink" value={text} onChange={(event) => setText(event.target.value)} />
      </label>
      {says && <Alert className="mb-3">{says}</Alert>}
      <button className="btn btn-ghost h-12" onClick={close}>
        Leave it <kbd className="key hidden sm:inline-grid">Esc</kbd>
      </button>
    </Dialog>
  )
}

function BackAsk({ bench, hands, close }: { bench: BenchState; hands: Hands; close: () => void }) {
  const options: [string, Record<string, unknown>][] = [
    ...(bench.reached > 1 ? [["To the stage below", { to: bench.reached - 1, vent: false }] as [string, Record<string, unknown>]] : []),
    ["To no pressure, vent still shut", { to: 0, vent: false }],
    ["To no pressure, and vent again", { to: 0, vent: true }],
  ]
  const [chosen, setChosen] = useState(0)
  return (
    <Ask title="Go back" label="Why?" keep="Go back" close={close} done={(why) => hands.step("gone-back", { ...options[chosen]![1], why }, "gone back")}>
      <fieldset className="mb-3 space-y-2">
        <legend className="sr-only">How far</legend>
        {options.map(([name], i) => (
          <label key={name} className={`flex min-h-12 items-center gap-3 border-line px-3 ${chosen === i ? "border-ink bg-ground" : "border-rule"}`}>
            <input type="radio" className="radio" name="back" checked={chosen === i} onChange={() => setChosen(i)} />
            {name}
          </label>
        ))}
      </fieldset>
      <p className="mb-3 text-note text-quiet">A hold that was running is void; what was read stays in the log.</p>
    </Ask>
  )
}
