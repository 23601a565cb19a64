import { Link } from "react-router"
import { useMe } from "../api/me"
import { at, textAt, withAt } from "../parts/path"
import { digits, show } from "../parts/units"
import type { FieldsProps } from "./Bases"
import { Sections } from "./Sections"

type OpeningsTabProps = FieldsProps & { vessel: string; trial: string; selected: string | null; select: (name: string) => void }

/** What to do with each opening, ticked as it is done; what each has to hold back. */
export function OpeningsTab(props: OpeningsTabProps) {
  const { draft, change, habit, disabled, answer, vessel, trial, selected, select } = props
  const { data: me } = useMe()
  const force = (name: string) => answer.end_forces.find((f) => f.name === name && !f.closure)?.force
  if (answer.openings.length === 0) {
    return (
      <div className="text-note">
        <p className="mb-2">
          No openings are on the drawing yet. Put them where they are, and the vent, the gauge's height and the air that would stay are found.
        </p>
        <Link className="btn btn-outline btn-sm border-line bg-ground min-h-9" to={`/vessels/${vessel}`}>
          To the vessel, to place them
        </Link>
        <Sections {...props} />
      </div>
    )
  }
  const head = answer.gauge_head ?? 0
  const done = answer.openings.filter((o) => o.ready).length
  return (
    <div className="min-w-0">
      <table className="w-full text-note">
        <caption className="sr-only">Openings and what to do with each</caption>
        <tbody>
          {answer.openings.map((opening, index) => {
            const path = `fittings.${index}`
            const thrown = force(opening.name)
            return (
              <tr key={opening.name} className={`border-b border-rule ${opening.name === selected ? "bg-water-soft/50" : ""}`}>
                <td className="w-7">
                  <button
                    className="grid h-[22px] w-[22px] place-items-center rounded-full bg-ink text-fine font-bold text-paper"
                    style={opening.choice === "vent" || opening.choice === "tee" ? { background: "var(--water)" } : undefined}
                    onClick={() => select(opening.name)}
                    aria-label={`${index + 1}: show ${opening.name} on the drawing`}
                  >
                    {index + 1}
                  </button>
                </td>
                <td className="w-[128px] min-w-[84px] py-0.5 pr-2 leading-tight break-words">
                  <span className="block">{opening.name}</span>
                  <span className="block text-fine text-quiet">{textAt(draft, `${path}.thread`)}</span>
                </td>
                <td>
                  <select
                    className="h-8 w-[132px] rounded-[4px] border-line border-rule bg-paper px-1 text-small disabled:opacity-80"
                    aria-label={`What to do with ${opening.name}`}
                    value={textAt(draft, `${path}.for_test`)}
                    disabled={disabled}
                    onChange={(event) => change(withAt(draft, `${path}.for_test`, event.target.value || undefined))}
                  >
                    <option value="">{`? ${opening.do}`}</option>
                    {(me?.for_test ?? []).map((choice) => (
                      <option key={choice.id} value={choice.id}>
                        {choice.name}
                      </option>
                    ))}
                  </select>
                </td>
                <td className="hidden pr-1 text-right text-small whitespace-nowrap text-quiet sm:table-cell">
                  {thrown != null && (
                    <span title="thrown out with this force at the test pressure">
                      <span className="figure">{digits(thrown, 2)} N</span>
                    </span>
                  )}
                </td>
                <td className="figure pr-1 text-right text-small whitespace-nowrap">
                  {textAt(draft, `${path}.rating`) || <span className="font-normal text-quiet">no rating</span>}
                </td>
                <td className="w-7 text-right align-middle">
                  <input
                    type="checkbox"
                    className="checkbox checkbox-sm"
                    aria-label={`${opening.name} is ready`}
                    checked={at(draft, `${path}.ready`) === true}
                    disabled={disabled}
                    onChange={(event) => change(withAt(draft, `${path}.ready`, event.target.checked || undefined))}
                  />
                </td>
              </tr>
            )
          })}
        </tbody>
      </table>
      <p className="mt-1.5 text-small text-quiet">
        {done} of {answer.openings.length} ready.{" "}
        {answer.vent &&
          `${answer.vent.name} ${answer.vent.air < 1e-6 ? "is the highest point: no air stays." : `vents; ${answer.vent.air >= 1e-4 ? show(answer.vent.air, "volume", habit, 2) : show(answer.vent.air, "small", habit, 2)} of air stays.`}`}{" "}
        {Math.abs(head) > 100 &&
          `The gauge hangs ${head > 0 ? "below" : "above"} the highest point: it must read ${show(Math.abs(head), "pressure", Math.abs(head) < 1e4 && habit === "metric" ? "millibar" : habit, 2)} ${head > 0 ? "more" : "less"}. `}
        <Link className="text-water-ink dotted" to={`/trials/${trial}/gather`}>
          What to gather
        </Link>
      </p>
      <Sections {...props} />
    </div>
  )
}
