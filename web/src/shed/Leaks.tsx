import { Link, useNavigate, useParams } from "react-router"
import { useKeys } from "../app/keys"
import { Head } from "../app/Shell"
import { Loading } from "../app/Loading"
import { Failed } from "../app/states"
import { useTheme } from "../app/theme"
import { useVesselLeaks } from "../api/leaks"
import { useMe } from "../api/me"
import { Alert } from "../parts/Alert"
import { usePlanTrial, useVessel } from "./queries"
import { day, habitFor, ordinal, show } from "../parts/units"

/** Every leak of a vessel, once, with what was tried on it. */
export function Leaks() {
  useTheme("daylight")
  const { id = "" } = useParams()
  const navigate = useNavigate()
  const [leaks, vessel, me, plan] = [useVesselLeaks(id), useVessel(id), useMe(), usePlanTrial()]
  const low = () => plan.mutate({ vessel: id, low: true }, { onSuccess: (made) => void navigate(`/trials/${made.id}/plan`) })
  const again = () => plan.mutate({ vessel: id, again: true }, { onSuccess: (made) => void navigate(`/trials/${made.id}/plan`) })
  useKeys([
    { key: "s", does: "look for it low and slow", act: low, disabled: plan.isPending || !leaks.data?.some((leak) => leak.open) },
    { key: "n", does: "plan the next round", act: again, disabled: plan.isPending || !leaks.data?.length },
  ])
  if (leaks.error) return <Failed error={leaks.error} retry={() => void leaks.refetch()} />
  if (!leaks.data || !vessel.data || !me.data) return <Loading what="the leaks" />
  const habit = habitFor(me.data.units, leaks.data[0]?.pressure ?? null)
  return (
    <>
      <Head />
      <main className="flex-1 overflow-auto px-4 py-4 sm:px-8">
        <p className="no-print text-small">
          <Link className="text-water-ink dotted" to={`/vessels/${id}`}>
            {vessel.data.name}
          </Link>
        </p>
        <h1 className="text-2xl">What was tried on the leaks of {vessel.data.name}</h1>
        {leaks.data.length > 0 && (
          <p className="no-print mt-2 flex flex-wrap gap-2">
            <button className="btn btn-outline h-10 border-line bg-paper" disabled={plan.isPending} onClick={again}>
              Plan the next round, from the stage below <kbd className="key">N</kbd>
            </button>
            <button className="btn btn-outline h-10 border-line bg-paper" disabled={plan.isPending || !leaks.data.some((leak) => leak.open)} onClick={low}>
              Look for it low and slow: a little air, and soap <kbd className="key">S</kbd>
            </button>
          </p>
        )}
        {plan.error && <Alert className="mt-2">{plan.error.message}</Alert>}
        {leaks.data.length === 0 && <p className="mt-3 text-lg">None was ever found.</p>}
        <ol className="mt-3 max-w-3xl">
          {leaks.data.map((leak) => (
            <li key={leak.id} className="mb-4 break-inside-avoid border-t-line border-ink pt-2" data-testid="leak-story">
              <h2 className="text-lead">
                {leak.where}{" "}
                <span className={`text-small ${leak.open ? "text-vermilion" : "text-quiet"}`}>
                  {leak.whose}
                  {leak.pressure != null && `, first seen at ${show(leak.pressure, "pressure", habit, 3)}`}
                  {leak.open ? "; open" : ""}
                </span>
              </h2>
              {leak.cures && <p className="strip text-small">{leak.cures}</p>}
              <ul>
                {leak.story.map((one, i) => (
                  <li key={i} className="grid grid-cols-[170px_1fr] gap-3 border-b border-rule py-1 text-note">
                    <span className="text-quiet">
                      {ordinal(one.trial)} trial, {day(one.at.slice(0, 10))}
                    </span>
                    <span>{one.says}</span>
                  </li>
                ))}
              </ul>
              <Link className="no-print text-small text-water-ink dotted" to={`/trials/${leak.trial}/bench`}>
                to the {ordinal(leak.number)} trial
              </Link>
            </li>
          ))}
        </ol>
      </main>
    </>
  )
}
