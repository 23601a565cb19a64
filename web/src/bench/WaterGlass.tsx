import { useRef, type PointerEvent } from "react"

const [TALL, WIDE, TOP, FOOT] = [164, 62, 10, 152]
const STEP = 0.05

type WaterGlassProps = { level: number | null; disabled: boolean; set: (level: number) => void }

/** A boiler's water glass between its two cocks: the level is written by a click beside it, or by the arrow keys. */
export function WaterGlass({ level, disabled, set }: WaterGlassProps) {
  const ref = useRef<SVGSVGElement>(null)
  const y = (part: number) => FOOT - part * (FOOT - TOP)
  const stepped = (part: number) => Math.round(Math.min(1, Math.max(0, part)) / STEP) * STEP
  const pick = (event: PointerEvent) => {
    const box = ref.current?.getBoundingClientRect()
    if (!box || disabled) return
    const at = ((event.clientY - box.top) / box.height) * TALL
    set(Number(stepped((FOOT - at) / (FOOT - TOP)).toFixed(2)))
  }
  const shown = level == null ? "not written yet" : `${Math.round(level * 100)} % of the glass`
  return (
    <div
      role="slider"
      tabIndex={disabled ? -1 : 0}
      aria-label="Water in the glass"
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={level == null ? undefined : Math.round(level * 100)}
      aria-valuetext={shown}
      aria-disabled={disabled}
      className="w-fit text-center focus-visible:outline-2"
      onKeyDown={(event) => {
        const by = { ArrowUp: STEP, ArrowDown: -STEP }[event.key]
        if (by === undefined || disabled) return
        event.preventDefault()
        set(Number(stepped((level ?? 0.5) + by).toFixed(2)))
      }}
    >
      <svg ref={ref} viewBox={`0 0 ${WIDE} ${TALL}`} width={WIDE} height={TALL} onPointerUp={pick} className={disabled ? "" : "cursor-pointer"}>
        <g stroke="var(--color-ink)" fill="none" strokeWidth={2}>
          <path d={`M2 ${TOP} H24 M2 ${FOOT} H24`} strokeWidth={5} />
          <rect x={24} y={TOP - 6} width={16} height={FOOT - TOP + 12} rx={3} fill="var(--color-ground)" />
        </g>
        {level != null && <rect x={25.5} y={y(level)} width={13} height={FOOT + 4.5 - y(level)} fill="var(--color-water)" />}
        <g stroke="var(--color-quiet)" fontSize="10.5" fill="var(--color-quiet)">
          {[0, 0.25, 0.5, 0.75, 1].map((part) => (
            <line key={part} x1={42} x2={part === 0.5 ? 54 : 49} y1={y(part)} y2={y(part)} />
          ))}
          <line x1={22} x2={42} y1={y(0.1)} y2={y(0.1)} stroke="var(--color-vermilion)" strokeWidth={2} />
        </g>
      </svg>
      <span className="figure block text-note">{level == null ? "–" : `${Math.round(level * 100)} %`}</span>
    </div>
  )
}
