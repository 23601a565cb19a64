import { scaleLog } from "d3-scale"
import type { Schema } from "../api/client"
import { wide } from "./labels"
import { digits, inUnit, show, type Habit, span } from "./units"
import { useSize } from "./useSize"

type DetectCurveProps = { hold: Schema["HoldAnswer"]; habit: Habit; choose?: (seconds: number) => void }

/** The smallest leak that the kit can tell against the length of the hold; the chosen hold and the limit on it. */
export function DetectCurve({ hold, habit, choose }: DetectCurveProps) {
  const [ref, { width }] = useSize()
  const height = 104
  const points = hold.detect
  if (points.length < 2) return null
  const low = hold.low?.detect ?? []
  const leaks = [...[...points, ...low].map((p) => p.leak), ...(hold.accepted_leak ? [hold.accepted_leak] : [])].map((leak) => inUnit(leak, "leak", habit))
  const longest = Math.max(...leaks.map((leak) => wide(digits(leak, 2), 12)))
  const [left, right, top, bottom] = [Math.max(46, longest + 10), width - 10, 12, height - 22]
  const x = scaleLog()
    .domain([points[0]!.time / 60, points.at(-1)!.time / 60])
    .range([left, right])
    .clamp(true)
  const y = scaleLog()
    .domain([Math.min(...leaks) * 0.7, Math.max(...leaks) * 1.5])
    .range([bottom, top])
    .clamp(true)
  const at = (leak: number) => y(inUnit(leak, "leak", habit))
  const ticks = [...new Set([Math.min(...leaks), Math.max(...leaks)])]
  return (
    <div ref={ref}>
      {width > 0 && (
        <svg
          width={width}
          height={height}
          role="img"
          aria-label={`Smallest leak that can be told: ${points.map((p) => `${show(p.leak, "leak", habit, 2)} in ${span(p.time)}`).join(", ")}`}
        >
          {ticks.map((tick) => (
            <text key={tick} x={left - 6} y={y(tick) + 4} textAnchor="end" fontSize="12" className="figure" fill="var(--quiet)">
              {digits(tick, 2)}
            </text>
          ))}
          {points.map((p) => (
            <g key={p.time}>
              <line x1={x(p.time / 60)} x2={x(p.time / 60)} y1={top} y2={bottom} stroke="var(--color-rule)" />
              <text x={x(p.time / 60)} y={bottom + 17} textAnchor={p === points.at(-1) ? "end" : "middle"} fontSize="12" className="figure" fill="var(--quiet)">
                {p.time >= 7200 ? `${p.time / 3600} h` : p === points[0] ? `${p.time / 60} min` : p.time / 60}
              </text>
              {choose && (
                <rect
                  x={x(p.time / 60) - 16}
                  y={top}
                  width="32"
                  height={bottom - top + 20}
                  fill="transparent"
                  className="cursor-pointer"
                  onClick={() => choose(p.time)}
                >
                  <title>Hold for {span(p.time)}</title>
                </rect>
              )}
            </g>
          ))}
          {hold.accepted_leak != null && (
            <>
              <line
                x1={left}
                x2={right}
                y1={at(hold.accepted_leak)}
                y2={at(hold.accepted_leak)}
                stroke="var(--color-ink)"
                strokeWidth="1.5"
                strokeDasharray="5 4"
              />
              <text x={right} y={at(hold.accepted_leak) - 5} textAnchor="end" fontSize="12" fill="var(--color-ink)">
                limit {show(hold.accepted_leak, "leak", habit, 2)}
              </text>
            </>
          )}
          <path
            d={points.map((p, i) => `${i ? "L" : "M"}${x(p.time / 60)} ${at(p.leak)}`).join(" ")}
            fill="none"
            stroke="var(--water)"
            strokeWidth="2.6"
            pointerEvents="none"
          />
          {low.length > 1 && (
            <path
              d={low.map((p, i) => `${i ? "L" : "M"}${x(p.time / 60)} ${at(p.leak)}`).join(" ")}
              fill="none"
              stroke="var(--color-moss)"
              strokeWidth={hold.low!.chosen ? 2.6 : 1.6}
              strokeDasharray={hold.low!.chosen ? undefined : "6 4"}
              pointerEvents="none"
            />
          )}
          {low.length > 1 && (
            <text x={x(low[1]!.time / 60) + 4} y={Math.min(bottom - 3, at(low[1]!.leak) + 16)} fontSize="12" fill="var(--color-moss)">
              with low holds
            </text>
          )}
          {hold.smallest_leak != null && (
            <circle
              cx={x(hold.minimum / 60)}
              cy={at(hold.low?.chosen && hold.low.smallest_leak != null ? hold.low.smallest_leak : hold.smallest_leak)}
              r="6"
              fill="var(--color-ground)"
              stroke="var(--water)"
              strokeWidth="2.6"
              pointerEvents="none"
            />
          )}
        </svg>
      )}
    </div>
  )
}
