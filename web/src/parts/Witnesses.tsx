import type { Schema } from "../api/client"
import { digits, inUnit, unitOf, type Habit } from "./units"

const NAMES = { gauge: "gauge", valve: "valve", second: "2nd gauge", thermometer: "temperature" } as const
const [LEFT, ROW] = [100, 27]

type WitnessesProps = { witnesses: Schema["Witnesses"]; habit: Habit }

/** Gauge, valve and temperature on one line of pressures: what each says, between what it may be, and between what those that are believed agree. */
export function Witnesses(props: WitnessesProps) {
  return (
    <div data-testid="witnesses">
      <div className="hidden sm:block">
        <Bands {...props} wide={640} />
      </div>
      <div className="sm:hidden">
        <Bands {...props} wide={330} />
      </div>
    </div>
  )
}

function Bands({ witnesses, habit, wide }: WitnessesProps & { wide: number }) {
  const { seen, liar, low, high } = witnesses
  if (!seen.length) return null
  const shut = (one: Schema["Witness"]) => one.low < -1e5
  const ends = seen.flatMap((one) => [shut(one) ? one.high * 0.8 : Math.max(0, one.low), one.high])
  const [from, to] = [Math.max(0, Math.min(...ends) * 0.94), Math.max(...ends) * 1.04]
  const x = (pressure: number) => LEFT + ((Math.min(Math.max(pressure, from), to) - from) / (to - from)) * (wide - LEFT - 12)
  const tall = ROW * seen.length + 26
  const shown = (pressure: number) => digits(inUnit(pressure, "pressure", habit), 3)
  return (
    <svg viewBox={`0 0 ${wide} ${tall}`} className="w-full max-w-3xl" role="img" aria-label={witnesses.says}>
      {low != null && high != null && low < high && (
        <rect x={x(low)} width={Math.max(2, x(high) - x(low))} y={0} height={ROW * seen.length} fill="var(--color-water-soft)" />
      )}
      {seen.map((one, n) => {
        const wrong = one.who === liar
        const tone = wrong ? "var(--color-vermilion)" : "var(--color-ink)"
        const y = ROW * n + ROW / 2
        return (
          <g key={one.who} stroke={tone} fill={tone}>
            <text x={0} y={y + 5} stroke="none" fontSize="14" fontWeight={wrong ? 700 : 400}>
              {NAMES[one.who]}
              {wrong ? " ✕" : ""}
            </text>
            <line x1={shut(one) ? LEFT : x(one.low)} x2={x(one.high)} y1={y} y2={y} strokeWidth={7} strokeOpacity={0.28} />
            <line x1={x(one.high)} x2={x(one.high)} y1={y - 6} y2={y + 6} strokeWidth={1.5} />
            {!shut(one) && <line x1={x(one.low)} x2={x(one.low)} y1={y - 6} y2={y + 6} strokeWidth={1.5} />}
            {!shut(one) && <circle cx={x(one.pressure)} cy={y} r={4.5} stroke="none" />}
          </g>
        )
      })}
      <g fontSize="12.5" fill="var(--color-quiet)" textAnchor="middle">
        <line x1={LEFT} x2={wide - 12} y1={ROW * seen.length + 4} y2={ROW * seen.length + 4} stroke="var(--color-rule)" />
        {(wide > 400 ? [0, 1, 2, 3, 4] : [0, 2, 4]).map((n) => {
          const at = from + ((to - from) * n) / 4
          return (
            <text key={n} x={x(at)} y={tall - 4} className="figure" textAnchor={n === 4 ? "end" : n === 0 ? "start" : "middle"}>
              {shown(at)}
              {n === 4 ? ` ${unitOf("pressure", habit)}` : ""}
            </text>
          )
        })}
      </g>
    </svg>
  )
}
