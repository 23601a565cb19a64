import { useState, type KeyboardEvent, type PointerEvent } from "react"
import { Alert } from "../parts/Alert"
import { Keep, Dialog } from "../parts/Dialog"
import { Elevation, type Px } from "../parts/elevation/Elevation"
import { frameOf } from "../parts/elevation/frame"
import { Pin, Pins } from "../parts/elevation/Pins"
import type { BenchState, Hands } from "./queries"

type Place = [number, number]

const SHOWS = ["damp", "weep", "drip", "stream"]
const OWNERS = [
  ["rig", "The rig's", "plug, hose, pump, gauge"],
  ["boundary", "The vessel's own", "seam, end, wall, bush"],
] as const

/** A leak: whose, how it shows, pinned on the vessel, and what is done about it now. */
export function LeakDialog({ bench, hands, close }: { bench: BenchState; hands: Hands; close: () => void }) {
  const [owner, setOwner] = useState<"rig" | "boundary">("rig")
  const [shows, setShows] = useState("weep")
  const [where, setWhere] = useState("")
  const [pin, setPin] = useState<Place | null>(null)
  const mayGoBack = bench.hand.mine && bench.allowed.includes("gone-back")
  const [back, setBack] = useState<string>("stay")
  const [says, setSays] = useState<string | null>(null)
  const keep = async () => {
    try {
      await hands.step("leak", { owner, where: where.trim(), shows, pin: pin && { x: pin[0], v: pin[1] } }, `leak, ${where.trim()}`)
      if (back !== "stay" && mayGoBack) await hands.step("gone-back", { to: Number(back), vent: false, why: where.trim() }, "gone back")
      close()
    } catch (problem) {
      setSays((problem as Error).message)
    }
  }
  return (
    <Dialog title="A leak" close={close} wide>
      <form
        onSubmit={(event) => {
          event.preventDefault()
          if (where.trim()) void keep()
        }}
        className="grid gap-x-6 sm:grid-cols-[1fr_1fr]"
      >
        <div>
          <fieldset className="mb-3 grid grid-cols-2 gap-3">
            <legend className="mb-1 text-quiet">Whose is it?</legend>
            {OWNERS.map(([key, name, such]) => (
              <label key={key} className={`flex min-h-14 items-center gap-3 border-line px-3 ${owner === key ? "border-ink bg-ground" : "border-rule"}`}>
                <input type="radio" className="radio" name="owner" checked={owner === key} onChange={() => setOwner(key)} />
                <span>
                  {name} <span className="block text-small text-quiet">{such}</span>
                </span>
              </label>
            ))}
          </fieldset>
          <label className="mb-3 block text-quiet">
            Where, and how fast
            <input
              autoFocus
              className="input h-14 w-full bg-ground text-lg text-ink"
              value={where}
              onChange={(event) => setWhere(event.target.value)}
              placeholder="drain bush, a drop in ten seconds"
            />
          </label>
          <fieldset className="mb-3">
            <legend className="mb-1 text-quiet">How does it show?</legend>
            <div className="flex flex-wrap gap-2">
              {SHOWS.map((one) => (
                <label key={one} className={`flex min-h-11 items-center gap-2 border-line px-3 ${shows === one ? "border-ink bg-ground" : "border-rule"}`}>
                  <input type="radio" className="radio radio-sm" name="shows" checked={shows === one} onChange={() => setShows(one)} />
                  {one}
                </label>
              ))}
            </div>
          </fieldset>
        </div>
        <div>
          <p className="mb-1 text-quiet">Pin it where it is: touch the drawing, or move the pin with the arrow keys.</p>
          <PinField bench={bench} pin={pin} own={owner === "boundary"} onPin={setPin} />
          {mayGoBack && (
            <label className="mt-3 block text-quiet">
              And now
              <select className="select h-12 w-full bg-ground text-ink" value={back} onChange={(event) => setBack(event.target.value)}>
                <option value="stay">stay at this pressure and watch it</option>
                {bench.reached > 1 && <option value={bench.reached - 1}>back to the stage below</option>}
                <option value={0}>let the pressure go, to tighten or mend it</option>
              </select>
            </label>
          )}
        </div>
        <p className="my-3 text-note text-quiet sm:col-span-2">
          Release before tightening. A leak of the vessel's own fails it; the rig's voids this hold only: mend it and go round again.
        </p>
        {says && <Alert className="mb-3 sm:col-span-2">{says}</Alert>}
        <div className="sm:col-span-2">
          <Keep keep="Write it down" close={close} disabled={!where.trim()} />
        </div>
      </form>
    </Dialog>
  )
}

const NUDGE = 0.005

function PinField({ bench, pin, own, onPin }: { bench: BenchState; pin: Place | null; own: boolean; onPin: (pin: Place) => void }) {
  const { wide, tall, toSheet, toVessel } = frameOf(bench.shape)
  const scale = Math.min(300 / wide, 170 / tall)
  const place = (event: PointerEvent<SVGRectElement>, px: Px) => {
    const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(event.currentTarget.ownerSVGElement!.getScreenCTM()!.inverse())
    const corner = toVessel(0, 0)
    onPin(toVessel((at.x - px.x(...corner)) / scale, (px.y(...corner) - at.y) / scale))
  }
  const nudge = (event: KeyboardEvent) => {
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key]
    if (!by) return
    event.preventDefault()
    const [X, Z] = pin ? toSheet(...pin) : [wide / 2, 0]
    const step = event.shiftKey ? 10 * NUDGE : NUDGE
    onPin(toVessel(Math.min(wide, Math.max(0, X + by[0]! * step)), Math.min(tall, Math.max(0, Z + by[1]! * step))))
  }
  return (
    <div
      role="application"
      aria-label={pin ? "Pin on the vessel, placed. Arrow keys move it" : "Pin on the vessel, not placed yet. Arrow keys place it"}
      tabIndex={0}
      className="flex cursor-crosshair justify-center border-line border-rule bg-ground p-2"
      onKeyDown={nudge}
      data-testid="pin-field"
    >
      <Elevation
        shape={bench.shape}
        scale={scale}
        water
        room={18}
        over={(px) => (
          <>
            <Pins leaks={bench.leaks} px={px} />
            {pin && <Pin px={px} at={pin} own={own} mark="+" />}
            <rect width="100%" height="100%" fill="transparent" onPointerDown={(event) => place(event, px)} />
          </>
        )}
      />
    </div>
  )
}
