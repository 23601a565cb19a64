import { useRef, useState } from "react"
import { Link, useNavigate } from "react-router"
import type { Refusal, Schema } from "../api/client"
import { useHabits, useMe } from "../api/me"
import { useKeys } from "../app/keys"
import { day, digits, moment } from "../parts/units"
import { useKeepVessel } from "../shed/queries"
import { readSheet, type WrittenSheet } from "./written"
import { RecordsRoom } from "./RecordsRoom"
import { useQueryClient } from "@tanstack/react-query"
import { useBackups, useJob } from "./queries"

type Taken = Schema["PackageOut"]
const BUTTON = "btn btn-outline h-11 border-[1.5px] bg-ground"

/** Records carried away and brought back, and the workshop backed up. */
export function Keep() {
  return (
    <RecordsRoom title="Carry and keep">
      <div className="grid gap-x-12 gap-y-8 lg:grid-cols-2">
        <div className="space-y-8">
          <CarryAway />
          <BringBack />
        </div>
        <div className="space-y-8">
          <Backups />
          <Zone />
        </div>
      </div>
    </RecordsRoom>
  )
}

function Heading({ children }: { children: string }) {
  return <h2 className="mb-2 border-b-[1.5px] border-ink pb-1 text-[18px]">{children}</h2>
}

/** How far a long job is, and the key that stops it. */
function Progress({ running, job, stop }: Pick<ReturnType<typeof useJob>, "running" | "job" | "stop">) {
  if (!job || (!running && job.state !== "stopped")) return null
  if (!running)
    return (
      <p role="status" className="strip mt-2">
        Stopped. Nothing was changed.
      </p>
    )
  return (
    <p role="status" className="mt-2 flex flex-wrap items-center gap-3">
      <progress className="progress progress-primary h-2 w-40" max={1} {...(job.part === null ? {} : { value: job.part })} aria-label="how far it is" />
      <span>
        {job.says}
        {job.part !== null && <span className="figure"> {Math.floor(job.part * 100)} %</span>}
      </span>
      <button className="btn btn-ghost btn-sm min-h-11" onClick={stop}>
        Stop
      </button>
    </p>
  )
}

function CarryAway() {
  const job = useJob((done) => {
    const link = document.createElement("a")
    link.href = done.file ?? ""
    link.download = done.name ?? ""
    link.click()
  })
  return (
    <section>
      <Heading>Carry away</Heading>
      <p className="mb-2">
        Every vessel, trial, reading, picture and paper in one zip: tables and sheets that other programs read too. One trial alone is on its record.
      </p>
      <button className={BUTTON} onClick={() => job.begin({ what: "export", name: "" })} disabled={job.running}>
        All records as a zip
      </button>
      <Progress {...job} />
      {job.problem && (
        <p role="alert" className="strip mt-2 border-vermilion">
          {job.problem}
        </p>
      )}
      {job.job?.state === "done" && job.job.file && (
        <p role="status" className="mt-2">
          <a className="underline" href={job.job.file} download={job.job.name}>
            {job.job.name}
          </a>{" "}
          is being saved.
        </p>
      )}
    </section>
  )
}

/** A file taken in, looked at first: a package of records, or a vessel's sheet. */
function BringBack() {
  const [file, setFile] = useState<File | null>(null)
  const [sheet, setSheet] = useState<WrittenSheet | null>(null)
  const [says, setSays] = useState<string | null>(null)
  const [over, setOver] = useState(false)
  const input = useRef<HTMLInputElement>(null)
  const queries = useQueryClient()
  const preview = useJob(() => null)
  const takeIn = useJob(() => void queries.invalidateQueries())
  useKeys([{ key: "i", does: "choose a file to bring back", act: () => input.current?.click() }])
  const look = async (chosen: File | undefined) => {
    if (!chosen) return
    preview.forget()
    takeIn.forget()
    setSays(null)
    setSheet(null)
    setFile(chosen)
    const name = chosen.name.toLowerCase()
    if (name.endsWith(".zip")) preview.beginOn("preview", chosen)
    else if (name.endsWith(".json")) await readSheet(chosen).then(setSheet, (problem: Error) => setSays(problem.message))
    else if (name.endsWith(".csv")) setSays("A logger's file belongs to a run: open its trial on the bench and press I there.")
    else setSays("Nothing here reads such a file: a zip of records, or a vessel's sheet as JSON.")
  }
  const taken = takeIn.job?.package ?? preview.job?.package
  const problem = preview.problem ?? takeIn.problem ?? says
  return (
    <section>
      <Heading>Bring back</Heading>
      <label
        className={`block border-[1.5px] border-dashed p-4 ${over ? "border-water bg-water-soft" : "border-rule"}`}
        onDragOver={(event) => (event.preventDefault(), setOver(true))}
        onDragLeave={() => setOver(false)}
        onDrop={(event) => (event.preventDefault(), setOver(false), void look(event.dataTransfer.files[0]))}
      >
        <span className="mb-1 block">
          A zip of records, or a vessel's sheet. It is looked at first; nothing is kept before you say so. <kbd className="key">I</kbd>
        </span>
        <input
          ref={input}
          type="file"
          accept=".zip,.json,.csv"
          aria-label="File to bring back"
          className="file-input h-11 w-full bg-paper text-ink"
          onChange={(event) => void look(event.target.files?.[0])}
        />
      </label>
      <Progress {...preview} />
      <Progress {...takeIn} />
      {problem && (
        <p role="alert" className="strip mt-3 border-vermilion">
          {problem}
        </p>
      )}
      {taken && file && <Looked taken={taken} takeIn={() => takeIn.beginOn("import", file)} busy={takeIn.running} />}
      {sheet && <NewVessel key={sheet.name} sheet={sheet} />}
    </section>
  )
}

const MARKS = { new: "new", here: "here already", differs: "here, and not the same: left as it is" } as const

function Looked({ taken, takeIn, busy }: { taken: Taken; takeIn: () => void; busy: boolean }) {
  const rows = taken.items.filter((item) => item.what !== "kit").sort((a, b) => a.name.localeCompare(b.name))
  const kit = taken.items.filter((item) => item.what === "kit" && item.mark === "new").length
  return (
    <div className="mt-3" data-testid="package">
      <p>
        <strong>{taken.title}</strong>, carried away {day(taken.created)}
      </p>
      <ul className="my-2 max-h-72 overflow-auto border-y border-rule">
        {rows.map((item) => (
          <li key={item.id} className="flex flex-wrap items-baseline gap-x-3 border-b border-rule py-1.5 last:border-b-0">
            <span className={item.what === "trial" ? "pl-4" : "font-semibold"}>{item.name}</span>
            <span
              className={`ml-auto text-[14px] ${item.mark === "new" ? "font-semibold text-moss" : item.mark === "differs" ? "text-brass-ink" : "text-quiet"}`}
            >
              {MARKS[item.mark]}
            </span>
            {item.says && <span className="w-full pl-4 text-[13.5px] text-brass-ink">{item.says}</span>}
          </li>
        ))}
      </ul>
      <p className="text-[14px] text-quiet">
        New in it: {taken.readings} readings, {taken.events} events, {taken.attachments} pictures and papers, {taken.cares} cares, {kit} pieces of kit.{" "}
        {taken.notes.join(" ")}
      </p>
      {taken.kept ? (
        <p role="status" className="strip mt-2 border-moss">
          Taken in.{" "}
          <Link className="underline" to="/records">
            To the logbook
          </Link>
        </p>
      ) : taken.changes ? (
        <button className="btn btn-primary mt-2 h-11" onClick={takeIn} disabled={busy}>
          {busy ? "Taking it in …" : "Take it in"}
        </button>
      ) : (
        <p role="status" className="strip mt-2">
          All of it is here already. Nothing would change.
        </p>
      )}
    </div>
  )
}

function NewVessel({ sheet }: { sheet: WrittenSheet }) {
  const keep = useKeepVessel(null)
  const navigate = useNavigate()
  const [name, setName] = useState(sheet.name)
  const refusal = keep.error as Refusal | null
  return (
    <form
      className="mt-3 flex flex-wrap items-end gap-3"
      onSubmit={(event) => {
        event.preventDefault()
        keep.mutate({ ...sheet, name, version: 1, happened_text: "" }, { onSuccess: (vessel) => void navigate(`/vessels/${vessel.id}`) })
      }}
    >
      <label className="flex flex-1 flex-col text-[13px] text-quiet">
        A {String(sheet.sheet["kind"])} for {String(sheet.sheet["working_pressure"])}. Its name
        <input className="input h-11 w-full bg-paper text-ink" value={name} onChange={(event) => setName(event.target.value)} required maxLength={120} />
      </label>
      <button className="btn btn-primary h-11" disabled={keep.isPending}>
        Hang it up
      </button>
      {refusal && (
        <p role="alert" className="strip w-full border-vermilion">
          {refusal.field ? `${refusal.field}: ` : ""}
          {refusal.message}
        </p>
      )}
    </form>
  )
}

/** In which zone days and times are told, here and on paper. */
function Zone() {
  const { data: me } = useMe()
  const habits = useHabits()
  const [typed, setTyped] = useState<string | null>(null)
  if (!me) return null
  const zones = Intl.supportedValuesOf?.("timeZone") ?? []
  return (
    <section>
      <Heading>Days and times</Heading>
      <form
        className="flex flex-wrap items-end gap-3"
        onSubmit={(event) => {
          event.preventDefault()
          habits.mutate({ units: me.units, zone: (typed ?? me.zone).trim() }, { onSuccess: () => setTyped(null) })
        }}
      >
        <label className="flex flex-1 flex-col text-[13px] text-quiet">
          Time zone of the workshop
          <input
            className="input h-11 w-full bg-paper text-ink"
            list="zones"
            value={typed ?? me.zone}
            onChange={(event) => setTyped(event.target.value)}
            maxLength={60}
            required
          />
        </label>
        <datalist id="zones">
          {zones.map((name) => (
            <option key={name} value={name} />
          ))}
        </datalist>
        <button className="btn btn-outline h-11 border-[1.5px] bg-ground" disabled={typed === null || habits.isPending}>
          Keep
        </button>
      </form>
      <p className="mt-1 text-[13.5px] text-quiet">Records and their papers tell days and times in it, and name it. What is stored stays the same.</p>
      {habits.error && (
        <p role="alert" className="strip mt-2 border-vermilion">
          {habits.error.message}
        </p>
      )}
    </section>
  )
}

const WHY: Record<string, string> = {
  "asked-for": "asked for",
  "before-migration": "by itself, before an update",
  "before-restore": "by itself, before going back",
}

function Backups() {
  const queries = useQueryClient()
  const list = useBackups()
  const make = useJob(() => void queries.invalidateQueries({ queryKey: ["backups"] }))
  const restore = useJob(() => location.reload())
  const [asked, setAsked] = useState<string | File | null>(null)
  const backups = list.data?.backups ?? []
  const back = () => {
    if (typeof asked === "string") restore.begin({ what: "restore", name: asked })
    else if (asked) restore.beginOn("restore", asked)
  }
  const problem = make.problem ?? restore.problem ?? list.error?.message
  return (
    <section>
      <Heading>Back up</Heading>
      <p className="mb-2">The whole workshop as it stands, in one file on this machine. Lay a copy somewhere else: a disk that dies takes both.</p>
      <p className="mb-3 flex flex-wrap items-center gap-3">
        <button className="btn btn-primary h-11" onClick={() => make.begin({ what: "backup", name: "" })} disabled={make.running}>
          {make.running ? "Backing up …" : "Back up now"}
        </button>
        <label className={BUTTON}>
          Go back to a file …
          <input
            type="file"
            accept=".zip"
            className="sr-only"
            aria-label="Backup to go back to"
            onChange={(event) => setAsked(event.target.files?.[0] ?? null)}
          />
        </label>
      </p>
      {problem && (
        <p role="alert" className="strip mb-2 border-vermilion">
          {problem}
        </p>
      )}
      <Progress {...make} />
      <Progress {...restore} />
      {asked !== null && (
        <div role="alertdialog" aria-label="Go back" className="strip mb-3 border-brass">
          <p>
            Everything will be as it was in <strong>{typeof asked === "string" ? whenOf(backups, asked) : asked.name}</strong>; what was entered since is no
            longer shown. How it is now is backed up first, so you can come back to it.
            {list.data?.running && <strong className="text-vermilion"> A trial is on the bench: let it end first.</strong>}
          </p>
          <p className="mt-2 flex gap-3">
            <button className="btn btn-primary btn-sm min-h-11" onClick={back} disabled={restore.running || Boolean(list.data?.running)}>
              {restore.running ? "Going back …" : "Go back to it"}
            </button>
            <button className="btn btn-ghost btn-sm min-h-11" onClick={() => setAsked(null)} autoFocus>
              Leave it
            </button>
          </p>
        </div>
      )}
      {list.data && backups.length === 0 && <p className="text-quiet">No backup yet. One is made by itself before each update.</p>}
      <ul>
        {backups.map((one) => (
          <li key={one.name} className="flex flex-wrap items-baseline gap-x-4 border-b border-rule py-2">
            <span className="whitespace-nowrap">{whenOf(backups, one.name)}</span>
            <span className="text-[14px] text-quiet">{WHY[one.why] ?? one.why}</span>
            <span className="figure text-[13.5px]">{digits(one.size / 1e6, 2)} MB</span>
            <span className="ml-auto flex gap-3">
              <a className="text-water-ink underline decoration-dotted underline-offset-3" href={`/api/backups/${one.name}`} download>
                save a copy
              </a>
              <button className="text-water-ink underline decoration-dotted underline-offset-3" onClick={() => setAsked(one.name)}>
                go back to it
              </button>
            </span>
          </li>
        ))}
      </ul>
      {list.data && <p className="mt-2 text-[13px] break-all text-quiet">They lie in {list.data.folder}</p>}
    </section>
  )
}

function whenOf(backups: Schema["BackupOut"][], name: string): string {
  const at = backups.find((one) => one.name === name)?.at
  return at ? moment(at) : name
}
