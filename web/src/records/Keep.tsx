import { useQuery, useQueryClient } from "@tanstack/react-query"
import { useRef, useState } from "react"
import { Link, useNavigate } from "react-router"
import { api, asked, type Refusal, type Schema } from "../api/client"
import { useKeepVessel } from "../api/vessels"
import { useKeys } from "../app/keys"
import { Alert } from "../parts/Alert"
import { day } from "../parts/units"
import { Backups } from "./Backups"
import { Heading } from "./Heading"
import { Progress } from "./Progress"
import { useJob } from "./queries"
import { RecordsRoom } from "./RecordsRoom"
import { readSheet, type WrittenSheet } from "./written"
import { Zone } from "./Zone"

type Taken = Schema["PackageOut"]
const BUTTON = "btn btn-outline h-11 border-line bg-ground"

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

/** The key that vouches for the signatures given here, as two people read it to each other. */
function Key() {
  const { data } = useQuery({ queryKey: ["signing-key"], queryFn: () => asked(api.GET("/api/signing-key")), staleTime: Infinity })
  if (!data) return null
  return (
    <p className="mt-3 text-quiet">
      Signatures in it are vouched for by this workshop&apos;s key, <span className="figure whitespace-nowrap text-ink">{data.read}</span>. Read it to whoever
      asks, over the telephone or face to face.
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
      <Key />
      <Progress {...job} />
      {job.problem && <Alert className="mt-2">{job.problem}</Alert>}
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
        className={`block border-line border-dashed p-4 ${over ? "border-water bg-water-soft" : "border-rule"}`}
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
      {problem && <Alert className="mt-3">{problem}</Alert>}
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
              className={`ml-auto text-note ${item.mark === "new" ? "font-semibold text-moss" : item.mark === "differs" ? "text-brass-ink" : "text-quiet"}`}
            >
              {MARKS[item.mark]}
            </span>
            {item.says && <span className="w-full pl-4 text-small text-brass-ink">{item.says}</span>}
          </li>
        ))}
      </ul>
      <p className="text-note text-quiet">
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
      <label className="flex flex-1 flex-col text-small text-quiet">
        A {String(sheet.sheet["kind"])} for {String(sheet.sheet["working_pressure"])}. Its name
        <input className="input h-11 w-full bg-paper text-ink" value={name} onChange={(event) => setName(event.target.value)} required maxLength={120} />
      </label>
      <button className="btn btn-primary h-11" disabled={keep.isPending}>
        Hang it up
      </button>
      {refusal && (
        <Alert className="w-full">
          {refusal.field ? `${refusal.field}: ` : ""}
          {refusal.message}
        </Alert>
      )}
    </form>
  )
}
