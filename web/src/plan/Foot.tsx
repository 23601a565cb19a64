import { useNavigate } from "react-router"
import { useThaw, useThrowAway, type Plan } from "./queries"
import type { Drafting } from "./useDraft"

type FootProps = {
  plan: Plan
  stops: number
  go: () => void
  ready: boolean
  saving: boolean
  error: string | null
  drafting: Drafting
  openings: { ready: boolean }[]
}

/** The way out of the board: what still stands in it, and the button. */
export function Foot({ plan, stops, go, ready, saving, error, drafting, openings }: FootProps) {
  const thaw = useThaw(plan.id)
  const navigate = useNavigate()
  const away = useThrowAway(plan.id)
  const throwAway = () =>
    away.mutate(undefined, { onSuccess: (gone) => void navigate(`/vessels/${plan.vessel_id}`, { state: { says: gone.says, plan: plan.sheet } }) })
  const open = plan.state === "planned"
  const waits = plan.missing.length + stops
  const unready = openings.filter((one) => !one.ready).length
  const link = "text-water-ink dotted"
  return (
    <div className="border-t-line border-rule px-4 py-2.5">
      {drafting.elsewhere && (
        <div role="alert" className="strip mb-2 border-vermilion text-small">
          This plan was changed in another window meanwhile. What you typed is still here.
          <span className="mt-1 flex gap-2">
            <button className="btn btn-outline btn-sm border-line bg-ground min-h-9" onClick={() => void drafting.elsewhere?.(true)}>
              Keep mine
            </button>
            <button className="btn btn-outline btn-sm border-line bg-ground min-h-9" onClick={() => void drafting.elsewhere?.(false)}>
              Take the other
            </button>
          </span>
        </div>
      )}
      <button className="btn btn-primary h-11 w-full" onClick={go} disabled={open && !ready}>
        {open ? "Freeze and go to the bench" : "To the bench"} <kbd className="key">⏎</kbd>
      </button>
      <p className="mt-1 text-center text-fine text-quiet" aria-live="polite">
        {(error ?? away.error) ? (
          <span className="text-vermilion">{error ?? away.error?.message}</span>
        ) : saving ? (
          "Keeping …"
        ) : open && waits ? (
          `${waits} ${waits === 1 ? "thing stands" : "things stand"} in the way, above.`
        ) : open && unready ? (
          `${unready} ${unready === 1 ? "opening" : "openings"} still to prepare. Not a certificate.`
        ) : (
          "Own-use record. Not a certificate."
        )}
      </p>
      <p className="mt-0.5 flex justify-center gap-4 text-small">
        <a className={link} href={`/api/trials/${plan.id}/sheet.json`}>
          Sheet as a file
        </a>
        {(open || plan.state === "ready") && (
          <button className={link} onClick={throwAway} disabled={away.isPending}>
            Throw it away
          </button>
        )}
        {plan.state === "ready" && (
          <button className={link} onClick={() => thaw.mutate()}>
            Open the plan again
          </button>
        )}
      </p>
    </div>
  )
}
