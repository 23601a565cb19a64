import { useTrialsOf } from "../api/trials"
import { Text } from "../parts/Fields"
import { HowAlike } from "../parts/HowAlike"
import { withAt } from "../parts/path"
import { leak, show, unitOf, span } from "../parts/units"
import type { FieldsProps } from "./Bases"
import { useField } from "./KitTab"
import { useBaselines, type Sheet } from "./queries"

const ACCEPTANCES = [
  ["max_drop", "a drop"],
  ["max_leak", "a leak rate"],
  ["no_visible_drop", "no drop seen"],
  ["baseline", "k × an earlier hold"],
] as const

type Said = "rig" | "place" | "known_tight"

/** How long to hold, how often to read, and what is accepted of it. */
export function HoldTab(props: FieldsProps & { vessel: string; number: number; trial: string; version: number }) {
  const { draft, change, disabled, habit, answer } = props
  const field = useField(props)
  const pressure = unitOf("pressure", habit)
  const acceptance = (draft["acceptance"] as Record<string, unknown> | undefined) ?? {}
  const school = ACCEPTANCES.find(([key]) => key in acceptance)?.[0] ?? "max_drop"
  const gas = answer.procedure === "gas-head"
  const starts: Record<string, Record<string, unknown>> = {
    max_drop: { max_drop: { metric: "0.2 bar", imperial: "3 psi", millibar: "2 mbar" }[habit], over: "30 min" },
    max_leak: { max_leak: gas ? "5 L/day" : "5 mL/h" },
    no_visible_drop: { no_visible_drop: true },
  }
  const { data: trials } = useTrialsOf(props.vessel)
  const earlier = (trials ?? []).filter((trial) => trial.number < props.number && trial.verdict)
  const { data: rigs } = useBaselines(props.trial, props.version)
  const first = rigs?.[0]?.trial ?? earlier[0]?.id
  if (first) starts["baseline"] = { baseline: first, times: 2 }
  const against = rigs?.find((one) => one.trial === String(acceptance["baseline"]))
  const own = earlier.filter((trial) => !rigs?.some((one) => one.trial === trial.id))
  const { hold } = answer
  const said = (key: Said) => draft[key] ?? ""
  const say = (key: Said) => (text: string) => change({ ...draft, [key]: text || undefined })
  if (answer.procedure === "relief" || answer.procedure === "steam" || answer.procedure === "burst") {
    return (
      <div className="grid grid-cols-2 gap-x-3 sm:grid-cols-4">
        {field("pause", "Pause at a stage", "time", "min")}
        <p className="col-span-3 self-center text-small text-quiet">
          {answer.procedure === "burst"
            ? "Nothing is shut in and held: it is raised till it fails."
            : answer.procedure === "relief"
              ? "Nothing is shut in and held: it is raised till the valve lifts, three times, and lifted by hand."
              : `Nothing is shut in and held: it is raised till the valve lifts, then full fire for ${span(hold.minimum)}, or till it stands.`}
        </p>
      </div>
    )
  }
  const tooLittle = hold.accepted_leak != null && hold.smallest_leak != null && hold.smallest_leak > hold.accepted_leak
  return (
    <div className="min-w-0">
      <div className="grid grid-cols-2 gap-x-3 sm:grid-cols-4">
        {field("hold.minimum", "Hold for", "time", "min")}
        {field("hold.every", "Read every", "time", "min", `${Math.round(hold.every)} s`)}
        {field("pause", "Pause at a stage", "time", "min")}
        <label className="block">
          <span className="mb-0.5 block text-small text-quiet">Accepted up to</span>
          <select
            className="select h-8 w-full bg-paper px-2 text-note"
            value={school}
            disabled={disabled}
            onChange={(event) => change({ ...draft, acceptance: starts[event.target.value] as Sheet["acceptance"] })}
          >
            {ACCEPTANCES.map(([key, name]) => (
              <option key={key} value={key} disabled={key === "baseline" && !first}>
                {name}
              </option>
            ))}
          </select>
        </label>
        {school === "max_drop" && field("acceptance.max_drop", "Drop at most", "pressure", pressure)}
        {school === "max_drop" && field("acceptance.over", "over", "time", "min")}
        {school === "baseline" && (
          <>
            <label className="block">
              <span className="mb-0.5 block text-small text-quiet">The hold known tight</span>
              <select
                className="select h-8 w-full bg-paper px-2 text-note"
                value={String(acceptance["baseline"])}
                disabled={disabled}
                onChange={(event) => change(withAt(draft, "acceptance.baseline", event.target.value))}
              >
                {rigs?.map((one) => (
                  <option key={one.trial} value={one.trial}>
                    {one.name}: {leak(one.leak, habit)}
                  </option>
                ))}
                {own.map((trial) => (
                  <option key={trial.id} value={trial.id}>
                    trial {trial.number}: {trial.verdict}
                  </option>
                ))}
              </select>
            </label>
            <label className="block">
              <span className="mb-0.5 block text-small text-quiet">Leak at most so many times its</span>
              <input
                type="number"
                className="input figure h-8 w-full bg-paper px-2 text-note"
                min={1}
                max={10}
                step={0.5}
                value={Number(acceptance["times"] ?? 2)}
                disabled={disabled}
                onChange={(event) => change({ ...draft, acceptance: { ...acceptance, times: Number(event.target.value) || 2 } as Sheet["acceptance"] })}
              />
            </label>
          </>
        )}
        {(school === "baseline" || answer.procedure === "baseline") && (
          <>
            <Text compact label="Rig" value={said("rig")} onChange={say("rig")} hint="as you call it" disabled={disabled} />
            <Text compact label="Place" value={said("place")} onChange={say("place")} hint="where it stands" disabled={disabled} />
          </>
        )}
        {answer.procedure === "baseline" && (
          <div className="col-span-2">
            <Text
              compact
              label="Known tight by"
              value={said("known_tight")}
              onChange={say("known_tight")}
              hint="needed: blanked and soaped, or passed on …"
              disabled={disabled}
            />
          </div>
        )}
        {school === "max_leak" && field("acceptance.max_leak", "Leak at most", "leak", gas ? "L/day" : "mL/h")}
      </div>
      {school === "baseline" && against && <HowAlike told={against} habit={habit} brief />}
      {hold.settle != null && (
        <p className="text-note">
          Blown up, it is left <span className="figure">{span(hold.settle)}</span> to settle; then it is shut in and read.
        </p>
      )}
      <p className="text-note">
        {hold.accepted_leak != null && (
          <>
            That is a leak of <span className="figure">{leak(hold.accepted_leak, habit, true, gas)}</span>.{" "}
          </>
        )}
        {hold.smallest_leak != null ? (
          <>
            In this hold this kit can tell <span className="figure">{leak(hold.smallest_leak, habit, true, gas)}</span>
            {tooLittle ? <strong className="text-brass-ink">: too little to judge by.</strong> : "."}
          </>
        ) : (
          <span className="text-quiet">Say the gauge's division, and what this hold can tell is worked out.</span>
        )}
      </p>
      {tooLittle && (
        <p className="mt-1 flex flex-wrap items-center gap-3 text-note">
          {hold.needed != null ? (
            <button
              className="btn btn-outline btn-sm border-line bg-ground min-h-9"
              disabled={disabled}
              onClick={() => change(withAt(draft, "hold.minimum", span(hold.needed!)))}
            >
              Hold {span(hold.needed)}, and it can be told
            </button>
          ) : (
            <span>No hold of two days would tell: read the water's temperature, take a finer gauge, or accept more.</span>
          )}
        </p>
      )}
      <p className="mt-1 text-small text-quiet">
        Shut in for the hold, then down to {show(hold.look_pressure, "pressure", habit)} for the close look, then release: the vent before the drain.
      </p>
    </div>
  )
}
