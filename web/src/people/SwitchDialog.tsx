import { useState } from "react"
import { useKeys } from "../app/keys"
import { Alert } from "../parts/Alert"
import { Dialog } from "../parts/Dialog"
import { Badge } from "./Badge"
import { type Person, usePeople, useSignOut, useSwitch } from "./queries"

/** Who is at this browser: a key for each, and their PIN where it is asked for. */
export function SwitchDialog({ close, signedIn }: { close: () => void; signedIn: boolean }) {
  const people = usePeople()
  const out = useSignOut()
  const [asked, setAsked] = useState<Person | null>(null)
  const present = (people.data?.people ?? []).filter((one) => one.active)
  return (
    <Dialog title="Who is at it?" close={close}>
      {asked ? (
        <Secret person={asked} done={close} back={() => setAsked(null)} />
      ) : (
        <>
          <Choice people={present} ask={setAsked} done={close} />
          {people.error && <Alert className="mt-3">{people.error.message}</Alert>}
          <div className="mt-4 flex flex-wrap justify-between gap-3">
            {signedIn ? (
              <button className="btn btn-ghost h-12" onClick={() => out.mutate(undefined, { onSuccess: close })}>
                Sign out here
              </button>
            ) : (
              <span />
            )}
            <button className="btn btn-ghost h-12" onClick={close}>
              Leave it <kbd className="key hidden sm:inline-grid">Esc</kbd>
            </button>
          </div>
        </>
      )}
    </Dialog>
  )
}

/** Everybody with their key; whoever's secret is not asked for is there at once. */
export function Choice({ people, ask, done }: { people: Person[]; ask: (person: Person) => void; done: () => void }) {
  const change = useSwitch()
  const choose = (person: Person) => {
    if (person.here) done()
    else if (person.asks) ask(person)
    else change.mutate({ person: person.id, secret: "" }, { onSuccess: done })
  }
  useKeys(people.slice(0, 9).map((person, i) => ({ key: String(i + 1), does: `it is ${person.name}`, act: () => choose(person), through: true })))
  return (
    <>
      <ul className="grid gap-2">
        {people.map((person, i) => (
          <li key={person.id}>
            <button
              className={`flex min-h-14 w-full items-center gap-3 border-line px-3 text-left ${person.here ? "border-ink bg-ground" : "border-rule"}`}
              onClick={() => choose(person)}
              disabled={change.isPending}
            >
              <Badge initials={person.initials} colour={person.colour} />
              <span className="flex-1 text-lead">
                {person.name}
                <span className="block text-note text-quiet">
                  {person.says}
                  {person.here ? ", here now" : person.asks ? ", with PIN" : ""}
                </span>
              </span>
              {i < 9 && <kbd className="key">{i + 1}</kbd>}
            </button>
          </li>
        ))}
      </ul>
      {change.error && <Alert className="mt-3">{change.error.message}</Alert>}
    </>
  )
}

/** Somebody's PIN or password. */
export function Secret({ person, done, back }: { person: Person; done: () => void; back: () => void }) {
  const change = useSwitch()
  const [secret, setSecret] = useState("")
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        if (secret) change.mutate({ person: person.id, secret }, { onSuccess: done, onError: () => setSecret("") })
      }}
    >
      <p className="mb-3 flex items-center gap-3 text-lead">
        <Badge initials={person.initials} colour={person.colour} large /> {person.name}
      </p>
      <label className="mb-4 block text-quiet">
        PIN or password
        <input
          autoFocus
          type="password"
          autoComplete="current-password"
          className="input figure h-14 w-full bg-ground text-2xl text-ink"
          value={secret}
          onChange={(event) => setSecret(event.target.value)}
        />
      </label>
      {change.error && <Alert className="mb-3">{change.error.message}</Alert>}
      <div className="flex justify-end gap-3">
        <button type="button" className="btn btn-ghost h-14" onClick={back}>
          Somebody else
        </button>
        <button className="btn btn-primary h-14 px-8 text-lead" disabled={!secret || change.isPending}>
          It is me <kbd className="key hidden sm:inline-grid">⏎</kbd>
        </button>
      </div>
    </form>
  )
}
