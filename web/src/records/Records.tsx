import { Link } from "react-router"
import { useMe } from "../api/me"
import { Head } from "../app/Shell"
import { Failed, Loading } from "../app/states"
import { useTheme } from "../app/theme"
import { Tag, type Fitness } from "../parts/Tag"
import { day, ordinal, show, type Habit } from "../parts/units"
import { useTrials, type TrialRow } from "../shed/queries"

/** The logbook: every trial that was started, the newest first. */
export function Records() {
  useTheme("daylight")
  const [trials, me] = [useTrials(), useMe()]
  if (trials.error) return <Failed error={trials.error} retry={() => void trials.refetch()} />
  if (!trials.data || !me.data) return <Loading what="the logbook" />
  const begun = trials.data.filter((trial) => trial.started_at).sort((a, b) => b.started_at!.localeCompare(a.started_at!))
  return (
    <>
      <Head />
      <main className="mx-auto w-full max-w-6xl flex-1 overflow-auto px-5 py-5">
        <h1 className="mb-3 text-3xl">Logbook</h1>
        {begun.length === 0 ? (
          <p className="text-lg text-quiet">
            No trial was started yet. A record begins when a plan is frozen and run.{" "}
            <Link className="underline" to="/">
              Back to the shed
            </Link>
          </p>
        ) : (
          <div className="overflow-x-auto">
            <table className="w-full text-left">
              <thead className="text-[13.5px] text-quiet">
                <tr className="border-b-[1.5px] border-ink">
                  <th className="py-2 pr-4 font-normal">Begun</th>
                  <th className="pr-4 font-normal">Vessel</th>
                  <th className="pr-4 font-normal">Trial</th>
                  <th className="pr-4 text-right font-normal">Test pressure</th>
                  <th className="pr-4 font-normal">Decision</th>
                  <th className="font-normal">Why</th>
                </tr>
              </thead>
              <tbody>
                {begun.map((trial) => (
                  <Row key={trial.id} trial={trial} habit={me.data.units} />
                ))}
              </tbody>
            </table>
          </div>
        )}
      </main>
    </>
  )
}

function Row({ trial, habit }: { trial: TrialRow; habit: Habit }) {
  const to = trial.state === "running" || trial.state === "held" ? `/trials/${trial.id}/bench` : `/records/${trial.id}`
  return (
    <tr className="border-b border-rule hover:bg-paper">
      <td className="py-2.5 pr-4 whitespace-nowrap">{day(trial.started_at)}</td>
      <td className="pr-4">
        <Link className="font-semibold underline decoration-rule decoration-2 underline-offset-3 hover:decoration-ink" to={to}>
          {trial.vessel}
        </Link>
        <span className="block text-[13px] text-quiet">{trial.kind}</span>
      </td>
      <td className="pr-4">
        {ordinal(trial.number)}
        <span className="block text-[13px] text-quiet">{trial.basis_name}</span>
      </td>
      <td className="figure pr-4 text-right whitespace-nowrap">{show(trial.test_pressure, "pressure", habit, 4)}</td>
      <td className="py-1.5 pr-4">
        {trial.decision ? (
          <Tag fitness={trial.decision.fitness as Fitness} pressure={trial.decision.pressure} habit={habit} />
        ) : (
          <span className="text-quiet">{trial.state === "aborted" ? "dumped, not decided" : trial.state}</span>
        )}
      </td>
      <td className="max-w-72 text-[14px] text-quiet">{trial.decision?.reason}</td>
    </tr>
  )
}
