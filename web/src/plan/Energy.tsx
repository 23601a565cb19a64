import { wide } from "../parts/labels"
import type { Schema } from "../api/client"
import { Why } from "../parts/Lines"
import { digits, energy, show, type Habit } from "../parts/units"
import { useSize } from "../parts/useSize"

/** Stored energy, water against air: the reason for the whole job. And how far away to stand, to scale with a person. */
export function Energy({ answer, habit }: { answer: Schema["DeriveAnswer"]; habit: Habit }) {
  const { energy: e } = answer
  if (e.air_at_test == null || e.water == null) return null
  const part = Math.max(0.4, (100 * e.water) / e.air_at_test)
  return (
    <section>
      <h2 className="text-plain">If it let go at test pressure</h2>
      <div className="mt-1 grid grid-cols-2 gap-4 text-small text-quiet">
        <div>
          full of water
          <div className="figure text-plain text-ink">{energy(e.water)}</div>
          <div className="mt-1 h-2.5 bg-water" style={{ width: `${part}%`, minWidth: 2 }} />
        </div>
        <div>
          the same, full of air
          <div className="figure text-plain text-ink">{energy(e.air_at_test)}</div>
          <div className="mt-1 h-2.5 bg-vermilion" />
        </div>
      </div>
      <StandOff answer={answer} habit={habit} />
      <p className="text-small text-quiet">
        Under air nobody within {show(e.stand_off_air, "height", habit, 2)}; fragments go further.
        {e.steam_at_working != null &&
          ` Hot, at the wanted pressure, it stores ${energy(e.steam_at_working)}: a passed cold test does not make hot water tame.`}
      </p>
      <Why
        lines={answer.lines}
        figures={[
          "energy.water",
          "energy.trapped_air",
          "energy.air_at_test",
          "energy.air_at_working",
          "energy.steam_at_working",
          "energy.tnt_kg",
          "energy.stand_off_air",
          "compliance",
          "pressure_per_kelvin",
          "warming_to_ceiling",
        ]}
      />
    </section>
  )
}

const PERSON = 1.75
const SHADES = ["", "var(--brass-soft)", "color-mix(in srgb, var(--vermilion-soft) 60%, var(--brass-soft))", "var(--vermilion-soft)"]

function StandOff({ answer, habit }: { answer: Schema["DeriveAnswer"]; habit: Habit }) {
  const [ref, { width }] = useSize()
  const offs = answer.energy.stand_offs ?? []
  const far = answer.energy.stand_off
  if (!offs.length || far == null) return null
  const height = 66
  const scale = Math.min((width - 52) / far, 34 / PERSON)
  const x = (metres: number) => 14 + metres * scale
  const tall = Math.max(9, PERSON * scale)
  const ground = height - 17
  return (
    <div ref={ref} className="mt-1.5">
      {width > 0 && (
        <svg
          width={width}
          height={height}
          role="img"
          aria-label={`How far the blast under air reaches: ${offs.map((o) => `${o.effect} ${digits(o.distance, 2)} m`).join(", ")}`}
        >
          {offs.map((off, i) => i > 0 && <rect key={off.effect} x={x(0)} y={6} width={x(off.distance) - x(0)} height={ground - 6} fill={SHADES[i]} />)}
          <rect x={4} y={ground - 10} width="20" height="10" rx="5" fill="var(--color-paper)" stroke="var(--color-ink)" strokeWidth="2" />
          <line x1={0} x2={width} y1={ground} y2={ground} stroke="var(--color-ink)" strokeWidth="2" />
          {offs.slice(1).map((off) => (
            <text key={off.effect} x={x(off.distance)} y={height - 4} textAnchor="middle" fontSize="11.5" fill="var(--quiet)">
              {x(off.distance) - x(0) > 34 && x(off.distance) + wide(off.effect, 11.5) / 2 < x(far) - wide(show(far, "height", habit, 2), 12) ? off.effect : ""}
            </text>
          ))}
          <Person x={x(far)} ground={ground} tall={tall} />
          <text x={x(far)} y={height - 4} textAnchor={x(far) > width - 30 ? "end" : "middle"} fontSize="12" className="figure" fill="var(--color-ink)">
            {show(far, "height", habit, 2)}
          </text>
        </svg>
      )}
    </div>
  )
}

function Person({ x, ground, tall }: { x: number; ground: number; tall: number }) {
  const head = tall * 0.11
  return (
    <g stroke="var(--color-ink)" strokeWidth="2" fill="none" strokeLinecap="round">
      <circle cx={x} cy={ground - tall + head} r={head} fill="var(--color-ink)" />
      <path
        d={`M${x} ${ground - tall + 2 * head} V${ground - tall * 0.45} L${x - tall * 0.12} ${ground} M${x} ${ground - tall * 0.45} L${x + tall * 0.12} ${ground} M${x - tall * 0.16} ${ground - tall * 0.55} L${x} ${ground - tall * 0.72} L${x + tall * 0.16} ${ground - tall * 0.55}`}
      />
    </g>
  )
}
