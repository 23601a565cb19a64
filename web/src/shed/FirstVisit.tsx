import { Link } from "react-router"
import { Toad } from "../app/Toad"

/** An empty shed: what to do first. */
export function FirstVisit() {
  return (
    <main className="grid flex-1 place-items-center p-6">
      <div className="max-w-2xl">
        <div className="mb-4 flex items-end gap-5">
          <Toad size={84} />
          <svg width="250" height="90" aria-hidden="true" fill="none" stroke="var(--color-rule)" strokeWidth="2">
            <path d="M40 20 H190 A22 26 0 0 1 190 72 H40 A22 26 0 0 1 40 20 Z" strokeDasharray="6 5" />
            <path d="M0 88 H250" stroke="var(--color-ink)" />
            <path d="M70 72 L64 88 M160 72 L166 88" />
          </svg>
        </div>
        <h1 className="mb-3 text-4xl">Hang up your first vessel</h1>
        <p className="mb-2 text-lg">
          Say what it is, how big, how thick, and what pressure you want to use it at. Toad Bell works out a test pressure and says why, leads you up to it in
          stages, watches the hold, and keeps the record.
        </p>
        <p className="mb-6 text-quiet">
          You need a tape, the plate, a gauge and a hand pump. Water, never air. Local codes, your club's inspector and the maker come first.
        </p>
        <p className="flex flex-wrap items-center gap-4">
          <Link to="/vessels/new" className="btn btn-primary btn-lg">
            Hang up a vessel <kbd className="key">N</kbd>
          </Link>
          <span className="text-quiet">
            To look round first: <code className="font-mono">make demo</code> starts a made-up workshop. Records from another machine?{" "}
            <Link className="underline" to="/records/keep">
              Bring them back
            </Link>
            .
          </span>
        </p>
      </div>
    </main>
  )
}
