import { Link, useParams } from "react-router"
import { Head } from "../app/Shell"
import { Loading } from "../app/Loading"
import { Failed } from "../app/states"
import { useTheme } from "../app/theme"
import { useVesselLeaks } from "../api/leaks"
import { useMe } from "../api/me"
import { useVessel } from "./queries"
import { day, habitFor, ordinal, show } from "../parts/units"

/** Every leak of a vessel, once, with what was tried on it. */
export function Leaks() {
  useTheme("daylight")
  const { id = "" } = useParams()
  const [leaks, vessel, me] = [useVesselLeaks(id), useVessel(id), useMe()]
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
