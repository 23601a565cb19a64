import { useState } from "react"
import { Alert } from "../parts/Alert"
import { Choices } from "../parts/Choices"
import { Dialog } from "../parts/Dialog"
import { hourOf } from "../parts/units"
import { FirstContact } from "./FirstContact"
import { useInvitation, usePeople, useShare, type Share } from "./queries"

const ROLES: [string, string, string][] = [
  ["watcher", "watches", "sees everything, may call stop"],
  ["maker", "works here", "may hold the run"],
  ["inspector", "inspects", "sees everything, signs"],
]

/** Open the door to the workshop's network, and let the next phone in. */
export function BringPhone({ trial, close }: { trial?: string; close: () => void }) {
  const share = useShare()
  const now = share.now.data
  return (
    <Dialog title="Bring a phone" close={close} wide>
      {!now ? (
        share.now.error ? (
          <Alert>{share.now.error.message}</Alert>
        ) : (
          <p className="text-quiet">Looking at the networks …</p>
        )
      ) : now.url ? (
        <Invite share={now} trial={trial} close={close} shut={() => share.close.mutate()} />
      ) : (
        <Open share={now} trial={trial} close={close} open={share.open} />
      )}
    </Dialog>
  )
}

const HOURS = [
  ["60", "an hour"],
  ["240", "four hours"],
  ["720", "twelve hours"],
] as const

/** Which network, and for how long. */
function Open({ share, trial, close, open }: { share: Share; trial?: string; close: () => void; open: ReturnType<typeof useShare>["open"] }) {
  const [address, setAddress] = useState(share.addresses[0]?.address ?? "")
  const [minutes, setMinutes] = useState<string>("240")
  const [withRun, setWithRun] = useState(trial !== undefined)
  if (share.addresses.length === 0)
    return (
      <>
        <p className="mb-3 text-lead">This machine is on no network of your own just now.</p>
        <p className="mb-4 text-quiet">Join the workshop's Wi-Fi, or let the phone open a hotspot and join that; then press the key again.</p>
        <Close close={close} />
      </>
    )
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        open.mutate({ address, minutes: Number(minutes), trial: withRun ? trial : null })
      }}
    >
      <p className="mb-3 text-lead">
        Nothing listens beyond this machine until you press the key. Then phones of the same network can knock; whoever has no words stays outside.
      </p>
      <fieldset className="mb-3 grid gap-2">
        <legend className="mb-1 text-quiet">Open it at</legend>
        {share.addresses.map((one) => (
          <label
            key={one.address}
            className={`flex min-h-12 items-center gap-3 border-line px-3 ${address === one.address ? "border-ink bg-ground" : "border-rule"}`}
          >
            <input type="radio" className="radio" name="address" checked={address === one.address} onChange={() => setAddress(one.address)} />
            <span className="figure">{one.address}</span>
            <span className="text-note text-quiet">{one.card}</span>
          </label>
        ))}
      </fieldset>
      <div className="mb-4 flex flex-wrap items-end gap-x-6 gap-y-3">
        <label className="grid gap-1 text-quiet">
          Closes by itself after
          <select className="select h-12 w-44 bg-ground text-ink" value={minutes} onChange={(event) => setMinutes(event.target.value)}>
            {HOURS.map(([value, name]) => (
              <option key={value} value={value}>
                {name}
              </option>
            ))}
          </select>
        </label>
        {trial && (
          <label className="flex min-h-12 items-center gap-3">
            <input type="checkbox" className="checkbox" checked={withRun} onChange={(event) => setWithRun(event.target.checked)} />
            and with this run
          </label>
        )}
      </div>
      {open.error && <Alert className="mb-3">{open.error.message}</Alert>}
      <div className="flex justify-end gap-3">
        <button type="button" className="btn btn-ghost h-14" onClick={close}>
          Leave it closed <kbd className="key hidden sm:inline-grid">Esc</kbd>
        </button>
        <button autoFocus className="btn btn-primary h-14 px-8 text-lead" disabled={!address || open.isPending}>
          Open it <kbd className="key hidden sm:inline-grid">⏎</kbd>
        </button>
      </div>
    </form>
  )
}

function Close({ close }: { close: () => void }) {
  return (
    <div className="flex justify-end">
      <button className="btn btn-ghost h-14" onClick={close}>
        Done <kbd className="key hidden sm:inline-grid">Esc</kbd>
      </button>
    </div>
  )
}

/** For whom; then the code and the words. */
function Invite({ share, trial, close, shut }: { share: Share; trial?: string; close: () => void; shut: () => void }) {
  const { made, answered } = useInvitation()
  return (
    <>
      <p className="mb-3 flex flex-wrap items-center gap-x-4 gap-y-1 border-l-8 border-water bg-water-soft px-3 py-2 text-body text-ink">
        <span className="min-w-64 flex-1">
          Open at <span className="figure">{share.url}</span> until {hourOf(share.until)}
          {share.with_run ? ", or the end of the run" : ""}.
        </span>
        <button className="btn h-11 border-line border-ink" onClick={shut}>
          Close it
        </button>
      </p>
      {made.data ? (
        <Words invitation={made.data} answered={answered} another={() => made.reset()} close={close} fingerprint={share.fingerprint ?? ""} />
      ) : (
        <ForWhom trial={trial} made={made} close={close} />
      )}
    </>
  )
}

type Made = ReturnType<typeof useInvitation>["made"]

function ForWhom({ trial, made, close }: { trial?: string; made: Made; close: () => void }) {
  const people = usePeople()
  const [person, setPerson] = useState("")
  const [name, setName] = useState("")
  const [role, setRole] = useState("watcher")
  const [good, setGood] = useState(trial === undefined)
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        made.mutate({ person: person || null, name, role, trial: good ? null : (trial ?? null) })
      }}
    >
      <div className="mb-3 grid gap-3 sm:grid-cols-2">
        <label className="grid content-start gap-1 text-quiet">
          Whose phone is it?
          <select autoFocus className="select h-12 w-full bg-ground text-ink" value={person} onChange={(event) => setPerson(event.target.value)}>
            <option value="">somebody new</option>
            {people.data?.people
              .filter((one) => one.active)
              .map((one) => (
                <option key={one.id} value={one.id}>
                  {one.name}, {one.says}
                </option>
              ))}
          </select>
        </label>
        {!person && (
          <label className="grid content-start gap-1 text-quiet">
            Their name, as it stands on records
            <input className="input h-12 w-full bg-ground text-ink" value={name} maxLength={150} onChange={(event) => setName(event.target.value)} />
          </label>
        )}
      </div>
      {!person && <Choices legend="Who" name="role" options={ROLES} value={role} choose={setRole} columns="sm:grid-cols-3" />}
      {trial && (
        <label className="mb-3 flex min-h-12 items-center gap-3">
          <input type="checkbox" className="checkbox" checked={good} onChange={(event) => setGood(event.target.checked)} />
          for good, not for this run alone
        </label>
      )}
      {made.error && <Alert className="mb-3">{made.error.message}</Alert>}
      <div className="flex justify-end gap-3">
        <button type="button" className="btn btn-ghost h-14" onClick={close}>
          Done <kbd className="key hidden sm:inline-grid">Esc</kbd>
        </button>
        <button className="btn btn-primary h-14 px-8 text-lead" disabled={made.isPending || (!person && !name.trim())}>
          Show the code <kbd className="key hidden sm:inline-grid">⏎</kbd>
        </button>
      </div>
    </form>
  )
}

type WordsProps = {
  invitation: NonNullable<Made["data"]>
  answered: { used: boolean; says: string } | null
  another: () => void
  close: () => void
  fingerprint: string
}

function Words({ invitation, answered, another, close, fingerprint }: WordsProps) {
  const came = answered?.used ?? false
  return (
    <>
      <div className="grid gap-5 sm:grid-cols-[auto_1fr]">
        <img src={invitation.qr} alt="Code to scan with the phone" className={`h-52 w-52 border-line border-ink sm:h-60 sm:w-60 ${came ? "opacity-20" : ""}`} />
        <div className="min-w-0">
          <p className="text-quiet">
            For {invitation.person}, once, until {hourOf(invitation.until)}. Scan it, or open{" "}
            <span className="figure text-ink">{invitation.url.split("#")[0]}</span> and type
          </p>
          <ol className="my-2 grid grid-cols-2 gap-x-6 gap-y-1 font-display text-large font-bold sm:grid-cols-3" aria-label="Six words">
            {invitation.words.split(" ").map((word, i) => (
              <li key={i}>{word}</li>
            ))}
          </ol>
          <FirstContact fingerprint={fingerprint} />
        </div>
      </div>
      <p role="status" className={`my-3 border-l-8 px-3 py-2 text-lead ${came ? "border-moss bg-ground" : "border-brass bg-brass-soft"}`}>
        {answered?.says ?? "No phone has come yet."}
      </p>
      <div className="flex justify-end gap-3">
        <button className="btn h-14 border-line border-ink" onClick={another}>
          Another phone
        </button>
        <button className="btn btn-primary h-14 px-8 text-lead" onClick={close}>
          Done <kbd className="key hidden sm:inline-grid">Esc</kbd>
        </button>
      </div>
    </>
  )
}
