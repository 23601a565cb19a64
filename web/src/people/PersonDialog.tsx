import { useState } from "react"
import { Alert } from "../parts/Alert"
import { Choices } from "../parts/Choices"
import { Dialog, Keep, useKeeping } from "../parts/Dialog"
import { Badge } from "./Badge"
import { type Person, useHousehold } from "./queries"

const ROLES: [string, string, string][] = [
  ["owner", "owner", "does everything, lets others in"],
  ["maker", "maker", "vessels, plans, runs, decisions"],
  ["watcher", "watcher", "sees everything, may call stop"],
  ["inspector", "inspector", "sees everything, signs records"],
]

type PersonDialogProps = { person?: Person; colours: string[]; close: () => void }

/** Somebody's name, initials, colour and what they may do. */
export function PersonDialog({ person, colours, close }: PersonDialogProps) {
  const household = useHousehold()
  const [name, setName] = useState(person?.name ?? "")
  const [initials, setInitials] = useState(person?.initials ?? "")
  const [colour, setColour] = useState(person?.colour ?? "")
  const [role, setRole] = useState<string>(person?.role ?? "maker")
  const { says, busy, keep } = useKeeping(close)
  const body = { name, role, initials, colour, asked_here: person?.asked_here ?? false }
  return (
    <Dialog title={person ? person.name : "Take somebody in"} close={close}>
      <form
        onSubmit={(event) => {
          event.preventDefault()
          if (name.trim()) keep(() => (person ? household.describe(person.id, body) : household.takeIn(body)))
        }}
      >
        <div className="mb-3 grid gap-3 sm:grid-cols-[1fr_auto]">
          <label className="grid content-start gap-1 text-quiet">
            Name, as it stands on records
            <input autoFocus className="input h-12 w-full bg-ground text-ink" value={name} maxLength={150} onChange={(event) => setName(event.target.value)} />
          </label>
          <label className="grid content-start gap-1 text-quiet">
            Initials
            <input
              className="input h-12 w-24 bg-ground text-ink"
              value={initials}
              maxLength={3}
              placeholder={name
                .split(/\s+/)
                .map((word) => word[0] ?? "")
                .join("")
                .slice(0, 3)
                .toUpperCase()}
              onChange={(event) => setInitials(event.target.value)}
            />
          </label>
        </div>
        <Choices legend="What they may do" name="role" options={ROLES} value={role} choose={setRole} columns="sm:grid-cols-2" />
        <fieldset className="mb-4">
          <legend className="mb-1 text-quiet">Colour</legend>
          <div className="flex flex-wrap gap-2">
            {colours.map((one) => (
              <label
                key={one}
                className={`grid h-12 w-12 cursor-pointer place-items-center border-line ${colour === one ? "border-ink" : "border-transparent"}`}
                title={one}
              >
                <input type="radio" className="sr-only" name="colour" checked={colour === one} onChange={() => setColour(one)} aria-label={one} />
                <Badge initials={colour === one ? "✓" : ""} colour={one} large />
              </label>
            ))}
          </div>
        </fieldset>
        {says && <Alert className="mb-3">{says}</Alert>}
        {person && person.role !== "elsewhere" && (
          <button type="button" className="btn btn-ghost mb-3 h-11 px-0 text-vermilion" onClick={() => keep(() => household.left(person.id, person.active))}>
            {person.active ? "They are of this workshop no longer" : "They are back in the workshop"}
          </button>
        )}
        <Keep keep={person ? "Keep it" : "Take them in"} close={close} busy={busy} disabled={!name.trim()} />
      </form>
    </Dialog>
  )
}

/** A PIN or password: new, changed, or taken away; and whether the owner is asked for it on the workshop's own machine. */
export function SecretDialog({ person, close }: { person: Person; close: () => void }) {
  const household = useHousehold()
  const [before, setBefore] = useState("")
  const [secret, setSecret] = useState("")
  const [again, setAgain] = useState("")
  const [asked, setAsked] = useState(person.asked_here)
  const { says, busy, keep } = useKeeping(close)
  const own = person.here && person.has_secret
  const field = (label: string, value: string, set: (text: string) => void, kind: string, first = false) => (
    <label className="mb-3 block text-quiet">
      {label}
      <input
        autoFocus={first}
        type="password"
        autoComplete={kind}
        className="input figure h-12 w-full bg-ground text-title text-ink"
        value={value}
        onChange={(event) => set(event.target.value)}
      />
    </label>
  )
  const done = async () => {
    if (secret) await household.secret(person.id, { secret, before })
    if (asked !== person.asked_here)
      await household.describe(person.id, { name: person.name, role: person.role, initials: person.initials, colour: person.colour, asked_here: asked })
  }
  return (
    <Dialog title={`A PIN for ${person.name}`} close={close}>
      <form
        onSubmit={(event) => {
          event.preventDefault()
          if (secret === again) keep(done)
        }}
      >
        <p className="mb-3 text-body text-quiet">
          Six digits or letters at the least. It is asked for where they come to a browser, and again where they sign a record; their phones have to be let in
          again after it was changed.
        </p>
        {own && field("The one it is now", before, setBefore, "current-password", true)}
        {field("The new one", secret, setSecret, "new-password", !own)}
        {field("Once more", again, setAgain, "new-password")}
        {again && secret !== again && <p className="mb-3 text-vermilion">The two differ.</p>}
        {person.role === "owner" && person.here && (
          <label className="mb-3 flex min-h-12 items-center gap-3">
            <input type="checkbox" className="checkbox" checked={asked} onChange={(event) => setAsked(event.target.checked)} />
            ask for it on this machine too, each time it is opened
          </label>
        )}
        {says && <Alert className="mb-3">{says}</Alert>}
        <Keep keep="Keep it" close={close} busy={busy} disabled={(!secret && asked === person.asked_here) || secret !== again} />
      </form>
    </Dialog>
  )
}
