import { Link, useNavigate, useParams } from "react-router"
import { useKeys } from "../app/keys"
import { Head } from "../app/Shell"
import { Loading } from "../app/Loading"
import { Failed } from "../app/states"
import { useTheme } from "../app/theme"
import type { Schema } from "../api/client"
import { useVesselLeaks } from "../api/leaks"
import { useMe } from "../api/me"
import { Alert } from "../parts/Alert"
import { OtherSides, Seen } from "../parts/elevation/Seen"
import { day, habitFor, ordinal, show, type Habit } from "../parts/units"
import { usePlanTrial, useVessel } from "./queries"

type Leak = Schema["VesselLeak"]

/** Every leak of a vessel, once, with what was tried on it. */
export function Leaks() {
  useTheme("daylight")
  const { id = "" } = useParams()
  const navigate = useNavigate()
  const [leaks, vessel, me, plan] = [useVesselLeaks(id), useVessel(id), useMe(), usePlanTrial()]
  const open = leaks.data?.some((leak) => leak.open) ?? false
  const go = (what: { low?: boolean; again?: boolean }) =>
    plan.mutate({ vessel: id, ...what }, { onSuccess: (made) => void navigate(`/trials/${made.id}/plan`) })
  useKeys([
    { key: "s", does: "look for it low and slow", act: () => go({ low: true }), disabled: plan.isPending || !open },
    { key: "n", does: "plan the next round", act: () => go({ again: true }), disabled: plan.isPending || !leaks.data?.length },
  ])
  if (leaks.error) return <Failed error={leaks.error} retry={() => void leaks.refetch()} />
  if (!leaks.data || !vessel.data || !me.data) return <Loading what="the leaks" />
  const habit = habitFor(me.data.units, leaks.data[0]?.pressure ?? null)
  const { shape } = vessel.data
  const pinned = [...leaks.data].reverse().map((leak) => ({ ...leak, found: "", times_tightened: 0 }))
  const order = shape.openings.map((one) => one.name)
  return (
    <>
      <Head />
      <main className="grid flex-1 content-start gap-x-10 overflow-auto px-4 py-4 sm:px-8 lg:grid-cols-[minmax(0,1fr)_420px]">
        <div className="lg:col-span-2">
          <p className="no-print text-small">
            <Link className="text-water-ink dotted" to={`/vessels/${id}`}>
              {vessel.data.name}
            </Link>
          </p>
          <h1 className="text-2xl">What was tried on the leaks of {vessel.data.name}</h1>
          {leaks.data.length > 0 && (
            <p className="no-print mt-2 flex flex-wrap gap-2">
              <button className="btn btn-outline h-10 border-line bg-paper" disabled={plan.isPending} onClick={() => go({ again: true })}>
                Plan the next round, from the stage below <kbd className="key">N</kbd>
              </button>
              {open && (
                <button className="btn btn-outline h-10 border-line bg-paper" disabled={plan.isPending} onClick={() => go({ low: true })}>
                  Look for it low and slow: a little air, and soap <kbd className="key">S</kbd>
                </button>
              )}
            </p>
          )}
          {plan.error && <Alert className="mt-2">{plan.error.message}</Alert>}
          {leaks.data.length === 0 && <p className="mt-3 text-lg">None was found on a real run.</p>}
        </div>
        <ol className="mt-3 min-w-0">
          {leaks.data.map((leak, i) => (
            <Story key={leak.id} leak={leak} number={leaks.data.length - i} habit={habit} />
          ))}
        </ol>
        {leaks.data.some((leak) => leak.pin) && shape.form !== "unknown" && (
          <aside aria-label="Where they were" className="mt-4 flex flex-col items-center gap-3 self-start">
            <Seen shape={shape} view="front" fit={[340, 260]} order={order} leaks={pinned} water={false} />
            <OtherSides shape={shape} order={order} leaks={pinned} fit={[170, 140]} />
            <p className="text-small text-quiet">Square: of the vessel itself. Round: of a fitting or of the rig. ✓: something was done about it.</p>
          </aside>
        )}
      </main>
    </>
  )
}

function Story({ leak, number, habit }: { leak: Leak; number: number; habit: Habit }) {
  const dry = leak.story.length > 1 && !leak.open && leak.dry
  return (
    <li className="mb-5 break-inside-avoid border-t-line border-ink pt-2" data-testid="leak-story">
      <h2 className="flex flex-wrap items-baseline gap-x-3 text-lead">
        <span>
          <span className={`figure ${leak.owner === "boundary" ? "text-vermilion" : "text-brass-ink"}`}>{number}</span> {leak.where}
        </span>
        <span className="text-small font-normal text-quiet">
          {leak.whose}
          {leak.pressure != null && `, first seen at ${show(leak.pressure, "pressure", habit, 3)}`}
        </span>
        <span className={`text-small ${leak.open ? "text-vermilion" : dry ? "text-moss" : "text-brass-ink"}`}>
          {leak.open ? "open" : dry ? "dry since" : "mended, not held since"}
        </span>
      </h2>
      {leak.cures && <p className="strip text-small">{leak.cures}</p>}
      <ul>
        {leak.story.map((one, i) => (
          <li key={i} className="grid grid-cols-1 gap-x-3 border-b border-rule py-1 text-note sm:grid-cols-[190px_1fr]">
            <Link className="text-quiet" to={`/trials/${one.id}/bench`}>
              <span className="dotted">{ordinal(one.trial)} trial</span>, {day(one.at.slice(0, 10))}
            </Link>
            <span>{one.says}</span>
          </li>
        ))}
      </ul>
    </li>
  )
}
