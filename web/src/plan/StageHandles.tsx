import { useRef } from "react"
import type { Schema } from "../api/client"
import type { ChartFrame } from "../parts/CourseChart"
import { usePending } from "../parts/pending"
import { show, type Habit, span } from "../parts/units"

type StageHandlesProps = {
  answer: Schema["DeriveAnswer"]
  chart: ChartFrame
  habit: Habit
  step: number
  move: (index: number, pressure: number) => void
  pauseAt: (index: number, seconds: number) => void
  remove: (index: number) => void
}

/** A handle on each stage of the course: drag it up and down, or use the keys. */
export function StageHandles({ answer, chart, habit, step, move, pauseAt, remove }: StageHandlesProps) {
  const dragging = useRef<number | null>(null)
  const pending = usePending<number>()
  return answer.stages.slice(0, -1).map((stage, index) => {
    const level = chart.level(stage)
    if (!level) return null
    const [from, to] = level
    const y = chart.y(stage.target)
    return (
      <g
        key={index}
        role="slider"
        tabIndex={0}
        aria-label={`Stage ${index + 1}, ${stage.name}. Up and down move it, left and right change its pause, Delete takes it out`}
        aria-orientation="vertical"
        aria-valuenow={stage.target}
        aria-valuemin={0}
        aria-valuemax={answer.gauge_target}
        aria-valuetext={`${show(stage.target, "pressure", habit, 4)}, pause ${span(stage.pause)}`}
        className="cursor-ns-resize select-none"
        style={{ touchAction: "none" }}
        onKeyDown={(event) => {
          const big = event.shiftKey ? 5 : 1
          const way = { ArrowUp: big, ArrowDown: -big }[event.key]
          const longer = { ArrowRight: 60 * big, ArrowLeft: -60 * big }[event.key]
          if (way) move(index, pending.to(`target ${index}`, pending.from(`target ${index}`, stage.target) + step * way))
          else if (longer) pauseAt(index, pending.to(`pause ${index}`, Math.max(0, pending.from(`pause ${index}`, stage.pause) + longer)))
          else if (event.key === "Delete" || event.key === "Backspace") remove(index)
          else return
          event.preventDefault()
        }}
        onPointerDown={(event) => {
          event.preventDefault()
          dragging.current = index
          pending.settle(`target ${index}`)
          event.currentTarget.setPointerCapture(event.pointerId)
          event.currentTarget.focus()
        }}
        onPointerMove={(event) => {
          if (dragging.current !== index) return
          const top = event.currentTarget.ownerSVGElement!.getBoundingClientRect().top
          move(index, chart.pressureAt(event.clientY - top))
        }}
        onPointerUp={() => (dragging.current = null)}
      >
        <rect x={from - 8} y={y - 13} width={to - from + 16} height={26} fill="transparent" />
        <line x1={from} x2={to} y1={y} y2={y} stroke="var(--brass)" strokeWidth="6" strokeLinecap="round" />
        <circle cx={from} cy={y} r="4.5" fill="var(--color-ground)" stroke="var(--brass-ink)" strokeWidth="2" />
        <circle cx={to} cy={y} r="4.5" fill="var(--color-ground)" stroke="var(--brass-ink)" strokeWidth="2" />
      </g>
    )
  })
}
