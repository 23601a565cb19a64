import { Link, useParams } from "react-router"
import { useMe } from "../api/me"
import { Loading } from "../app/Loading"
import { Failed } from "../app/states"
import { useTheme } from "../app/theme"
import { TrialHead } from "../app/TrialHead"
import { Elevation } from "../parts/elevation/Elevation"
import { extent } from "../parts/elevation/frame"
import { Openings } from "../parts/elevation/Openings"
import { habitFor, show } from "../parts/units"
import { usePlan } from "./queries"

/** What to bring to the bench, opening by opening: one sheet to print and tick. */
export function Gather() {
  useTheme("daylight")
  const { id = "" } = useParams()
  const [plan, me] = [usePlan(id), useMe()]
  if (plan.error) return <Failed error={plan.error} retry={() => void plan.refetch()} />
  if (!plan.data || !me.data) return <Loading what="the list" />
  const { answer, shape } = plan.data
  const habit = habitFor(me.data.units, answer.test_pressure)
  const { wide, tall } = extent(shape)
  const gathered = answer.gather ?? []
  const openings = answer.openings ?? []
  return (
    <>
      <TrialHead {...plan.data} note="what to gather" />
      <main className="mx-auto w-full max-w-[860px] flex-1 overflow-auto px-5 py-4 print:overflow-visible">
        <div className="flex items-start justify-between gap-6">
          <div>
            <h2 className="text-2xl">To gather for {plan.data.vessel}</h2>
            <p className="text-quiet">
              Test at {show(answer.gauge_target, "pressure", habit, 4)} on the gauge; whatever stays on must bear{" "}
              {show(answer.target_band[1], "pressure", habit, 4)}.
            </p>
          </div>
          <button className="btn btn-primary no-print" onClick={() => window.print()}>
            Print
          </button>
        </div>
        <div className="my-3 grid place-items-center">
          <Elevation
            shape={shape}
            scale={Math.min(420 / wide, 150 / tall)}
            habit={habit}
            water
            room={24}
            over={(px) => <Openings shape={shape} px={px} order={openings.map((o) => o.name)} />}
          />
        </div>
        {gathered.length === 0 ? (
          <p>
            Nothing is decided about the openings yet.{" "}
            <Link className="underline" to={`/trials/${id}/plan`}>
              Say what to do with each
            </Link>
            , and the list writes itself.
          </p>
        ) : (
          <>
            <ul className="grid gap-x-8 sm:grid-cols-2">
              {gathered.map((item, i) => {
                const number = openings.findIndex((o) => o.name === item.use) + 1
                return (
                  <li key={i} className="flex min-h-10 items-center gap-3 border-b border-rule py-1">
                    <span className="h-4 w-4 shrink-0 border-line border-ink" aria-hidden="true" />
                    <span>
                      {item.what}
                      <span className="block text-fine text-quiet">{number ? `${number}: ${item.use}` : `for ${item.use}`}</span>
                    </span>
                  </li>
                )
              })}
            </ul>
            <h3 className="mt-4 text-lg">At the vessel</h3>
            <ul className="text-note">
              {openings.map((o, i) => (
                <li key={o.name} className="flex min-h-9 items-center gap-3 border-b border-rule">
                  <span className="h-4 w-4 shrink-0 border-line border-ink" aria-hidden="true" />
                  <span className="w-6 font-semibold">{i + 1}</span> {o.name}: {o.do} <span className="ml-auto text-quiet">undone after ☐</span>
                </li>
              ))}
            </ul>
          </>
        )}
        <p className="mt-4 text-small text-quiet">Local codes, your club's inspector and the maker come first. Own-use record. Not a certificate.</p>
      </main>
    </>
  )
}
