type DialProps = {
  /** Full scale and division, in the unit written on the dial. */
  range: number
  division: number | null
  unit: string
  size?: number
  /** Where a mark stands on it, in the same unit: the test pressure. */
  mark?: number | null
  /** What the needle shows. */
  needle?: number
}

const SWEEP = 270

/** A gauge as its own dial: its figures and divisions, and the test pressure marked on it. */
export function Dial({ range, division, unit, size = 120, mark, needle = 0 }: DialProps) {
  const [c, r] = [size / 2, size / 2 - 4]
  const angle = (value: number) => ((-90 - SWEEP / 2 + (SWEEP * value) / range) * Math.PI) / 180
  const point = (value: number, radius: number) => [c + radius * Math.cos(angle(value)), c + radius * Math.sin(angle(value))] as const
  const major = niceStep(range, 5)
  const fine = division && range / division <= 120 ? division : major / 5
  const ticks = Array.from({ length: Math.floor(range / fine + 1e-9) + 1 }, (_, i) => i * fine)
  const figures = Array.from({ length: Math.floor(range / major + 1e-9) + 1 }, (_, i) => i * major)
  const tip = point(needle || -0.025 * range, r - 16)
  return (
    <svg
      width={size}
      height={size}
      className="shrink-0"
      viewBox={`0 0 ${size} ${size}`}
      role="img"
      aria-label={`Dial to ${range} ${unit}${division ? `, divided in ${division}` : ""}${mark != null ? `, test at ${Number(mark.toPrecision(3))}` : ""}`}
    >
      <circle cx={c} cy={c} r={r} fill="var(--color-paper)" stroke="var(--color-ink)" strokeWidth="2" />
      {ticks.map((tick) => {
        const [[x1, y1], [x2, y2]] = [point(tick, r - 3), point(tick, r - (Math.abs(tick / major - Math.round(tick / major)) < 1e-6 ? 11 : 7))]
        return <line key={tick} x1={x1} y1={y1} x2={x2} y2={y2} stroke="var(--color-ink)" strokeWidth="1" />
      })}
      {size >= 100 &&
        figures.map((figure) => {
          const [x, y] = point(figure, r - 20)
          return (
            <text key={figure} x={x} y={y + 3.5} textAnchor="middle" fontSize={size * 0.085} className="figure" fill="var(--color-ink)">
              {Number(figure.toPrecision(3))}
            </text>
          )
        })}
      {mark != null && mark <= range && <Mark at={point(mark, r + 1)} to={point(mark, r - 14)} />}
      <line x1={c} y1={c} x2={tip[0]} y2={tip[1]} stroke="var(--color-ink)" strokeWidth="2.4" strokeLinecap="round" />
      <circle cx={c} cy={c} r="4" fill="var(--color-ink)" />
      <text x={c} y={c + r * 0.56} textAnchor="middle" fontSize={size * 0.1} fill="var(--quiet)">
        {unit}
      </text>
    </svg>
  )
}

function Mark({ at, to }: { at: readonly [number, number]; to: readonly [number, number] }) {
  return <line x1={at[0]} y1={at[1]} x2={to[0]} y2={to[1]} stroke="var(--brass)" strokeWidth="5" />
}

function niceStep(range: number, parts: number): number {
  const rough = range / parts
  const power = 10 ** Math.floor(Math.log10(rough))
  return [1, 2, 2.5, 5, 10].map((n) => n * power).find((step) => step >= rough - 1e-9) ?? rough
}
