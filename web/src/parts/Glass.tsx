import { scaleLinear } from "d3-scale"
import { useId, useRef, type PointerEvent } from "react"
import { usePending } from "./pending"
import { spread } from "./spread"
import { shortened, wide } from "./labels"
import { aim, digits, inUnit, unitOf, type Habit } from "./units"
import { useSize } from "./useSize"

export type Tone = "ink" | "brass" | "water" | "vermilion" | "quiet"
export type Mark = { name: string; pressure: number; tone: Tone; figures?: number; aim?: boolean; move?: Move }
/** How a mark is moved: what its keys step by, and where it went; Pa. */
export type Move = { step: number; to: (pressure: number) => void; does: string }

type GlassProps = {
  habit: Habit
  /** Known facts of vessel and kit, left of the tube; Pa. */
  facts: Mark[]
  /** What is planned or seen, right of the tube; Pa. */
  plan: Mark[]
  /** Where the water stands, Pa. */
  level?: number | null
  ceiling?: number | null
  band?: [number, number] | null
  /** From where people keep behind the line, Pa. */
  lineFrom?: number | null
  /** A ceiling so far up that it is off the scale, Pa. */
  above?: number | null
  /** A strip without labels, for a phone. */
  slim?: boolean
}

const COLOURS: Record<Tone, string> = {
  ink: "var(--color-ink)",
  brass: "var(--brass-ink)",
  water: "var(--water-ink)",
  vermilion: "var(--vermilion-ink)",
  quiet: "var(--quiet)",
}
const TUBE = 32

/** The glass: a pressure scale with the facts at its left, the plan at its right, and the water standing in it. */
export function Glass(props: GlassProps) {
  const [ref, { width, height }] = useSize()
  return (
    <div ref={ref} className="h-full min-h-64 w-full" data-testid="glass">
      {width > 0 && <Drawing {...props} width={width} height={height} />}
    </div>
  )
}

function Drawing({ habit, facts, plan, level, ceiling, band, lineFrom, above, slim, width, height }: GlassProps & { width: number; height: number }) {
  const hatch = useId()
  const [top, bottom] = [28, height - 40]
  const highest = Math.max(1, ...[...facts, ...plan].map((m) => m.pressure), (ceiling ?? 0) * 1.12, (band?.[1] ?? 0) * 1.15)
  const scale = scaleLinear()
    .domain([0, inUnit(highest, "pressure", habit)])
    .nice(8)
    .range([bottom, top])
  const y = (pressure: number) => scale(inUnit(pressure, "pressure", habit))
  const back = (at: number) => Math.max(0, scale.invert(at)) / inUnit(1, "pressure", habit)
  const longest = Math.max(...plan.map((mark) => wide(figureOf(mark, habit), 14)), 0)
  const x = slim ? (width - TUBE) / 2 : Math.min(100, width * 0.46, width - TUBE - 28 - longest)
  const ticks = scale.ticks(6)
  const movable = [...facts, ...plan].some((mark) => mark.move)
  const minor = scale.ticks(30)
  return (
    <svg width={width} height={height} role={movable ? "group" : "img"} aria-label={inWords(facts, plan, level, habit)}>
      <defs>
        <pattern id={hatch} width="9" height="9" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="9" height="9" fill="var(--vermilion-soft)" />
          <line x1="0" y1="0" x2="0" y2="9" stroke="var(--vermilion-ink)" strokeWidth="2.4" />
        </pattern>
      </defs>
      {lineFrom != null && (
        <rect x={x} width={TUBE} y={y(ceiling ?? highest)} height={Math.max(0, y(lineFrom) - y(ceiling ?? highest))} fill="var(--brass-soft)" />
      )}
      {ceiling != null && <rect x={x} width={TUBE} y={top} height={Math.max(0, y(ceiling) - top)} fill={`url(#${hatch})`} />}
      {band && <rect x={x} width={TUBE} y={y(band[1])} height={Math.max(3, y(band[0]) - y(band[1]))} fill="var(--brass)" />}
      {level != null && level > 0 && <Water x={x} y={y(level)} bottom={bottom} />}
      {minor.map((tick) => (
        <line key={tick} x1={x} x2={x + 5} y1={scale(tick)} y2={scale(tick)} stroke="var(--color-ink)" strokeWidth="1" opacity="0.55" />
      ))}
      {ticks.map((tick) => (
        <g key={tick}>
          <line x1={x} x2={x + 7} y1={scale(tick)} y2={scale(tick)} stroke="var(--color-ink)" strokeWidth="1.4" />
          <text
            x={x + TUBE - 3}
            y={scale(tick) + 4}
            textAnchor="end"
            fontSize={tick >= 1e4 ? 8.5 : 11}
            className="figure"
            fill="var(--color-ink)"
            opacity="0.85"
          >
            {tick > 0 && scale(tick) > top + 8 ? digits(tick, 4).replaceAll("\u2009", "") : ""}
          </text>
        </g>
      ))}
      <rect x={x} y={top} width={TUBE} height={bottom - top} rx="3" fill="none" stroke="var(--color-ink)" strokeWidth="2" />
      {!slim && <Labels marks={facts} y={y} x={x} side="left" room={x - 28} habit={habit} range={[top + 12, bottom - 8]} back={back} />}
      {!slim && <Labels marks={plan} y={y} x={x + TUBE} side="right" room={width - x - TUBE - 28} habit={habit} range={[top + 12, bottom - 8]} back={back} />}
      {above != null && !slim && (
        <text x={x + TUBE / 2} y={top - 9} textAnchor="middle" fontSize="12.5" fill="var(--vermilion-ink)">
          ↑ ceiling <tspan className="figure">{digits(inUnit(above, "pressure", habit), 3)}</tspan>
        </text>
      )}
      <text x={x + TUBE / 2} y={bottom + 20} textAnchor="middle" fontSize="12" fill="var(--quiet)">
        {slim ? unitOf("pressure", habit) : `${unitOf("pressure", habit)}, gauge`}
      </text>
    </svg>
  )
}

function Water({ x, y, bottom }: { x: number; y: number; bottom: number }) {
  const path = `M${x} ${y} q${TUBE / 2} 7 ${TUBE} 0 V${bottom} H${x} Z`
  return (
    <g style={{ transition: "opacity 0.2s" }}>
      <path d={path} fill="var(--water)" opacity="0.42" />
      <path d={`M${x} ${y} q${TUBE / 2} 7 ${TUBE} 0`} fill="none" stroke="var(--water)" strokeWidth="2.2" />
    </g>
  )
}

type LabelsProps = {
  marks: Mark[]
  y: (p: number) => number
  x: number
  side: "left" | "right"
  /** px that a name may take. */
  room: number
  habit: Habit
  range: [number, number]
  back: (y: number) => number
}

function Labels({ marks, y, x, side, room, habit, range, back }: LabelsProps) {
  const dragging = useRef<string | null>(null)
  const pending = usePending<number>()
  const placed = spread(
    marks.map((mark) => y(mark.pressure)),
    Math.min(33, (range[1] - range[0]) / Math.max(1, marks.length - 1)),
    ...range,
  )
  const away = side === "left" ? -1 : 1
  const handle = (mark: Mark, move: Move) => ({
    role: "slider",
    tabIndex: 0,
    "aria-label": `${mark.name}: ${move.does}`,
    "aria-orientation": "vertical" as const,
    "aria-valuenow": mark.pressure,
    "aria-valuetext": `${digits(inUnit(mark.pressure, "pressure", habit), 4)} ${unitOf("pressure", habit)}`,
    className: "cursor-ns-resize select-none",
    style: { touchAction: "none" },
    onKeyDown: (event: React.KeyboardEvent) => {
      const way = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }[event.key]
      if (!way) return
      event.preventDefault()
      const from = pending.from(mark.name, mark.pressure)
      move.to(pending.to(mark.name, Math.max(move.step, from + way * move.step * (event.shiftKey ? 5 : 1))))
    },
    onPointerDown: (event: PointerEvent<SVGGElement>) => {
      event.preventDefault()
      dragging.current = mark.name
      pending.settle(mark.name)
      event.currentTarget.setPointerCapture(event.pointerId)
      event.currentTarget.focus()
    },
    onPointerMove: (event: PointerEvent<SVGGElement>) => {
      if (dragging.current !== mark.name) return
      const top = event.currentTarget.ownerSVGElement!.getBoundingClientRect().top
      move.to(Math.max(move.step, Math.round(back(event.clientY - top) / move.step) * move.step))
    },
    onPointerUp: () => (dragging.current = null),
  })
  return marks.map((mark, index) => {
    const [at, label] = [y(mark.pressure), placed[index]!]
    const text = x + away * 26
    return (
      <g key={mark.name} fill={COLOURS[mark.tone]} {...(mark.move ? handle(mark, mark.move) : {})}>
        {mark.move && <rect x={side === "left" ? text - 76 : text - 20} y={label - 16} width={96} height={32} fill="transparent" />}
        {mark.move && <path d={`M${x + away * 1} ${at - 6} l${away * 9} 6 l${-away * 9} 6 z`} />}
        <path d={`M${x} ${at} H${x + away * 9} L${x + away * 17} ${label} H${x + away * 22}`} fill="none" stroke={COLOURS[mark.tone]} strokeWidth="1.6" />
        <text x={text} y={label - 3} textAnchor={side === "left" ? "end" : "start"} fontSize="13">
          {shortened(mark.name, room)}
        </text>
        <text x={text} y={label + 12} textAnchor={side === "left" ? "end" : "start"} fontSize="14" className="figure">
          {figureOf(mark, habit)}
        </text>
      </g>
    )
  })
}

const figureOf = (mark: Mark, habit: Habit) => (mark.aim ? aim(mark.pressure, habit) : digits(inUnit(mark.pressure, "pressure", habit), mark.figures ?? 3))

function inWords(facts: Mark[], plan: Mark[], level: number | null | undefined, habit: Habit): string {
  const say = (mark: Mark) => `${mark.name} ${digits(inUnit(mark.pressure, "pressure", habit), 4)}`
  const now = level != null ? `now ${digits(inUnit(level, "pressure", habit), 4)}; ` : ""
  return `Pressures in ${unitOf("pressure", habit)} gauge: ${now}${[...facts, ...plan].map(say).join(", ")}`
}
