import { useMutation, useQueryClient } from "@tanstack/react-query"
import { useState } from "react"
import { api, asked, type Schema } from "../api/client"
import { useMe } from "../api/me"
import { Alert } from "../parts/Alert"
import { Dialog, Keep, useKeeping } from "../parts/Dialog"
import { day } from "../parts/units"

type Signing = Schema["SigningOut"]
type Signature = Schema["SignatureOut"]

/** Every change of a record's signatures answers with all of them. */
function useSigning(trial: string) {
  const queries = useQueryClient()
  const path = { params: { path: { trial_id: trial } } }
  const one = (id: string) => ({ params: { path: { trial_id: trial, signature_id: id } } })
  const done = () => queries.invalidateQueries()
  return {
    ask: (body: Schema["AskIn"]) => asked(api.POST("/api/trials/{trial_id}/signatures", { ...path, body })).then(done),
    withdraw: useMutation({
      mutationFn: (id: string) => asked(api.DELETE("/api/trials/{trial_id}/signatures/{signature_id}", one(id))),
      onSuccess: done,
    }),
    sign: (body: Schema["SignIn"]) => asked(api.POST("/api/trials/{trial_id}/signature", { ...path, body })).then(done),
    paper: (id: string, body: Schema["PaperIn"]) => asked(api.POST("/api/trials/{trial_id}/signatures/{signature_id}/paper", { ...one(id), body })).then(done),
    beside: (text: string) => asked(api.POST("/api/trials/{trial_id}/beside", { ...path, body: { text } })).then(done),
  }
}

type SigningPartProps = { trial: string; signing: Signing; practice: boolean }

/** Who was asked to sign, who did and what they saw, the seal, and what was written beside it. */
export function SigningPart({ trial, signing, practice }: SigningPartProps) {
  const { data: me } = useMe()
  const act = useSigning(trial)
  const [open, setOpen] = useState<{ what: "ask" | "beside" } | { what: "sign" | "paper"; one: Signature } | null>(null)
  if (practice || !me) return null
  const { signatures, seal, may_ask: works } = signing
  return (
    <section className={`mt-5 ${signatures.length ? "" : "no-print"}`} aria-labelledby="signed">
      <h2 id="signed" className="mb-1.5 break-after-avoid border-b-line border-ink pb-0.5 text-plain">
        Second signatures
      </h2>
      {signatures.length === 0 && <p className="text-quiet">Nobody else was asked to sign this.</p>}
      <ul>
        {signatures.map((one) => (
          <li key={one.id} className="flex break-inside-avoid flex-wrap items-start gap-x-3 gap-y-2 border-b border-rule py-2">
            <Mark one={one} />
            <span className="min-w-52 flex-1">
              <b>
                {one.name}, {one.role}
              </b>
              {one.signed_at ? (
                <>
                  : {one.saw.length ? `saw ${one.saw.join(", ")}` : "saw none of it"}. {one.remarks && <>“{one.remarks}” </>}
                  <span className="block text-quiet">
                    Signed on {day(one.signed_at)}, {one.how}.
                  </span>
                </>
              ) : (
                <span className="block text-quiet">
                  Asked by {one.asked_by} on {day(one.asked_at)}. Not signed.{" "}
                  <span className="hidden print:inline">Signature: ____________________ day: ____________</span>
                </span>
              )}
            </span>
            {!one.signed_at && (
              <span className="no-print flex flex-wrap gap-2">
                {(one.mine || (works && !one.on_paper)) && (
                  <button
                    className={`btn h-11 ${one.mine ? "btn-primary" : "border-line border-ink"}`}
                    disabled={signing.not_now != null}
                    onClick={() => setOpen({ what: "sign", one })}
                  >
                    {one.mine ? "Sign" : `${one.name.split(" ")[0]} signs here`}
                  </button>
                )}
                {works && (
                  <button className="btn btn-ghost h-11" disabled={signing.not_now != null} onClick={() => setOpen({ what: "paper", one })}>
                    It was signed on paper
                  </button>
                )}
                {works && (
                  <button className="btn btn-ghost h-11" onClick={() => act.withdraw.mutate(one.id)}>
                    Ask no longer
                  </button>
                )}
              </span>
            )}
          </li>
        ))}
      </ul>
      {signatures.length > 0 && signing.not_now && <p className="mt-1 text-quiet">{signing.not_now}</p>}
      {act.withdraw.error && <Alert>{act.withdraw.error.message}</Alert>}
      {seal && <Seal trial={trial} seal={seal} holds={signing.holds ?? null} />}
      {signing.beside.map((one) => (
        <p key={one.at} className="mt-2 break-inside-avoid border-l-4 border-brass pl-3">
          <span className="text-quiet">
            Beside it, {day(one.at)}, {one.by}:
          </span>{" "}
          {one.text}
        </p>
      ))}
      {works && (
        <div className="no-print mt-3 flex flex-wrap gap-3">
          <button className="btn h-11 border-line border-ink" onClick={() => setOpen({ what: "ask" })}>
            Ask for a signature
          </button>
          {seal && (
            <button className="btn btn-ghost h-11" onClick={() => setOpen({ what: "beside" })}>
              Write beside it
            </button>
          )}
        </div>
      )}
      {open?.what === "ask" && <AskDialog signing={signing} ask={act.ask} close={() => setOpen(null)} />}
      {open?.what === "beside" && <BesideDialog keep={act.beside} close={() => setOpen(null)} />}
      {(open?.what === "sign" || open?.what === "paper") && (
        <SignDialog
          one={open.one}
          signing={signing}
          paper={open.what === "paper"}
          close={() => setOpen(null)}
          done={({ secret, ...body }) =>
            open.what === "paper"
              ? act.paper(open.one.id, body)
              : act.sign({ ...body, id: open.one.id, secret, person: open.one.mine ? null : (open.one.person ?? null) })
          }
        />
      )}
    </section>
  )
}

/** Approved, not approved, seen, or still open: by shape and word, not by colour alone. */
function Mark({ one }: { one: Signature }) {
  const [word, style] =
    one.signed_at == null
      ? ["open", "border-dashed border-ink text-quiet"]
      : one.approved === false
        ? ["not approved", "border-vermilion bg-vermilion text-paper"]
        : one.approved
          ? ["approved", "border-moss bg-moss text-paper"]
          : ["seen", "border-moss text-moss"]
  return <span className={`min-w-24 border-line px-2 py-0.5 text-center text-fine font-bold ${style}`}>{word}</span>
}

function Seal({ trial, seal, holds }: { trial: string; seal: string; holds: boolean | null }) {
  return (
    <p className="mt-2 break-inside-avoid text-fine text-quiet">
      Sealed: <span className="figure break-all">SHA-256 {seal.match(/.{8}/g)!.join(" ")}</span>.{" "}
      {holds === true && (
        <>
          The package here is what was signed.{" "}
          <a className="no-print dotted text-water-ink" href={`/api/trials/${trial}/sealed.zip`} download>
            The sealed package
          </a>
        </>
      )}
      {holds === false && <strong className="text-vermilion">The package here is not what was signed.</strong>}
      {holds === null && <strong className="text-vermilion">The sealed package is gone from here.</strong>}
    </p>
  )
}

function AskDialog({ signing, ask, close }: { signing: Signing; ask: (body: Schema["AskIn"]) => Promise<unknown>; close: () => void }) {
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
        <fieldset className="mb-3 grid grid-cols-2 gap-2">
          <legend className="mb-1 text-quiet">As what</legend>
          {(
            [
              ["witness", "witness", "saw it"],
              ["inspector", "inspector", "approves, or not"],
            ] as const
          ).map(([id, title, does]) => (
            <label key={id} className={`flex min-h-14 items-center gap-3 border-line px-3 ${role === id ? "border-ink bg-ground" : "border-rule"}`}>
              <input type="radio" className="radio" name="role" checked={role === id} onChange={() => setRole(id)} />
              <span>
                {title}
                <span className="block text-note text-quiet">{does}</span>
              </span>
            </label>
          ))}
        </fieldset>
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
        <Keep keep="Ask them" close={close} disabled={busy || (!person && !name.trim())} />
      </form>
    </Dialog>
  )
}

type Signed = { saw: string[]; remarks: string; approved: boolean | null; secret: string }
type SignDialogProps = { one: Signature; signing: Signing; paper: boolean; close: () => void; done: (signed: Signed) => Promise<unknown> }

/** What was seen, in whose words, approved or not; by their own hand, or as it stands on paper. */
function SignDialog({ one, signing, paper, close, done }: SignDialogProps) {
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
          <fieldset className="mb-3 grid grid-cols-2 gap-2">
            <legend className="mb-1 text-quiet">Is it approved?</legend>
            {(
              [
                [true, "approved"],
                [false, "not approved"],
              ] as const
            ).map(([value, word]) => (
              <label key={word} className={`flex min-h-14 items-center gap-3 border-line px-3 ${approved === value ? "border-ink bg-ground" : "border-rule"}`}>
                <input type="radio" className="radio" name="approved" checked={approved === value} onChange={() => setApproved(value)} />
                {word}
              </label>
            ))}
            {approved === false && <p className="col-span-2 text-note text-vermilion">The vessel's tag falls to not proven. Write what is not right.</p>}
          </fieldset>
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
        <Keep keep={paper ? "Write it down" : "Sign"} close={close} disabled={busy || (inspects && approved === null)} />
      </form>
    </Dialog>
  )
}

function BesideDialog({ keep: write, close }: { keep: (text: string) => Promise<unknown>; close: () => void }) {
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
        <Keep keep="Write it beside" close={close} disabled={busy || !text.trim()} />
      </form>
    </Dialog>
  )
}
