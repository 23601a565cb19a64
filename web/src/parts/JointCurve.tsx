import type { Schema } from "../api/client"

const GRADES = ["dry", "weeps", "bubbles", "stream", "blown off"]
const SIGNS: Record<string, string> = { "1": "⅛", "2": "¼", "3": "⅜", "4": "½", "5": "⅝", "6": "¾", "7": "⅞" }

/** A part of a turn in eighths, as people say it. */
export function turned(turn: number): string {
  const whole = Math.floor(turn + 1e-9)
  const rest = Math.round((turn - whole) * 8)
  return `${whole || ""}${SIGNS[rest] ?? ""}` || "0"
}

/** Leak against turn: the worst that was seen at each, the band between the last wet and the first dry. */
export function JointCurve({ joint }: { joint: Schema["TighteningAnswer"] }) {
  const [left, top, right, bottom] = [74, 10, 318, 112]
  const most = Math.max(0.5, ...joint.steps.map((step) => step.turn))
  const x = (turn: number) => left + 8 + ((right - left - 16) * turn) / most
  const y = (shows: string) => bottom - ((bottom - top - 8) * GRADES.indexOf(shows)) / (GRADES.length - 1) - 4
  const line = joint.steps.map((step, n) => `${n ? "L" : "M"}${x(step.turn)} ${y(step.shows)}`).join(" ")
  return (
    <svg width={326} height={136} role="img" aria-label={joint.says} data-testid="joint-curve">
      {joint.least != null && (
        <rect
          x={x(joint.wet ?? 0)}
          y={top}
          width={Math.max(3, x(joint.least) - x(joint.wet ?? 0))}
          height={bottom - top}
          fill="var(--color-moss)"
          opacity={0.18}
        />
      )}
      {GRADES.map((word) => (
        <g key={word}>
          <line x1={left} x2={right} y1={y(word)} y2={y(word)} stroke="var(--color-rule)" />
          <text x={left - 6} y={y(word) + 4} textAnchor="end" fontSize="12" fill="var(--quiet)">
            {word}
          </text>
        </g>
      ))}
      <path d={line} fill="none" stroke="var(--water)" strokeWidth={2.5} />
      {joint.steps.map((step) => (
        <g key={step.turn}>
          <circle cx={x(step.turn)} cy={y(step.shows)} r={5} fill={step.dry ? "var(--color-moss)" : "var(--color-vermilion)"} />
          <text x={x(step.turn)} y={bottom + 18} textAnchor="middle" fontSize="13" className="figure" fill="var(--color-ink)">
            {turned(step.turn)}
          </text>
        </g>
      ))}
    </svg>
  )
}
