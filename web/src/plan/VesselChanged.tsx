import { useFollow, type Plan } from "./queries"

/** What of the vessel was changed since it was taken into this plan: to be taken over, or left. */
export function VesselChanged({ plan }: { plan: Plan }) {
  const follow = useFollow(plan.id)
  if (plan.vessel_changes.length === 0) return null
  const answer = (take: boolean) => follow.mutate({ take, version: plan.version })
  return (
    <section className="strip mx-4 mt-2 border-brass text-small" aria-label="The vessel was changed" data-testid="vessel-changed">
      The vessel was changed since this plan was begun:
      <ul className="columns-1 gap-x-6 sm:columns-2">
        {plan.vessel_changes.map((line) => (
          <li key={line} className="break-inside-avoid">
            {line}
          </li>
        ))}
      </ul>
      <div className="mt-1 flex flex-wrap items-center gap-2">
        <button className="btn btn-primary btn-sm min-h-9" disabled={follow.isPending} onClick={() => answer(true)}>
          Take it into the plan
        </button>
        <button className="btn btn-sm min-h-9 border-line border-ink" disabled={follow.isPending} onClick={() => answer(false)}>
          Leave the plan as it is
        </button>
        {follow.error && <span className="text-vermilion">{follow.error.message}</span>}
      </div>
    </section>
  )
}
