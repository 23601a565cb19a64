import type { Schema } from "../api/client"
import { Why } from "../parts/Lines"
import { energy, habitFor, show, type Habit, type Units } from "../parts/units"

/** What the core makes of the vessel, each figure with its lines. */
export function Figures({ answer, habit }: { answer: Schema["DeriveAnswer"] | null; habit: Units }) {
  if (!answer) return null
  const low = habitFor(habit, answer.working_pressure)
  const rows: [string, string, string[]][] = [
    ["Volume", show(answer.volume, "volume", habit), ["volume", "height"]],
    ["Full of water it weighs", show(answer.water.full_mass ?? answer.water.mass, "mass", habit), ["water.mass", "water.empty_mass", "water.full_mass"]],
    ["May work at", limit(answer.allowable, low), ["allowable"]],
    ["Ceiling of a test", limit(answer.ceiling, low), ["ceiling"]],
    answer.medium === "air" && low === "millibar"
      ? ["What its air can do at the test", energy(answer.energy.available), ["energy.available"]]
      : ["Stored at the wanted pressure, air", energy(answer.energy.air_at_working), ["energy.air_at_working"]],
    ["Stored at test, full of water", energy(answer.energy.water), ["energy.water", "energy.trapped_air"]],
  ]
  if (answer.energy.steam_at_working != null)
    rows.push(["Stored, hot at the wanted pressure", energy(answer.energy.steam_at_working), ["energy.steam_at_working"]])
  return (
    <div>
      <dl className="grid grid-cols-2 gap-x-6 gap-y-2 md:grid-cols-3">
        {rows.map(([name, value, figures]) => (
          <div key={name} className="border-l-bold border-water pl-3">
            <dt className="text-small text-quiet">{name}</dt>
            <dd>
              <span className="figure text-lead">{value}</span>
              <Why lines={answer.lines} figures={figures} />
            </dd>
          </div>
        ))}
      </dl>
      <div className="mt-3 space-y-2">
        {answer.stops.map((stop) => (
          <p key={stop.code} className="strip border-vermilion">
            <strong className="text-vermilion">Stop. </strong>
            {stop.says}
          </p>
        ))}
        {answer.cautions
          .filter((caution) => !OF_THE_DAY.has(caution.code))
          .map((caution) => (
            <p key={caution.code} className="strip">
              {caution.says}
            </p>
          ))}
      </div>
    </div>
  )
}

/** A limit; where a part of it is not known, what the known parts let it be at most. */
function limit({ pressure, known }: Schema["Limit"], habit: Habit): string {
  return known || pressure === null ? show(pressure, "pressure", habit) : `not known, at most ${show(pressure, "pressure", habit)}`
}

/** Cautions about the kit and the day of a test: they stand on the plan board. */
const OF_THE_DAY = new Set(["temperature-unknown", "no-thermometer", "gauge-not-calibrated", "no-strength-proof"])
