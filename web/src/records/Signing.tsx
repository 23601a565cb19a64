import { useMutation, useQueryClient } from "@tanstack/react-query"
import { useState } from "react"
import { api, asked, type Schema } from "../api/client"
import { useMe } from "../api/me"
import { Alert } from "../parts/Alert"
import { day } from "../parts/units"
import { AskDialog, BesideDialog, SignDialog } from "./SigningDialogs"

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
                    Signed on {day(one.signed_at)}, {one.how}; {one.vouched}.
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
                {works && one.on_paper && (
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
      {seal && <Seal trial={trial} seal={seal} against={signing.holds_not ?? null} here={signing.holds != null} compared={signing.compared} />}
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

type SealProps = { trial: string; seal: string; against: string | null; here: boolean; compared: boolean }

function Seal({ trial, seal, against, here, compared }: SealProps) {
  return (
    <p className="mt-2 break-inside-avoid text-fine text-quiet">
      Sealed: <span className="figure break-all">SHA-256 {seal.match(/.{8}/g)!.join(" ")}</span>.{" "}
      {against ? (
        <strong className="text-vermilion">{against}</strong>
      ) : compared ? (
        "It stands here as it was signed."
      ) : (
        "The package here is what was signed. There are too many readings to hold them against it while you wait: make doctor does that."
      )}{" "}
      {here && (
        <a className="no-print dotted text-water-ink" href={`/api/trials/${trial}/sealed.zip`} download>
          The sealed package
        </a>
      )}
    </p>
  )
}
