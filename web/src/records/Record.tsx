import { useState } from "react"
import { useParams } from "react-router"
import type { Schema } from "../api/client"
import { useMe } from "../api/me"
import { useRecord } from "../api/trials"
import { useKeys } from "../app/keys"
import { Loading } from "../app/Loading"
import { Failed } from "../app/states"
import { useTheme } from "../app/theme"
import { TrialHead } from "../app/TrialHead"
import { habitFor, type Habit } from "../parts/units"
import { SigningPart } from "./Signing"
import { Course, Decided, Hold, Kept, Leaks, Plan, Sections, Title, Checked, Vessel } from "./parts"

type RecordOut = Schema["RecordOut"]

/** The record of a trial: one sheet, the same on the screen and on A4 or Letter. */
export function Record() {
  useTheme("daylight")
  const { id = "" } = useParams()
  const me = useMe()
  const record = useRecord(id)
  if (record.error) return <Failed error={record.error} retry={() => void record.refetch()} />
  if (!record.data || !me.data) return <Loading what="the record" />
  return <Page record={record.data} habit={habitFor(me.data.units, record.data.judge.plan.test_pressure)} />
}

const AWAY = "text-water-ink dotted"
const PAPERS = { A4: "210mm", Letter: "215.9mm" } as const

function Page({ record, habit }: { record: RecordOut; habit: Habit }) {
  const { judge } = record
  const [paper, setPaper] = useState<keyof typeof PAPERS>("A4")
  const pdf = (full: boolean) => `/api/records/${judge.id}/report.pdf?paper=${paper}&full=${full}`
  const away = [
    ["Carry it away", `/api/trials/${judge.id}/package.zip`],
    ...(record.started_at ? [["run as SVG", `/api/records/${judge.id}/run.svg`]] : []),
    ...(judge.verdict
      ? [
          ["hold as CSV", `/api/trials/${judge.id}/hold.csv`],
          ["hold as SVG", `/api/records/${judge.id}/hold.svg`],
        ]
      : []),
  ] as [string, string][]
  useKeys([{ key: "p", does: "the report as PDF, two pages", act: () => window.open(pdf(false), "_blank", "noreferrer") }])
  return (
    <>
      <TrialHead {...judge} note="record" />
      <main className="flex-1 overflow-auto print:overflow-visible">
        <div className="no-print mx-auto flex max-w-[215.9mm] flex-wrap items-center gap-x-4 gap-y-2 px-4 pt-4 text-note">
          {away.map(([name, href]) => (
            <a key={name} className={AWAY} href={href} download>
              {name}
            </a>
          ))}
          <span className="ml-auto flex flex-wrap items-center gap-3">
            <label className="flex items-center gap-2 text-quiet">
              Paper
              <select className="select h-11 w-24 bg-paper text-ink" value={paper} onChange={(event) => setPaper(event.target.value as keyof typeof PAPERS)}>
                {Object.keys(PAPERS).map((name) => (
                  <option key={name}>{name}</option>
                ))}
              </select>
            </label>
            <a className="btn btn-primary h-11" href={pdf(false)} target="_blank" rel="noreferrer">
              PDF, two pages <kbd className="key">P</kbd>
            </a>
            <a className="btn btn-outline h-11 border-line bg-ground" href={pdf(true)} target="_blank" rel="noreferrer">
              PDF, all of it
            </a>
          </span>
        </div>
        <article
          className={`mx-auto my-4 border-line border-rule bg-paper p-4 text-small sm:p-[12mm] print:m-0 print:border-0 print:bg-white print:p-0 paper-${paper.toLowerCase()}`}
          style={{ width: PAPERS[paper], maxWidth: "100%" }}
          data-testid="record"
        >
          <Title record={record} habit={habit} />
          <Vessel record={record} habit={habit} />
          <Plan record={record} habit={habit} />
          <Course record={record} habit={habit} />
          {judge.valve ? (
            <Checked title="The relief valve" told={judge.valve} habit={habit} />
          ) : judge.steam ? (
            <Checked title="The first steam" told={judge.steam} habit={habit} />
          ) : judge.burst ? (
            <Checked title="Taken to failure" told={judge.burst} habit={habit} />
          ) : (
            judge.verdict && <Hold record={record} habit={habit} />
          )}
          <Leaks record={record} />
          <Sections record={record} />
          <Decided record={record} habit={habit} />
          <Kept record={record} />
          <SigningPart trial={judge.id} signing={record.signing} practice={judge.practice} />
          <footer className="mt-5 border-t-line border-ink pt-2 text-fine text-quiet">
            <strong className="text-ink">Own-use record. Not a certificate.</strong> Local codes, the club's inspector and the maker come first. Worked out by
            Toad Bell's core {record.core}; trial {judge.id}.
          </footer>
        </article>
      </main>
    </>
  )
}
