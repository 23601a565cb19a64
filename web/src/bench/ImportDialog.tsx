import { useMutation } from "@tanstack/react-query"
import { useState } from "react"
import { api, asked, type Schema } from "../api/client"
import { Alert } from "../parts/Alert"
import { Dialog } from "../parts/Dialog"
import { clock, digits, type Habit, inUnit, moment, timeOfDay, unitOf } from "../parts/units"
import type { BenchState, Hands } from "./queries"

type Preview = Schema["PreviewOut"]
type Recipe = Schema["Recipe"]
type Column = Schema["Column"]

const ROLES: [Column["role"], string][] = [
  ["time", "time"],
  ["date", "date"],
  ["elapsed", "seconds since its start"],
  ["pressure", "pressure"],
  ["temperature", "water temperature"],
  ["strokes", "strokes so far"],
]
const UNITS: Partial<Record<Column["role"], string[]>> = {
  pressure: ["bar", "mbar", "kPa", "MPa", "psi"],
  temperature: ["degC", "degF", "K"],
  elapsed: ["s", "ms", "min", "h"],
}
const FORMATS: [string, string][] = [
  ["iso", "2026-11-24T10:00:00"],
  ["%d.%m.%Y %H:%M:%S", "24.11.2026 10:00:00, day first"],
  ["%d/%m/%Y %H:%M:%S", "24/11/2026 10:00:00, day first"],
  ["%m/%d/%Y %H:%M:%S", "11/24/2026 10:00:00, month first"],
  ["%m/%d/%Y %I:%M:%S %p", "11/24/2026 10:00:00 AM, month first"],
  ["%d-%m-%Y %H:%M:%S", "24-11-2026 10:00:00, day first"],
]

/** A logger's file taken in: what was recognised, its first rows, what is left out, and each of it to be put right. */
export function ImportDialog({ bench, hands, habit, close }: { bench: BenchState; hands: Hands; habit: Habit; close: () => void }) {
  const [file, setFile] = useState<{ name: string; text: string } | null>(null)
  const zone = Intl.DateTimeFormat().resolvedOptions().timeZone
  const trial = { params: { path: { trial_id: bench.id } } }
  const look = useMutation({
    mutationFn: (ask: { text: string; recipe: Recipe | null }) =>
      asked(api.POST("/api/trials/{trial_id}/imports/preview", { ...trial, body: { ...ask, zone } as Schema["PreviewIn"] })),
  })
  const take = useMutation({
    mutationFn: (recipe: Recipe) =>
      asked(api.POST("/api/trials/{trial_id}/imports", { ...trial, body: { name: file!.name, text: file!.text, recipe } as unknown as Schema["ImportIn"] })),
    onSuccess: (state) => {
      hands.keep(state)
      close()
    },
  })
  const seen = look.data
  const change = (recipe: Recipe) => file && look.mutate({ text: file.text, recipe })
  const problem = look.error ?? take.error
  return (
    <Dialog title="Take in a logger's file" close={close} wide>
      <label className="block text-quiet">
        A CSV file, with a row for each reading
        <input
          type="file"
          accept=".csv,.txt,.tsv,text/csv,text/plain"
          className="file-input h-12 w-full bg-ground text-ink"
          onChange={async (event) => {
            const chosen = event.target.files?.[0]
            if (!chosen) return
            const text = await chosen.text()
            setFile({ name: chosen.name, text })
            look.mutate({ text, recipe: null })
          }}
        />
      </label>
      {problem && <Alert className="mt-3">{problem.message} Nothing was stored.</Alert>}
      {seen && (
        <>
          <RecipeFields seen={seen} change={change} />
          {seen.missing.length > 0 ? (
            <ul className="strip mt-3 border-brass">
              {seen.missing.map((says) => (
                <li key={says}>{says}</li>
              ))}
            </ul>
          ) : (
            <Rows seen={seen} habit={habit} />
          )}
        </>
      )}
      <div className="mt-4 flex justify-end gap-3">
        <button className="btn btn-ghost h-14" onClick={close}>
          Leave it <kbd className="key hidden sm:inline-grid">Esc</kbd>
        </button>
        <button
          className="btn btn-primary h-14 px-6"
          disabled={!seen || seen.missing.length > 0 || seen.rows_in_all === 0 || take.isPending}
          onClick={() => seen && take.mutate(seen.recipe)}
        >
          {seen && seen.missing.length === 0 ? `Take in ${seen.rows_in_all} readings` : "Take it in"}
        </button>
      </div>
    </Dialog>
  )
}

function RecipeFields({ seen, change }: { seen: Preview; change: (recipe: Recipe) => void }) {
  const { recipe } = seen
  const put = (index: number, role: string, unit?: string) => {
    const others = recipe.columns.filter((column) => column.index !== index && column.role !== role)
    const was = recipe.columns.find((column) => column.index === index)
    const columns = role === "" ? others : [...others, { index, role: role as Column["role"], unit: unit ?? (was?.role === role ? was.unit : null) ?? null }]
    const counts = columns.some((column) => column.role === "elapsed")
    change({ ...recipe, columns, time_format: counts ? "elapsed" : recipe.time_format === "elapsed" ? null : recipe.time_format })
  }
  const timed = recipe.columns.some((column) => column.role === "time")
  return (
    <div className="mt-3">
      <div className="grid gap-2 sm:grid-cols-2 lg:grid-cols-3">
        {seen.titles.map((title, index) => {
          const column = recipe.columns.find((one) => one.index === index)
          const units = column && UNITS[column.role]
          return (
            <div key={index} className="border-line border-rule px-2 py-1.5">
              <p className="truncate text-note">{title || `column ${index + 1}`}</p>
              <div className="flex gap-2">
                <select
                  className="select select-sm min-w-0 flex-1 bg-ground"
                  aria-label={`“${title}” holds`}
                  value={column?.role ?? ""}
                  onChange={(event) => put(index, event.target.value)}
                >
                  <option value="">left out</option>
                  {ROLES.map(([role, name]) => (
                    <option key={role} value={role}>
                      {name}
                    </option>
                  ))}
                </select>
                {units && (
                  <select
                    className="select select-sm w-24 bg-ground"
                    aria-label={`“${title}” is in`}
                    value={column.unit ?? ""}
                    onChange={(event) => put(index, column.role, event.target.value)}
                  >
                    <option value="">unit?</option>
                    {[...new Set([...units, ...(column.unit ? [column.unit] : [])])].map((unit) => (
                      <option key={unit}>{unit}</option>
                    ))}
                  </select>
                )}
              </div>
            </div>
          )
        })}
      </div>
      {timed && (
        <div className="mt-2 grid gap-2 sm:grid-cols-2">
          <label className="text-note text-quiet">
            Times are written like
            <select
              className="select select-sm w-full bg-ground text-ink"
              value={recipe.time_format ?? ""}
              onChange={(event) => change({ ...recipe, time_format: event.target.value || null })}
            >
              <option value="">choose …</option>
              {[
                ...FORMATS,
                ...(recipe.time_format && !FORMATS.some(([form]) => form === recipe.time_format) ? [[recipe.time_format, "as in the file"]] : []),
              ].map(([form, like]) => (
                <option key={form} value={form}>
                  {like}
                </option>
              ))}
            </select>
          </label>
          <label className="text-note text-quiet">
            In the time of
            <input
              className="input input-sm w-full bg-ground text-ink"
              key={recipe.zone}
              defaultValue={recipe.zone}
              onBlur={(event) => event.target.value !== recipe.zone && change({ ...recipe, zone: event.target.value.trim() })}
            />
          </label>
        </div>
      )}
    </div>
  )
}

function Rows({ seen, habit }: { seen: Preview; habit: Habit }) {
  return (
    <div className="mt-3 grid gap-4 md:grid-cols-2">
      <div>
        <p>
          <span className="figure">{seen.rows_in_all}</span> readings over <span className="figure">{clock(seen.seconds ?? 0)}</span>
          {seen.first && <>, from {moment(seen.first)}</>}
        </p>
        <table className="table-sm mt-1 table">
          <tbody>
            {seen.rows.map((row) => (
              <tr key={row.line}>
                <td className="text-quiet">line {row.line}</td>
                <td className="figure">{row.at ? timeOfDay(row.at) : clock(row.elapsed ?? 0)}</td>
                <td className="figure">
                  {digits(inUnit(row.pressure, "pressure", habit), 5)} {unitOf("pressure", habit)}
                </td>
                <td className="figure">
                  {row.temperature == null ? "" : `${inUnit(row.temperature, "temperature", habit).toFixed(2)} ${unitOf("temperature", habit)}`}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <div>
        <p>{seen.bad_in_all === 0 ? "Every row can be read." : `${seen.bad_in_all} ${seen.bad_in_all === 1 ? "row is" : "rows are"} left out:`}</p>
        <ul className="mt-1 max-h-48 overflow-auto text-note">
          {seen.bad.map((bad) => (
            <li key={bad.line} className="border-b border-rule py-1">
              <span className="text-quiet">line {bad.line}:</span> {bad.says}
            </li>
          ))}
        </ul>
      </div>
    </div>
  )
}
