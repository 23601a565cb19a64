import { Link } from "react-router"
import { useMe } from "../api/me"
import { type TrialRow } from "../api/trials"
import { DecidedTag } from "../parts/Tag"
import { day, ordinal, show, type Habit } from "../parts/units"
import type { VesselOut } from "./queries"

/** What was done with a vessel, the newest first. */
export function History({ vessel, trials, habit }: { vessel: string; trials: TrialRow[]; habit: Habit }) {
  const held = trials.filter((trial) => trial.verdict).sort((a, b) => b.number - a.number)
  return (
    <section>
      <div className="mb-1 flex items-baseline gap-4">
        <h2 className="text-lg">Logbook</h2>
        {trials.length > 0 && (
          <Link className="ml-auto text-note text-water-ink dotted" to={`/vessels/${vessel}/leaks`}>
            Its leaks, and what was tried on them
          </Link>
        )}
        {held.length > 1 && (
          <Link className="text-note text-water-ink dotted" to={`/records/compare?one=${held[1]!.id}&other=${held[0]!.id}`}>
            Is it getting worse? The last two holds compared
          </Link>
        )}
      </div>
      {trials.length === 0 && <p className="text-quiet">Nothing yet. Plan its first trial, and what is done is written here.</p>}
      <ul>
        {trials.map((trial) => (
          <li key={trial.id} className="flex flex-wrap items-center gap-x-5 border-t-line border-rule py-2">
            <span className="w-28 text-quiet">{day(trial.started_at ?? trial.planned_at)}</span>
            <Link className="text-water-ink dotted" to={roomOf(trial)}>
              {ordinal(trial.number)} trial
            </Link>
            <span>
              {trial.basis_name} {trial.test_pressure != null && `to ${show(trial.test_pressure, "pressure", habit)}`}
            </span>
            <span className="ml-auto">
              {trial.decision ? (
                <DecidedTag decision={trial.decision} habit={habit} practice={trial.practice} />
              ) : (
                <span className="text-quiet">{trial.practice ? `practice, ${trial.state}` : trial.state}</span>
              )}
            </span>
          </li>
        ))}
      </ul>
    </section>
  )
}

function roomOf(trial: TrialRow): string {
  if (trial.state === "planned") return `/trials/${trial.id}/plan`
  if (trial.state === "ready" || trial.state === "running" || trial.state === "held") return `/trials/${trial.id}/bench`
  return trial.decision ? `/records/${trial.id}` : `/trials/${trial.id}/judge`
}

/** What is known of a vessel. */
export function Facts({ vessel }: { vessel: VesselOut }) {
  const { data: me } = useMe()
  const notes = me?.kinds.find((kind) => kind.id === vessel.kind)?.notes
  return (
    <>
      <h2 className="mb-2 text-lg">What is known of it</h2>
      <dl>
        {vessel.facts.map((fact) => (
          <div key={fact.code} className="flex justify-between gap-4 border-b border-rule py-1.5">
            <dt className="text-quiet">{fact.name}</dt>
            <dd className="text-right font-semibold">{fact.value}</dd>
          </div>
        ))}
      </dl>
      {vessel.notes && <p className="mt-4 whitespace-pre-line">{vessel.notes}</p>}
      {notes && <p className="strip mt-4">{notes} Local codes, your club's inspector and the maker come first.</p>}
    </>
  )
}
