import { useEffect, useRef, useState, type ReactNode } from "react"
import { Alert } from "./Alert"

/** A dialog at the bench: one thing asked, Enter keeps it, Escape leaves it. */
export function Dialog({ title, close, wide = false, children }: { title: string; close: () => void; wide?: boolean; children: ReactNode }) {
  const ref = useRef<HTMLDialogElement>(null)
  useEffect(() => ref.current?.showModal(), [])
  return (
    <dialog ref={ref} className="modal modal-bottom sm:modal-middle" onClose={close} aria-labelledby="ask-title">
      <div className={`modal-box border-line border-ink bg-paper ${wide ? "sm:w-11/12 sm:max-w-4xl" : ""}`}>
        <h2 id="ask-title" className="mb-3 text-2xl">
          {title}
        </h2>
        {children}
      </div>
    </dialog>
  )
}

/** Keeping what a dialog asks: once, however often Enter is pressed; it closes when it is kept, or says why it cannot be. */
export function useKeeping(close: () => void) {
  const [says, setSays] = useState<string | null>(null)
  const [busy, setBusy] = useState(false)
  const going = useRef(false)
  const keep = (kept: () => Promise<unknown>) => {
    if (going.current) return
    going.current = true
    setBusy(true)
    kept().then(close, (problem: Error) => {
      going.current = false
      setSays(problem.message)
      setBusy(false)
    })
  }
  return { says, busy, keep }
}

/** The two ways out of a dialog; while what it asks is being kept, the key says so. */
export function Keep({ keep, close, disabled = false, busy }: { keep: string; close: () => void; disabled?: boolean; busy: boolean }) {
  return (
    <div className="flex justify-end gap-3">
      <button type="button" className="btn btn-ghost h-14" onClick={close}>
        Leave it <kbd className="key hidden sm:inline-grid">Esc</kbd>
      </button>
      <button className="btn btn-primary h-14 px-8 text-lead" disabled={disabled || busy}>
        {busy ? "Keeping it …" : keep} <kbd className="key hidden sm:inline-grid">⏎</kbd>
      </button>
    </div>
  )
}

type AskProps = {
  title: string
  label: string
  keep: string
  numeric?: boolean
  close: () => void
  /** Keeps it; the reason it cannot be is shown, and what was typed stays. */
  done: (text: string) => Promise<unknown>
  children?: ReactNode
}

/** One line of text, or one number. */
export function Ask({ title, label, keep, numeric, close, done, children }: AskProps) {
  const [text, setText] = useState("")
  const { says, busy, keep: kept } = useKeeping(close)
  return (
    <Dialog title={title} close={close}>
      <form
        onSubmit={(event) => {
          event.preventDefault()
          if (text.trim()) kept(() => done(text.trim()))
        }}
      >
        {children}
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
        {says && <Alert className="mb-3">{says}</Alert>}
        <Keep keep={keep} close={close} busy={busy} disabled={!text.trim() || (numeric === true && !/^\d+$/.test(text.trim()))} />
      </form>
    </Dialog>
  )
}
