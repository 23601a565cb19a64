import { useEffect, useMemo, useRef, useState, type KeyboardEvent } from "react"
import uPlot from "uplot"
import "uplot/dist/uPlot.min.css"
import { clock, digits, type Habit, inUnit, unitOf } from "../parts/units"
import { useSize } from "../parts/useSize"
import { withGaps, type Series } from "./trace"

export type Planned = { time: number; pressure: number }[]

type TraceChartProps = {
  series: Series[]
  /** The planned course, s and Pa. */
  planned: Planned
  /** Where people keep behind the line, s. */
  zone: [number, number] | null
  habit: Habit
  label: string
}

const STEP = 0.2
/** A part of what is shown, by which one press of an arrow key moves it. */

/** What was read over the planned course: wheel and pinch to come nearer, drag to move along, the same by keys, and as a table. */
export function TraceChart(props: TraceChartProps) {
  const [table, setTable] = useState(false)
  return (
    <div className="relative h-full min-h-44 w-full">
      <button className="btn btn-ghost btn-xs absolute top-0 right-1 z-10 text-quiet" aria-pressed={table} onClick={() => setTable(!table)}>
        {table ? "as a chart" : "as a table"}
      </button>
      {table ? <Table {...props} /> : <Plot {...props} />}
    </div>
  )
}

/** Everything there is on one axis of time, as the chart takes it. */
function columns({ series, planned, habit }: TraceChartProps): uPlot.AlignedData {
  const inHabit = (pressure: number | null) => (pressure === null ? null : inUnit(pressure, "pressure", habit))
  const course: uPlot.AlignedData = [planned.map((p) => p.time), planned.map((p) => inHabit(p.pressure))]
  const read = series.map((one): uPlot.AlignedData => {
    const [times, values] = withGaps(one.time, one.pressure)
    return [times, values.map(inHabit)]
  })
  return uPlot.join([spread(course), ...read])
}

/** No two points of the course at the same moment: the chart wants time to go on. */
function spread(course: uPlot.AlignedData): uPlot.AlignedData {
  const times = [...(course[0] as number[])]
  for (let i = 1; i < times.length; i++) if (times[i]! <= times[i - 1]!) times[i] = times[i - 1]! + 1e-3
  return [times, course[1]!]
}

const TONES = ["--water", "--moss-ink", "--brass-ink", "--quiet"]

function Plot(props: TraceChartProps) {
  const { series, zone, habit, label } = props
  const [ref, { width, height }] = useSize()
  const host = useRef<HTMLDivElement>(null)
  const plot = useRef<uPlot | null>(null)
  /** What is shown, s; null for all of it. */
  const view = useRef<[number, number] | null>(null)
  const [near, setNear] = useState(false)
  const data = useMemo(() => columns(props), [props])
  const band = useRef(zone)
  const names = series.map((one) => one.name).join("|")
  useEffect(() => {
    band.current = zone
  }, [zone])

  useEffect(() => {
    const element = host.current
    if (!element || width === 0) return
    const colour = (name: string) => getComputedStyle(element).getPropertyValue(name).trim()
    const font = `12px ${colour("--font-mono") || "monospace"}`
    const axis = { stroke: colour("--quiet"), font, grid: { stroke: colour("--color-rule"), width: 1 }, ticks: { show: false } }
    const made = new uPlot(
      {
        width,
        height,
        padding: [18, 14, 0, 0],
        legend: { show: false },
        cursor: { drag: { x: false, y: false }, points: { size: 7 } },
        scales: {
          x: { time: false, range: (_, from, to) => view.current ?? [Math.min(0, from), Math.max(to, 60)] },
          y: { range: (_, from, to) => [Math.min(0, from), Math.max(to * 1.08, 1e-6)] },
        },
        axes: [
          {
            ...axis,
            size: 30,
            space: 84,
            values: (_, ticks) => ticks.map((t) => clock(t)),
            incrs: [10, 30, 60, 120, 300, 600, 1200, 1800, 3600, 7200, 14400, 28800],
          },
          { ...axis, size: 50, values: (_, ticks) => ticks.map((t) => digits(t, 4)), label: "", splits: undefined },
        ],
        series: [
          {},
          { label: "planned", stroke: colour("--brass"), width: 1.6, dash: [5, 4], points: { show: false }, spanGaps: true },
          ...(names ? names.split("|") : []).map((name, i) => ({
            label: name,
            stroke: colour(TONES[i % TONES.length]!),
            width: 2.4,
            points: { show: (u: uPlot, at: number) => (u.data[at]?.length ?? 0) < 60, size: 6 },
            spanGaps: false,
          })),
        ],
        hooks: {
          drawClear: [
            (u) => {
              if (!band.current) return
              const [from, to] = band.current.map((t) => u.valToPos(t, "x", true)) as [number, number]
              const left = Math.max(u.bbox.left, from)
              const right = Math.min(u.bbox.left + u.bbox.width, to)
              if (right <= left) return
              u.ctx.fillStyle = colour("--brass-soft")
              u.ctx.fillRect(left, u.bbox.top, right - left, u.bbox.height)
            },
          ],
        },
      },
      data,
      element,
    )
    plot.current = made
    return () => {
      made.destroy()
      plot.current = null
    }
    // The data of later renders come through setData: the plot is made anew only when its shape changes.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [width, height, names, habit])

  useEffect(() => plot.current?.setData(data), [data])

  const show = (range: [number, number] | null) => {
    const all = (data[0] as number[]).at(-1) ?? 60
    const wide = range && Math.max(5, range[1] - range[0])
    view.current = range && wide! < all * 1.2 ? [range[0], range[0] + wide!] : null
    setNear(view.current !== null)
    plot.current?.redraw(false, true)
    plot.current?.setData(data, true)
  }
  const shown = (): [number, number] => view.current ?? [0, (data[0] as number[]).at(-1) ?? 60]
  const zoom = (by: number, around?: number) => {
    const [from, to] = shown()
    const middle = around ?? (from + to) / 2
    show([middle - (middle - from) * by, middle + (to - middle) * by])
  }
  const move = (part: number) => {
    const [from, to] = shown()
    const by = (to - from) * part
    show([from + by, to + by])
  }
  const onKey = (event: KeyboardEvent) => {
    const act = {
      ArrowLeft: () => move(-STEP),
      ArrowRight: () => move(STEP),
      "+": () => zoom(0.6),
      "=": () => zoom(0.6),
      "-": () => zoom(1 / 0.6),
      "0": () => show(null),
    }[event.key]
    if (!act) return
    event.preventDefault()
    event.stopPropagation()
    act()
  }
  const grip = useRef<{ x: number; at: [number, number] } | null>(null)
  const perPx = () => {
    const [from, to] = shown()
    return (to - from) / Math.max(1, width - 64)
  }
  useEffect(() => {
    const element = host.current
    if (!element) return
    const wheel = (event: WheelEvent) => {
      event.preventDefault()
      const at = event.clientX - element.getBoundingClientRect().left - 50
      zoom(event.deltaY > 0 ? 1.25 : 0.8, shown()[0] + at * perPx())
    }
    element.addEventListener("wheel", wheel, { passive: false })
    return () => element.removeEventListener("wheel", wheel)
  })
  return (
    <div ref={ref} className="h-full w-full overflow-hidden">
      <p className="pointer-events-none absolute top-0 left-1 text-fine text-quiet">{unitOf("pressure", habit)}</p>
      <div
        ref={host}
        role="group"
        aria-roledescription="chart"
        aria-label={`${label}. Arrow keys move along, plus and minus come nearer and go back, 0 shows all.`}
        tabIndex={0}
        className="h-full w-full cursor-grab touch-pan-y active:cursor-grabbing"
        onKeyDown={onKey}
        onPointerDown={(event) => {
          grip.current = { x: event.clientX, at: shown() }
          event.currentTarget.setPointerCapture(event.pointerId)
        }}
        onPointerMove={(event) => {
          if (!grip.current || event.buttons === 0) return
          const by = (grip.current.x - event.clientX) * ((grip.current.at[1] - grip.current.at[0]) / Math.max(1, width - 64))
          if (Math.abs(by) > 0) show([grip.current.at[0] + by, grip.current.at[1] + by])
        }}
        onPointerUp={() => (grip.current = null)}
        onDoubleClick={() => show(null)}
      />
      {near && (
        <button className="btn btn-xs absolute right-24 top-0 z-10" onClick={() => show(null)}>
          show all
        </button>
      )}
    </div>
  )
}

const MOST_ROWS = 400

/** The same readings as rows, newest first. */
function Table({ series, habit, label }: TraceChartProps) {
  const rows = series
    .flatMap((one) => one.time.map((time, i) => ({ time, pressure: one.pressure[i]!, temperature: one.temperature[i], name: one.name })))
    .sort((a, b) => b.time - a.time)
  const all = rows.length + series.reduce((sum, one) => sum + (one.left_out ?? 0), 0)
  return (
    <div className="h-full overflow-auto px-2" tabIndex={0} role="region" aria-label={label}>
      <table className="table-sm mt-6 table w-full">
        <thead>
          <tr className="text-quiet">
            <th scope="col">time</th>
            <th scope="col">{unitOf("pressure", habit)}</th>
            <th scope="col">temperature, {unitOf("temperature", habit)}</th>
            <th scope="col">read</th>
          </tr>
        </thead>
        <tbody>
          {rows.slice(0, MOST_ROWS).map((row) => (
            <tr key={`${row.time} ${row.name}`}>
              <td className="figure">{clock(row.time)}</td>
              <td className="figure">{digits(inUnit(row.pressure, "pressure", habit), 5)}</td>
              <td className="figure">{row.temperature == null ? "–" : inUnit(row.temperature, "temperature", habit).toFixed(2)}</td>
              <td>{row.name}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {rows.length > MOST_ROWS && (
        <p className="py-2 text-quiet">
          The last {MOST_ROWS} of {all} readings. All of them are in the record.
        </p>
      )}
    </div>
  )
}
