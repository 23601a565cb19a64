import { useState } from "react"
import { Elevation } from "../parts/elevation/Elevation"
import { extent, type Shape } from "../parts/elevation/frame"
import { Openings } from "../parts/elevation/Openings"
import { JointPicture } from "../parts/JointPicture"
import { textAt } from "../parts/path"
import { show, span } from "../parts/units"
import type { FieldsProps } from "./Bases"
import { MarksDrawn } from "./GirthMarks"
import { PlanDial } from "./KitTab"

type PreparedProps = FieldsProps & { shape: Shape; selected: string | null; select: (name: string) => void; dial: boolean }

/** The vessel as it will be tested: water as far as the vent lets it, the air that stays, how to lie it, what it weighs. */
export function Prepared({ shape, selected, select, dial, ...fields }: PreparedProps) {
  const { answer, habit, draft, change, disabled } = fields
  const { wide, tall } = extent(shape)
  const air = answer.medium === "air"
  const remedy = answer.vent?.remedy
  const degrees = (angle: number) => `${Math.round((angle * 180) / Math.PI)}`
  const turn = () =>
    change({
      ...draft,
      position: Math.abs(Math.abs(remedy!.tilt) - Math.PI / 2) < 0.01 && remedy!.tilt > 0 ? "standing" : "lying",
      tilt: Math.abs(remedy!.tilt) < 0.005 || Math.abs(remedy!.tilt - Math.PI / 2) < 0.01 ? undefined : `${degrees(remedy!.tilt)} deg`,
      roll: Math.abs(remedy!.roll) < 0.005 ? undefined : `${degrees(remedy!.roll)} deg`,
    })
  const way =
    remedy &&
    [
      Math.abs(remedy.tilt - shape.tilt) > 0.005 ? `tilt it to ${degrees(remedy.tilt)}°` : "",
      Math.abs(remedy.roll - shape.roll) > 0.005 ? `roll it to ${degrees(remedy.roll)}°` : "",
    ]
      .filter(Boolean)
      .join(", ")
  const minutes = (seconds: number) => span(Math.max(60, Math.round(seconds / 60) * 60))
  const { water } = answer
  const [filled, setFilled] = useState(1)
  const top = shape.level ?? shape.tall
  return (
    <div>
      <h2 className="mb-0.5 text-plain">
        {air ? "Under air" : "Full of water"}, {shape.position}
        {shape.position === "lying" && Math.abs(shape.tilt) > 0.005 && `, tilted ${degrees(shape.tilt)}°`}
      </h2>
      <div className="grid place-items-center">
        {draft["kind"] === "joint" ? (
          <JointPicture inside={textAt(draft, "shell.inside_diameter")} wall={textAt(draft, "shell.wall")} width={210} />
        ) : (
          <Elevation
            shape={shape}
            scale={Math.min(158 / wide, 84 / tall)}
            habit={habit}
            water={!air}
            filledTo={filled < 1 ? filled * top : undefined}
            room={shape.openings.length ? 24 : 0}
            over={(px) => (
              <>
                <MarksDrawn draft={draft} shape={shape} px={px} />
                <Openings shape={shape} px={px} order={answer.openings.map((o) => o.name)} selected={selected} onSelect={select} />
              </>
            )}
          />
        )}
      </div>
      {!air && shape.filling.length > 0 && (
        <label className="flex items-center gap-2 text-fine text-quiet">
          <input
            type="range"
            className="range range-xs w-24"
            min={0}
            max={1}
            step={0.02}
            value={filled}
            aria-label="Filled to"
            aria-valuetext={`${show(filled * top, "length", habit, 3)} of water, ${show(below(shape, filled * top), "volume", habit)}`}
            onChange={(event) => setFilled(Number(event.target.value))}
          />
          {filled < 1 ? `${show(below(shape, filled * top), "volume", habit)} at ${show(filled * top, "length", habit, 3)}` : "slide to see it fill"}
        </label>
      )}
      {remedy && (
        <button
          className="btn btn-outline btn-sm border-line bg-ground mt-1 h-auto min-h-9 w-full py-1 text-left leading-tight"
          onClick={turn}
          disabled={disabled}
        >
          {way ? `${way[0]!.toUpperCase()}${way.slice(1)}` : "Turn it"}: {show(remedy.air, remedy.air >= 1e-4 ? "volume" : "small", habit, 2)} of air stays, not{" "}
          {show(answer.vent!.air, "volume", habit, 2)}
        </button>
      )}
      <p className="mt-1 text-small text-quiet">
        Holds <span className="figure text-ink">{show(answer.volume, "volume", habit)}</span>
        {!air && (
          <>
            , full <span className="figure text-ink">{show(water.full_mass ?? water.mass, "mass", habit)}</span>: check floor and legs
          </>
        )}
        .{water.fill_time != null && ` Fills in ${minutes(water.fill_time)}.`}
        {water.drain_time != null && !air && ` Empties in ${minutes(water.drain_time)}.`}
      </p>
      {dial && <PlanDial {...fields} />}
    </div>
  )
}

/** Volume below a level, between the levels that the drawing knows. */
function below(shape: Shape, level: number): number {
  const after = shape.filling.findIndex((point) => point.level >= level)
  const [one, other] = [shape.filling[Math.max(0, after - 1)], shape.filling[after < 0 ? shape.filling.length - 1 : after]]
  if (!one || !other || other.level === one.level) return other?.volume ?? 0
  return one.volume + ((other.volume - one.volume) * (level - one.level)) / (other.level - one.level)
}
