import { useQueryClient } from "@tanstack/react-query"
import { useState } from "react"
import type { Schema } from "../api/client"
import { Alert } from "../parts/Alert"
import { digits, moment } from "../parts/units"
import { Heading } from "./Heading"
import { Progress } from "./Progress"
import { useBackups, useJob } from "./queries"

const BUTTON = "btn btn-outline h-11 border-line bg-ground"

const WHY: Record<string, string> = {
  "asked-for": "asked for",
  "before-migration": "by itself, before an update",
  "before-restore": "by itself, before going back",
}

/** The workshop in one file, and back to one. */
export function Backups() {
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
      {problem && <Alert className="mb-2">{problem}</Alert>}
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
            <span className="text-note text-quiet">{WHY[one.why] ?? one.why}</span>
            <span className="figure text-small">{digits(one.size / 1e6, 2)} MB</span>
            <span className="ml-auto flex gap-3">
              <a className="text-water-ink dotted" href={`/api/backups/${one.name}`} download>
                save a copy
              </a>
              <button className="text-water-ink dotted" onClick={() => setAsked(one.name)}>
                go back to it
              </button>
            </span>
          </li>
        ))}
      </ul>
      {list.data && <p className="mt-2 text-small break-all text-quiet">They lie in {list.data.folder}</p>}
    </section>
  )
}

function whenOf(backups: Schema["BackupOut"][], name: string): string {
  const at = backups.find((one) => one.name === name)?.at
  return at ? moment(at) : name
}
