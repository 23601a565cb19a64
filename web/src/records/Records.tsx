import { useRef, useState } from "react"
import { Link, useNavigate, useSearchParams } from "react-router"
import type { Schema } from "../api/client"
import { useMe } from "../api/me"
import { type TrialRow } from "../api/trials"
import { useKeys } from "../app/keys"
import { Loading } from "../app/Loading"
import { Failed } from "../app/states"
import { Pages } from "../parts/Pages"
import { DecidedTag } from "../parts/Tag"
import { day, habitFor, ordinal, show, type Units } from "../parts/units"
import { useLogbook, type Sought } from "./queries"
import { RecordsRoom } from "./RecordsRoom"

type Found = Schema["LogbookOut"]
const FIELDS = ["vessel", "kind", "year", "tag", "text"] as const

/** The logbook: every trial that was started, found again by what is remembered of it. What is looked for stands in the address. */
export function Records() {
  const [address, setAddress] = useSearchParams()
  const sought = Object.fromEntries(FIELDS.map((name) => [name, address.get(name) ?? ""])) as Sought
  const page = Number(address.get("page") ?? 1) || 1
  const [found, me] = [useLogbook(sought, page), useMe()]
  const [picked, setPicked] = useState<TrialRow[]>([])
  const navigate = useNavigate()
  const words = useRef<HTMLInputElement>(null)
  const [text, setText] = useState(sought.text)
  const clear = () => {
    setAddress({}, { replace: true })
    setText("")
  }
  const pair = picked.length === 2 ? `/records/compare?one=${picked[0]!.id}&other=${picked[1]!.id}` : null
  const seek = (name: string, value: string) =>
    setAddress(
      (before) => {
        const next = new URLSearchParams(before)
        if (value) next.set(name, value)
        else next.delete(name)
        if (name !== "page") next.delete("page")
        return next
      },
      { replace: true },
    )
  useKeys([
    { key: "/", does: "look for words", act: () => words.current?.focus() },
    { key: "c", does: "compare the two that are ticked", act: () => pair && void navigate(pair), disabled: !pair },
  ])
  if (found.error) return <Failed error={found.error} retry={() => void found.refetch()} />
  if (!found.data || !me.data) return <Loading what="the logbook" />
  const pick = (trial: TrialRow) =>
    setPicked((before) => (before.some((t) => t.id === trial.id) ? before.filter((t) => t.id !== trial.id) : [...before, trial].slice(-2)))
  const beside = picked.length > 0 && (
    <span className="flex items-center gap-3 text-note">
      {pair ? `${picked[0]!.vessel}: ${picked.map((t) => ordinal(t.number)).join(" and ")} trial` : "Tick another trial of this vessel"}
      {pair && (
        <Link className="btn btn-primary btn-sm min-h-9" to={pair}>
          Compare <kbd className="key">C</kbd>
        </Link>
      )}
      <button className="btn btn-ghost btn-sm min-h-9" onClick={() => setPicked([])}>
        Untick
      </button>
    </span>
  )
  return (
    <RecordsRoom title="Logbook" beside={beside}>
      {found.data.in_all === 0 ? (
        <p className="text-lg text-quiet">
          No trial was started yet. A record begins when a plan is frozen and run.{" "}
          <Link className="underline" to="/">
            Back to the shed
          </Link>
          , or{" "}
          <Link className="underline" to="/records/keep">
            bring records back
          </Link>{" "}
          from another machine.
        </p>
      ) : (
        <>
          <Sieve found={found.data} sought={sought} seek={seek} words={words} clear={clear} text={text} setText={setText} />
          <ul className="mt-1" aria-label="Trials">
            {found.data.rows.map((row) => (
              <Row key={row.trial.id} row={row} habit={me.data.units} picked={picked} pick={pick} />
            ))}
          </ul>
          {found.data.found > PAGE && (
            <div className="flex justify-end py-3">
              <Pages page={page} pages={Math.ceil(found.data.found / PAGE)} turn={(to) => seek("page", String(to))} />
            </div>
          )}
          {found.data.rows.length === 0 && (
            <p className="py-6 text-lg text-quiet">
              None of the {found.data.in_all} trials answers to all of that.{" "}
              <button className="underline" onClick={clear}>
                Show them all
              </button>
            </p>
          )}
        </>
      )}
    </RecordsRoom>
  )
}

/** Trials on a page, as the server turns them. */
const PAGE = 60

type SieveProps = {
  found: Found
  sought: Sought
  seek: (name: string, value: string) => void
  words: React.RefObject<HTMLInputElement | null>
  clear: () => void
  text: string
  setText: (text: string) => void
}

/** What may be looked for. */
function Sieve({ found, sought, seek, words, clear, text, setText }: SieveProps) {
  const choice = (name: keyof Sought, label: string, all: string, choices: Schema["LogbookChoice"][]) => (
    <label className="flex min-w-32 flex-1 flex-col text-small text-quiet">
      {label}
      <select className="select h-11 w-full bg-paper text-body text-ink" value={sought[name]} onChange={(event) => seek(name, event.target.value)}>
        <option value="">{all}</option>
        {choices.map((one) => (
          <option key={one.id} value={one.id}>
            {one.name} ({one.count})
          </option>
        ))}
      </select>
    </label>
  )
  const narrowed = FIELDS.some((name) => sought[name])
  return (
    <form role="search" className="flex flex-wrap items-end gap-3 border-b-line border-ink pb-3" onSubmit={(event) => event.preventDefault()}>
      <label className="flex min-w-52 flex-[1.6] flex-col text-small text-quiet">
        Words in the record
        <input
          ref={words}
          type="search"
          className="input h-11 w-full bg-paper text-body text-ink"
          placeholder="drain bush, Maren, weep …"
          value={text}
          onChange={(event) => {
            setText(event.target.value)
            seek("text", event.target.value)
          }}
        />
      </label>
      {choice("vessel", "Vessel", "every vessel", found.vessels)}
      {choice("kind", "Kind", "every kind", found.kinds)}
      {choice("year", "Year", "every year", found.years)}
      {choice("tag", "Tag", "every tag", found.tags)}
      <p className="min-w-24 pb-2.5 text-note text-quiet" role="status">
        {found.found} of {found.in_all}
        {narrowed && (
          <button type="button" className="ml-2 dotted" onClick={clear}>
            all
          </button>
        )}
      </p>
    </form>
  )
}

type RowProps = { row: Schema["LogbookRow"]; habit: Units; picked: TrialRow[]; pick: (trial: TrialRow) => void }

function Row({ row: { trial, line }, habit, picked, pick }: RowProps) {
  const to = trial.state === "running" || trial.state === "held" ? `/trials/${trial.id}/bench` : `/records/${trial.id}`
  const on = picked.some((one) => one.id === trial.id)
  const other = picked.length > 0 && picked[0]!.vessel_id !== trial.vessel_id
  return (
    <li className="grid grid-cols-[44px_1fr_auto] items-center gap-x-3 border-b border-rule py-1.5 hover:bg-paper md:grid-cols-[44px_104px_minmax(190px,1fr)_minmax(150px,0.8fr)_96px_150px_minmax(180px,1.4fr)]">
      <label className="grid h-11 w-11 place-items-center" title={other ? "Two trials of one vessel are compared" : undefined}>
        <input
          type="checkbox"
          className="checkbox checkbox-sm"
          checked={on}
          disabled={other && !on}
          onChange={() => pick(trial)}
          aria-label={`Compare ${trial.vessel}, ${ordinal(trial.number)} trial`}
        />
      </label>
      <span className="hidden text-note whitespace-nowrap text-quiet md:block">{day(trial.started_at)}</span>
      <span>
        <Link className="font-semibold underline decoration-rule decoration-2 underline-offset-3 hover:decoration-ink" to={to}>
          {trial.vessel}
        </Link>
        <span className="block text-small text-quiet">
          {trial.kind}
          <span className="md:hidden">
            , {ordinal(trial.number)}, {day(trial.started_at)}
          </span>
        </span>
      </span>
      <span className="hidden md:block">
        {ordinal(trial.number)} trial
        <span className="block text-small text-quiet">{trial.basis_name}</span>
      </span>
      <span className="figure hidden text-right text-note whitespace-nowrap md:block">
        {show(trial.test_pressure, "pressure", habitFor(habit, trial.test_pressure), 4)}
      </span>
      <span>
        {trial.decision ? (
          <DecidedTag decision={trial.decision} habit={habit} practice={trial.practice} />
        ) : (
          <span className="text-quiet">
            {trial.practice && "practice: "}
            {trial.state === "aborted" ? "dumped, not decided" : trial.state === "judged" ? "judged, not decided" : trial.state}
          </span>
        )}
      </span>
      <span className="col-span-3 text-note text-quiet md:col-span-1">{line && line !== trial.vessel ? `… ${line}` : trial.decision?.reason}</span>
    </li>
  )
}
