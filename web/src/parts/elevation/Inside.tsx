import type { Px } from "./Elevation"
import { radiusAt, type Shape } from "./frame"

/** What is seen of seams, tubes, hoops, lids and readings. */
export function Inside({ shape, px, detailed }: { shape: Shape; px: Px; detailed: boolean }) {
  const across = (x: number, part = 1) => {
    const r = radiusAt(shape, x) * part
    return { x1: px.x(x, r), y1: px.y(x, r), x2: px.x(x, -r), y2: px.y(x, -r) }
  }
  const seams = shape.form === "cylinder" && shape.length ? [0, shape.length] : []
  const hoops = shape.form === "cask" && shape.length ? [0.06, 0.24, 0.76, 0.94].map((part) => part * shape.length!) : []
  const plates =
    shape.form === "cylinder" ? shape.ends.map((end, i) => (end.depth === 0 ? (i === 0 ? 0 : shape.length!) : null)).filter((x): x is number => x !== null) : []
  const unplaced = shape.readings.length === 0 && shape.thinnest != null && shape.wall != null && shape.thinnest < shape.wall
  return (
    <g>
      {seams.map((x) => (
        <line key={x} {...across(x, 0.97)} stroke="var(--color-ink)" strokeDasharray="2 3" opacity="0.6" />
      ))}
      {hoops.map((x) => (
        <line key={x} {...across(x)} stroke="var(--color-ink)" strokeWidth="3.5" opacity="0.75" />
      ))}
      {plates.map((x) => (
        <line key={`p${x}`} {...across(x)} stroke="var(--color-ink)" strokeWidth="4.5" />
      ))}
      <TubesSeen shape={shape} px={px} />
      <Fashion shape={shape} px={px} />
      {unplaced && shape.form === "cylinder" && shape.length && (
        <line
          x1={px.x(shape.length * 0.2, -radiusAt(shape, shape.length / 2) * 0.97)}
          y1={px.y(shape.length * 0.2, -radiusAt(shape, shape.length / 2) * 0.97)}
          x2={px.x(shape.length * 0.8, -radiusAt(shape, shape.length / 2) * 0.97)}
          y2={px.y(shape.length * 0.8, -radiusAt(shape, shape.length / 2) * 0.97)}
          stroke="var(--vermilion-ink)"
          strokeWidth="4"
        />
      )}
      {shape.readings
        .filter((reading) => detailed || reading.thinnest)
        .map((reading, i) => (
          <circle
            key={i}
            cx={px.x(reading.x, reading.v * 0.97)}
            cy={px.y(reading.x, reading.v * 0.97)}
            r={!detailed ? 2.5 : reading.thinnest ? 5 : 3}
            fill={reading.thinnest ? "var(--vermilion-ink)" : "var(--quiet)"}
          />
        ))}
    </g>
  )
}

function TubesSeen({ shape, px }: { shape: Shape; px: Px }) {
  const R = (shape.diameter ?? 0) / 2
  return shape.tubes.flatMap((tube, which) => {
    const rows = tube.count === 1 ? 1 : Math.min(7, Math.ceil(Math.sqrt(tube.count)))
    const start = ((shape.length ?? 0) - tube.length) / 2
    return Array.from({ length: rows }, (_, row) => {
      const v = rows === 1 ? -R * 0.2 : R * 0.62 * (1 - (2 * row) / (rows - 1))
      const half = tube.diameter / 2
      return [-half, half].map((side) => (
        <line
          key={`${which} ${row} ${side}`}
          x1={px.x(start, v + side)}
          y1={px.y(start, v + side)}
          x2={px.x(start + tube.length, v + side)}
          y2={px.y(start + tube.length, v + side)}
          stroke="var(--color-ink)"
          strokeWidth="0.9"
          opacity="0.55"
        />
      ))
    })
  })
}

/** What tells one kind from another: a lid, fins, a collar, a nozzle. */
function Fashion({ shape, px }: { shape: Shape; px: Px }) {
  const R = (shape.diameter ?? 0) / 2
  const top = shape.tall
  const ink = { stroke: "var(--color-ink)", fill: "none" }
  if (shape.form === "drum")
    return (
      <g {...ink} opacity="0.6">
        {[0.33, 0.66].map((part) => (
          <path key={part} d={`M${px.x(top * part, R)} ${px.y(top * part, R)} L${px.x(top * part, -R)} ${px.y(top * part, -R)}`} strokeWidth="3" />
        ))}
      </g>
    )
  if (shape.form === "box" && shape.kind === "cooler") {
    return (
      <g {...ink} opacity="0.5" strokeWidth="1">
        {Array.from({ length: 13 }, (_, i) => -R * 0.8 + (i * R * 1.6) / 12).map((v) => (
          <line key={v} x1={px.x(top * 0.06, v)} y1={px.y(top * 0.06, v)} x2={px.x(top * 0.94, v)} y2={px.y(top * 0.94, v)} />
        ))}
      </g>
    )
  }
  if (shape.form === "box" && shape.kind === "enclosure") {
    return (
      <g {...ink} opacity="0.7" strokeWidth="1.4">
        <line x1={px.x(top * 0.82, R)} y1={px.y(top * 0.82, R)} x2={px.x(top * 0.82, -R)} y2={px.y(top * 0.82, -R)} />
        {[-0.85, 0.85].map((v) => (
          <circle key={v} cx={px.x(top * 0.91, v * R)} cy={px.y(top * 0.91, v * R)} r="3" />
        ))}
      </g>
    )
  }
  if (shape.form === "box")
    return (
      <line x1={px.x(top * 0.5, R)} y1={px.y(top * 0.5, R)} x2={px.x(top * 0.5, -R)} y2={px.y(top * 0.5, -R)} {...ink} strokeDasharray="2 3" opacity="0.6" />
    )
  return null
}
