import { useState } from "react"
import type { Schema } from "../api/client"
import { Alert } from "../parts/Alert"
import { Choices } from "../parts/Choices"
import { Dialog, Keep, useKeeping } from "../parts/Dialog"

type Signing = Schema["SigningOut"]
type Signature = Schema["SignatureOut"]

const ROLES: [string, string, string][] = [
  ["witness", "witness", "saw it"],
  ["inspector", "inspector", "approves, or not"],
]
const APPROVAL: ["yes" | "no", string][] = [
  ["yes", "approved"],
  ["no", "not approved"],
]

/** Whom the record asks to sign, and as what. */
export function AskDialog({ signing, ask, close }: { signing: Signing; ask: (body: Schema["AskIn"]) => Promise<unknown>; close: () => void }) {
  const [role, setRole] = useState("witness")
  const [person, setPerson] = useState("")
  const [name, setName] = useState("")
  const { says, busy, keep } = useKeeping(close)
  return (
    <Dialog title="Ask for a signature" close={close}>
      <form
        onSubmit={(event) => {
          event.preventDefault()
          keep(() => ask({ role, person: person || null, name: person ? "" : name }))
        }}
      >
        <Choices legend="As what" name="role" options={ROLES} value={role} choose={setRole} columns="grid-cols-2" />
        <label className="mb-3 block text-quiet">
          Whom
          <select autoFocus className="select h-12 w-full bg-ground text-ink" value={person} onChange={(event) => setPerson(event.target.value)}>
            <option value="">somebody who signs on paper</option>
            {signing.people.map((one) => (
              <option key={one.id} value={one.id}>
                {one.name}
              </option>
            ))}
          </select>
        </label>
        {!person && (
          <label className="mb-3 block text-quiet">
            Their name
            <input className="input h-12 w-full bg-ground text-ink" value={name} maxLength={150} onChange={(event) => setName(event.target.value)} />
          </label>
        )}
        {says && <Alert className="mb-3">{says}</Alert>}
        <Keep keep="Ask them" close={close} busy={busy} disabled={!person && !name.trim()} />
      </form>
    </Dialog>
  )
}

type Signed = { saw: string[]; remarks: string; approved: boolean | null; secret: string }
type SignDialogProps = { one: Signature; signing: Signing; paper: boolean; close: () => void; done: (signed: Signed) => Promise<unknown> }

/** What was seen, in whose words, approved or not; by their own hand, or as it stands on paper. */
export function SignDialog({ one, signing, paper, close, done }: SignDialogProps) {
  const [saw, setSaw] = useState<string[]>([])
  const [remarks, setRemarks] = useState("")
  const [approved, setApproved] = useState<boolean | null>(null)
  const [secret, setSecret] = useState("")
  const { says, busy, keep } = useKeeping(close)
  const inspects = one.role === "inspector"
  const asks = !paper && (one.mine ? signing.asks : true)
  const turn = (id: string) => setSaw((before) => (before.includes(id) ? before.filter((other) => other !== id) : [...before, id]))
  return (
    <Dialog title={paper ? `What ${one.name} signed on paper` : `${one.name} signs`} close={close}>
      <form
        onSubmit={(event) => {
          event.preventDefault()
          keep(() => done({ saw, remarks, approved, secret }))
        }}
      >
        <fieldset className="mb-3">
          <legend className="mb-1 text-quiet">{one.mine ? "I saw" : "They saw"}</legend>
          <div className="grid grid-cols-2 gap-2">
            {signing.stages.map((stage) => (
              <label
                key={stage.id}
                className={`flex min-h-12 items-center gap-3 border-line px-3 ${saw.includes(stage.id) ? "border-ink bg-ground" : "border-rule"}`}
              >
                <input type="checkbox" className="checkbox" checked={saw.includes(stage.id)} onChange={() => turn(stage.id)} />
                <span className="min-w-0 break-words">{stage.name}</span>
              </label>
            ))}
          </div>
        </fieldset>
        <label className="mb-3 block text-quiet">
          Remarks
          <textarea className="textarea h-20 w-full bg-ground text-ink" value={remarks} maxLength={2000} onChange={(event) => setRemarks(event.target.value)} />
        </label>
        {inspects && (
          <>
            <Choices
              legend="Is it approved?"
              name="approved"
              options={APPROVAL}
              value={approved === null ? null : approved ? "yes" : "no"}
              choose={(word) => setApproved(word === "yes")}
              columns="grid-cols-2"
            />
            {approved === false && <p className="mb-3 text-note text-vermilion">The vessel's tag falls to not proven. Write what is not right.</p>}
          </>
        )}
        {asks && (
          <label className="mb-3 block text-quiet">
            {one.mine ? "My PIN or password" : `${one.name}'s PIN or password`}
            <input
              type="password"
              autoComplete="current-password"
              className="input figure h-12 w-full bg-ground text-title text-ink"
              value={secret}
              onChange={(event) => setSecret(event.target.value)}
            />
          </label>
        )}
        <p className="mb-3 text-note text-quiet">
          The record is sealed with the first signature: it no longer changes, and what comes later is written beside it.
        </p>
        {says && <Alert className="mb-3">{says}</Alert>}
        <Keep keep={paper ? "Write it down" : "Sign"} close={close} busy={busy} disabled={inspects && approved === null} />
      </form>
    </Dialog>
  )
}

/** What came after the record was sealed. */
export function BesideDialog({ keep: write, close }: { keep: (text: string) => Promise<unknown>; close: () => void }) {
  const [text, setText] = useState("")
  const { says, busy, keep } = useKeeping(close)
  return (
    <Dialog title="Write beside the sealed record" close={close}>
      <form
        onSubmit={(event) => {
          event.preventDefault()
          keep(() => write(text))
        }}
      >
        <label className="mb-3 block text-quiet">
          What came later
          <textarea
            autoFocus
            className="textarea h-28 w-full bg-ground text-ink"
            value={text}
            maxLength={2000}
            onChange={(event) => setText(event.target.value)}
          />
        </label>
        {says && <Alert className="mb-3">{says}</Alert>}
        <Keep keep="Write it beside" close={close} busy={busy} disabled={!text.trim()} />
      </form>
    </Dialog>
  )
}
