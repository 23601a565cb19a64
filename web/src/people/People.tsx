import { useState } from "react"
import { useMe } from "../api/me"
import { useKeys } from "../app/keys"
import { Loading } from "../app/Loading"
import { Head } from "../app/Shell"
import { Failed } from "../app/states"
import { useTheme } from "../app/theme"
import { Alert } from "../parts/Alert"
import { day, moment, hourOf } from "../parts/units"
import { Badge } from "./Badge"
import { BringPhone } from "./BringPhone"
import { PersonDialog, SecretDialog } from "./PersonDialog"
import { type Person, usePeople, useShare, useSignedIn } from "./queries"

/** People: who may do what, which browsers and phones are let in, and whether the door to the network is open. */
export function People() {
  useTheme("daylight")
  const [people, me] = [usePeople(), useMe()]
  const [open, setOpen] = useState<{ what: "new" | "phone" } | { what: "edit" | "secret"; person: Person } | null>(null)
  const owner = me.data?.role === "owner" && me.data.run == null
  useKeys([
    { key: "n", does: "take somebody in", act: () => setOpen({ what: "new" }), disabled: !owner },
    { key: "+", does: "bring a phone", act: () => setOpen({ what: "phone" }), disabled: !owner },
  ])
  if (people.error) return <Failed error={people.error} retry={() => void people.refetch()} />
  if (!people.data || !me.data) return <Loading what="the people" />
  const shown = people.data.people
  return (
    <>
      <Head
        action={
          owner && (
            <button className="btn btn-primary h-11" onClick={() => setOpen({ what: "phone" })}>
              Bring a phone <kbd className="key hidden sm:inline-grid">+</kbd>
            </button>
          )
        }
      />
      <main className="grid flex-1 content-start gap-x-10 gap-y-8 overflow-auto p-4 sm:p-6 lg:grid-cols-[1.1fr_1fr]">
        <section aria-labelledby="people">
          <div className="mb-2 flex items-end justify-between gap-4">
            <h1 id="people" className="text-3xl">
              People
            </h1>
            {owner && (
              <button className="btn h-11 border-line border-ink" onClick={() => setOpen({ what: "new" })}>
                Take somebody in <kbd className="key hidden sm:inline-grid">N</kbd>
              </button>
            )}
          </div>
          <ul>
            {shown.map((person) => (
              <li key={person.id} className={`flex flex-wrap items-center gap-3 border-b border-rule py-2.5 ${person.active ? "" : "opacity-60"}`}>
                <Badge initials={person.initials} colour={person.colour} large />
                <span className="min-w-40 flex-1 text-lead">
                  {person.name}
                  <span className="block text-note text-quiet">
                    {person.active ? person.says : "left the workshop"}
                    {person.active && (person.has_secret ? ", with a PIN" : ", without a PIN")}
                    {person.here && ", here now"}
                  </span>
                </span>
                {(owner || person.here) && person.active && (
                  <button className="btn btn-ghost h-11" onClick={() => setOpen({ what: "secret", person })}>
                    {person.has_secret ? "Change the PIN" : "Give a PIN"}
                  </button>
                )}
                {owner && (
                  <button className="btn btn-ghost h-11" onClick={() => setOpen({ what: "edit", person })} aria-label={`Change ${person.name}`}>
                    Change
                  </button>
                )}
              </li>
            ))}
          </ul>
          <p className="mt-3 max-w-prose text-body text-quiet">
            Owners do everything. Makers lay hands on vessels, plans and runs. Watchers see everything and may call stop; inspectors sign too. At the bench{" "}
            <kbd className="key">.</kbd> and a number say who is at it, and the log names them.
          </p>
        </section>
        <section aria-labelledby="let-in">
          <h2 id="let-in" className="mb-2 text-2xl">
            Let in
          </h2>
          {owner && <Door />}
          <LetIn />
        </section>
      </main>
      {open?.what === "phone" && <BringPhone close={() => setOpen(null)} />}
      {open?.what === "new" && <PersonDialog colours={people.data.colours} close={() => setOpen(null)} />}
      {open?.what === "edit" && <PersonDialog person={open.person} colours={people.data.colours} close={() => setOpen(null)} />}
      {open?.what === "secret" && <SecretDialog person={open.person} close={() => setOpen(null)} />}
    </>
  )
}

/** The door to the network as it stands. */
function Door() {
  const share = useShare()
  const now = share.now.data
  if (!now) return null
  return (
    <p className={`mb-2 flex flex-wrap items-center gap-3 border-l-8 px-3 py-2 ${now.url ? "border-water bg-water-soft text-ink" : "border-rule bg-paper"}`}>
      <span className="min-w-52 flex-1">
        {now.url ? (
          <>
            The door to the network is open at <span className="figure">{now.url}</span> until {hourOf(now.until)}.
          </>
        ) : (
          "The door to the network is closed: nothing listens beyond this machine."
        )}
      </span>
      {now.url && (
        <button className="btn h-11 border-line border-ink" onClick={() => share.close.mutate()}>
          Close it
        </button>
      )}
    </p>
  )
}

/** Browsers and phones that are let in, each with the way to shut it out. */
function LetIn() {
  const { list, end } = useSignedIn()
  if (list.error) return <Alert>{list.error.message}</Alert>
  if (!list.data) return <p className="text-quiet">Looking …</p>
  if (list.data.length === 0)
    return <p className="max-w-prose text-quiet">Nobody signed in: the owner is at this machine without having to, and no phone was let in.</p>
  return (
    <ul>
      {list.data.map((one) => (
        <li key={one.id} className="flex flex-wrap items-center gap-3 border-b border-rule py-2.5">
          <Badge initials={one.initials} colour={one.colour} />
          <span className="min-w-40 flex-1">
            {one.person} on {one.name}
            {one.mine && " (this one)"}
            <span className="block text-note text-quiet">
              {one.role}
              {one.run ? `, for ${one.run} alone` : one.phone ? ", for good" : ""}; since {day(one.since)}, seen {moment(one.seen)}
              {one.address && (
                <>
                  {" "}
                  from <span className="figure text-fine">{one.address}</span>
                </>
              )}
            </span>
          </span>
          <button className="btn h-11 border-line border-vermilion" onClick={() => end.mutate(one.id)} disabled={end.isPending}>
            {one.mine ? "Sign out" : "Shut out"}
          </button>
        </li>
      ))}
      {end.error && <Alert className="mt-3">{end.error.message}</Alert>}
    </ul>
  )
}
