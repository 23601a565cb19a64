import type { LedgerOut } from "../api/ledger"
import { Dialog } from "../parts/Dialog"

type OtherTrialsProps = { ledger: LedgerOut; plan: (basis: string) => void; busy: boolean; close: () => void }

/** The kinds of trial that the vessel may be put to, each with what it proves. */
export function OtherTrials({ ledger, plan, busy, close }: OtherTrialsProps) {
  return (
    <Dialog title="Which kind of trial?" close={close}>
      <ul className="mb-3 space-y-2">
        {ledger.offers.map((offer, n) => (
          <li key={offer.basis}>
            <button
              className="btn h-auto min-h-14 w-full flex-col items-start gap-0.5 border-line border-ink py-2 text-left font-normal"
              autoFocus={n === 0}
              disabled={busy}
              onClick={() => plan(offer.basis)}
            >
              <strong>
                {offer.name}
                {ledger.plan === offer.basis && <span className="font-normal text-quiet"> · asked for next</span>}
              </strong>
              <span className="text-small text-quiet">{offer.proves}</span>
            </button>
          </li>
        ))}
      </ul>
      <button className="btn btn-ghost h-11" onClick={close}>
        Leave it <kbd className="key hidden sm:inline-grid">Esc</kbd>
      </button>
    </Dialog>
  )
}
