import { useState } from "react"
import { useAttachments } from "../api/attachments"
import type { Schema } from "../api/client"
import { newId } from "../api/ids"
import { Alert } from "../parts/Alert"
import { day } from "../parts/units"

type Attachment = Schema["AttachmentOut"]

/** Pictures and papers of a vessel and its openings, and how to add to them. */
export function Pictures({ vessel, openings }: { vessel: string; openings: string[] }) {
  const { list, keep, hang } = useAttachments(vessel)
  const [adding, setAdding] = useState(false)
  const [down, setDown] = useState<Attachment | null>(null)
  const found = list.data ?? []
  return (
    <section aria-label="Pictures and papers">
      <div className="flex items-baseline gap-4">
        <h2 className="text-lg">Pictures and papers</h2>
        {list.data && found.length === 0 && <span className="text-note text-quiet">none yet: the plate, the inside, the maker's paper</span>}
        <button className="btn btn-outline btn-sm ml-auto min-h-9 border-line bg-ground" onClick={() => setAdding(!adding)} aria-expanded={adding}>
          {adding ? "Enough" : "Add one"}
        </button>
      </div>
      {adding && <Add openings={openings} keep={keep} done={() => setAdding(false)} />}
      {down && (
        <p role="status" className="strip mt-2 flex flex-wrap items-center gap-3">
          Taken down: {down.text || down.name || down.kind}.
          <button className="underline" onClick={() => hang.mutate({ id: down.id, down: false }, { onSuccess: () => setDown(null) })}>
            Hang it up again
          </button>
        </p>
      )}
      <ul className="mt-2 flex flex-wrap gap-3">
        {found.map((one) => (
          <li key={one.id} className="w-40 text-small">
            {one.kind === "photo" ? (
              <a href={`/api/photos/${one.id}`} target="_blank" rel="noreferrer">
                <img
                  src={`/api/photos/${one.id}?small=true`}
                  alt={one.text || "picture"}
                  className="h-28 w-40 border-line border-rule object-cover"
                  loading="lazy"
                />
              </a>
            ) : (
              <a
                href={`/api/papers/${one.id}`}
                className="grid h-28 w-40 place-items-center border-line border-rule bg-paper text-center font-semibold text-ink"
                download
              >
                PDF
                <span className="font-normal text-quiet">
                  {one.pages} {one.pages === 1 ? "page" : "pages"}
                </span>
              </a>
            )}
            <span className="block leading-tight">{one.text || one.name}</span>
            <span className="text-quiet">
              {one.opening && `${one.opening}, `}
              {one.trial && "from a trial, "}
              {day(one.at)}
              {!one.trial && (
                <button
                  className="ml-2 dotted"
                  onClick={() => hang.mutate({ id: one.id, down: true }, { onSuccess: () => setDown(one) })}
                  aria-label={`Take down ${one.text || one.name}`}
                >
                  take down
                </button>
              )}
            </span>
          </li>
        ))}
      </ul>
    </section>
  )
}

function Add({ openings, keep, done }: { openings: string[]; keep: ReturnType<typeof useAttachments>["keep"]; done: () => void }) {
  const [file, setFile] = useState<File | null>(null)
  const [text, setText] = useState("")
  const [opening, setOpening] = useState("")
  const [id] = useState(newId)
  return (
    <form
      className="mt-2 grid items-end gap-3 sm:grid-cols-[1fr_1fr_auto_auto]"
      onSubmit={(event) => {
        event.preventDefault()
        if (file) keep.mutate({ id, file, text, opening }, { onSuccess: done })
      }}
    >
      <label className="flex flex-col text-small text-quiet">
        JPEG, PNG, WebP, or a PDF
        <input
          type="file"
          accept="image/jpeg,image/png,image/webp,application/pdf"
          className="file-input h-11 w-full bg-paper text-ink"
          onChange={(event) => setFile(event.target.files?.[0] ?? null)}
        />
      </label>
      <label className="flex flex-col text-small text-quiet">
        What it shows
        <input className="input h-11 w-full bg-paper text-ink" value={text} onChange={(event) => setText(event.target.value)} maxLength={500} />
      </label>
      <label className="flex flex-col text-small text-quiet">
        Of
        <select className="select h-11 bg-paper text-ink" value={opening} onChange={(event) => setOpening(event.target.value)}>
          <option value="">the vessel</option>
          {openings.map((name) => (
            <option key={name}>{name}</option>
          ))}
        </select>
      </label>
      <button className="btn btn-primary h-11" disabled={!file || keep.isPending}>
        Keep it
      </button>
      <p className="text-small text-quiet sm:col-span-4">It is made anew: where it was taken, and with what, does not come along.</p>
      {keep.error && <Alert className="sm:col-span-4">{keep.error.message}</Alert>}
    </form>
  )
}
