import { useCallback, useState, type KeyboardEvent, type PointerEvent } from "react"
import { Alert } from "../parts/Alert"
import { Keep, Dialog, useKeeping } from "../parts/Dialog"
import type { Px } from "../parts/elevation/Elevation"
import { frameOf } from "../parts/elevation/frame"
import { Pin, type View } from "../parts/elevation/Pins"
import { endOf, Seen, viewsOf } from "../parts/elevation/Seen"
import { CountField } from "./CountField"
import type { BenchState, Hands } from "./queries"

type Place = [number, number]
type Pinned = { view: View; at: Place }

/** How a leak shows, wet, or soaped under air. */
const SHOWS = { water: ["damp", "weep", "drip", "stream"], air: ["still foam", "growing foam", "bubbles"] }
const FOUND = ["eye", "dry paper", "chalk", "soap", "level", "ear", "section shut"]
const OWNERS = [
  ["rig", "The test rig", "hose, pump, test gauge, a plug put in for today"],
  ["fitting", "A fitting of the vessel", "gauge glass, valve, flange, what stays on at work"],
  ["boundary", "The vessel itself", "seam, end, wall, bush, tube"],
] as const
type Owner = (typeof OWNERS)[number][0]

/** A leak: whose, how it shows, pinned on the vessel, and what is done about it now. */
export function LeakDialog({ bench, hands, close }: { bench: BenchState; hands: Hands; close: () => void }) {
  const air = bench.answer.medium === "air"
  const soaped = unpinned(bench)
  const usual = air ? "growing foam" : "weep"
  const [owner, setOwner] = useState<Owner>(soaped?.owner ?? "rig")
  const [shows, setShows] = useState(soaped && SHOWS[air ? "air" : "water"].includes(soaped.shows) ? soaped.shows : usual)
  const [where, setWhere] = useState(soaped?.where ?? "")
  const [pin, setPin] = useState<Pinned | null>(soaped?.pin ?? null)
  const mayGoBack = bench.hand.mine && bench.allowed.includes("gone-back")
  const [back, setBack] = useState<string>("stay")
  const [found, setFound] = useState(air ? "soap" : "eye")
  const [same, setSame] = useState("")
  const [count, setCount] = useState<{ count: number | null; seconds: number | null }>({ count: null, seconds: null })
  const setCounted = useCallback((count: number | null, seconds: number | null) => setCount({ count, seconds }), [])
  const { says, busy, keep } = useKeeping(close)
  const leak = async () => {
    const place = pin && { x: pin.at[0], v: pin.at[1], view: pin.view }
    await hands.step("leak", { owner, where: where.trim(), shows, pin: place, found, same, ...count }, `leak, ${where.trim()}`)
    if (back !== "stay" && mayGoBack) await hands.step("gone-back", { to: Number(back), vent: false, why: where.trim() }, "gone back")
  }
  return (
    <Dialog title="A leak" close={close} wide>
      <form
        onSubmit={(event) => {
          event.preventDefault()
          if (where.trim()) keep(leak)
        }}
        className="grid gap-x-6 sm:grid-cols-[1fr_1fr]"
      >
        <div>
          <fieldset className="mb-3 grid gap-1.5">
            <legend className="mb-1 text-quiet">What leaks?</legend>
            {OWNERS.map(([key, name, such]) => (
              <label key={key} className={`flex min-h-12 items-center gap-3 border-line px-3 ${owner === key ? "border-ink bg-ground" : "border-rule"}`}>
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
              placeholder={air ? "lower hose tail, a bubble a second" : "drain bush, a drop in ten seconds"}
            />
          </label>
          <fieldset className="mb-3">
            <legend className="mb-1 text-quiet">How does it show?</legend>
            <div className="flex flex-wrap gap-2">
              {SHOWS[air ? "air" : "water"].map((one) => (
                <label key={one} className={`flex min-h-11 items-center gap-2 border-line px-3 ${shows === one ? "border-ink bg-ground" : "border-rule"}`}>
                  <input type="radio" className="radio radio-sm" name="shows" checked={shows === one} onChange={() => setShows(one)} />
                  {one}
                </label>
              ))}
            </div>
          </fieldset>
          {["weep", "drip", "bubbles"].includes(shows) && <CountField what={air ? "bubbles" : "drops"} {...count} set={setCounted} />}
          <div className="grid grid-cols-2 gap-3">
            <label className="mb-3 block text-quiet">
              Found by
              <select className="select h-11 w-full bg-ground text-ink" value={found} onChange={(event) => setFound(event.target.value)}>
                {FOUND.map((one) => (
                  <option key={one}>{one}</option>
                ))}
              </select>
            </label>
            {bench.earlier.length > 0 && (
              <label className="mb-3 block text-quiet">
                It is
                <select className="select h-11 w-full bg-ground text-ink" value={same} onChange={(event) => setSame(event.target.value)}>
                  <option value="">a new one</option>
                  {bench.earlier.map((one) => (
                    <option key={one.id} value={one.id}>
                      again: {one.says}
                    </option>
                  ))}
                </select>
              </label>
            )}
          </div>
        </div>
        <div>
          {bench.at_the_pin && <p className="strip mb-2 text-small">{bench.at_the_pin}</p>}
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
          Release before tightening. A leak of the vessel itself fails it; one of a fitting or of the test rig voids this hold only: mend it and go round again.
        </p>
        {says && <Alert className="mb-3 sm:col-span-2">{says}</Alert>}
        <div className="sm:col-span-2">
          <Keep keep="Write it down" close={close} busy={busy} disabled={!where.trim()} />
        </div>
      </form>
    </Dialog>
  )
}

/** The last section that showed a leak and is not pinned yet. */
export function unpinned(bench: BenchState): { owner: Owner; where: string; shows: string; pin: Pinned | null } | null {
  const pinned = new Set(bench.leaks.filter((leak) => !leak.mend).map((leak) => leak.where))
  const leaky = bench.observed.filter((one) => one.leaks).sort((a, b) => Date.parse(b.at) - Date.parse(a.at))
  for (const mark of leaky) {
    const section = bench.sections.find((one) => one.id === mark.place)
    if (section && !pinned.has(section.name))
      return {
        owner: section.owner,
        where: section.name,
        shows: mark.word,
        pin: section.x == null || section.v == null ? null : { view: "front", at: [section.x, section.v] },
      }
  }
  return null
}

const NUDGE = 0.005
/** What the drawing may take, px. */
const FIT: Place = [300, 150]

function PinField({ bench, pin, own, onPin }: { bench: BenchState; pin: Pinned | null; own: boolean; onPin: (pin: Pinned) => void }) {
  const { shape } = bench
  const [view, setView] = useState<View>("front")
  const here = pin?.view === view ? pin.at : null
  const place = (event: PointerEvent<SVGRectElement>, px: Px) => {
    const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(event.currentTarget.ownerSVGElement!.getScreenCTM()!.inverse())
    onPin({ view, at: placeOn(view, px, at) })
  }
  const nudge = (event: KeyboardEvent) => {
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key]
    if (!by) return
    event.preventDefault()
    const step = event.shiftKey ? 10 * NUDGE : NUDGE
    onPin({ view, at: nudged(shape, view, here, [by[0]! * step, by[1]! * step]) })
  }
  const views = viewsOf(shape)
  return (
    <>
      {views.length > 1 && (
        <div role="radiogroup" aria-label="Seen from" className="mb-1.5 flex flex-wrap gap-1.5">
          {views.map(([one, name]) => (
            <label
              key={one}
              className={`flex min-h-11 items-center gap-2 border-line px-2.5 text-note ${view === one ? "border-ink bg-ground" : "border-rule"}`}
            >
              <input type="radio" className="radio radio-sm" name="view" checked={view === one} onChange={() => setView(one)} />
              {name}
            </label>
          ))}
        </div>
      )}
      <div
        role="application"
        aria-label={here ? "Pin on the vessel, placed. Arrow keys move it" : "Pin on the vessel, not placed yet. Arrow keys place it"}
        tabIndex={0}
        className="flex cursor-crosshair justify-center border-line border-rule bg-ground p-2"
        onKeyDown={nudge}
        data-testid="pin-field"
      >
        <Seen
          shape={shape}
          view={view}
          fit={FIT}
          order={bench.answer.openings.map((one) => one.name)}
          leaks={bench.leaks}
          water={bench.answer.medium === "water"}
          over={(px) => (
            <>
              {here && <Pin px={px} at={here} own={own} mark="+" />}
              <rect width="100%" height="100%" fill="transparent" onPointerDown={(event) => place(event, px)} />
            </>
          )}
        />
      </div>
    </>
  )
}

/** Is a place on it told from its middle? */
const fromMiddle = (view: View) => view !== "front" && view !== "back"

/** Where on the vessel a point of the drawing is, m. */
function placeOn(view: View, px: Px, at: { x: number; y: number }): Place {
  if (fromMiddle(view)) return [(at.x - px.x(0, 0)) / px.scale, (px.y(0, 0) - at.y) / px.scale]
  const [X0, Y0] = [px.x(0, 0) - px.frame.toSheet(0, 0)[0] * px.scale, px.y(0, 0) + px.frame.toSheet(0, 0)[1] * px.scale]
  return px.frame.toVessel((at.x - X0) / px.scale, (Y0 - at.y) / px.scale)
}

/** A pin moved by so much to the right and up (m), within the drawing; from its middle where there was none. */
function nudged(shape: BenchState["shape"], view: View, from: Place | null, by: Place): Place {
  const within = (most: number, least: number, value: number) => Math.min(most, Math.max(least, value))
  if (fromMiddle(view)) {
    const { wide, tall } = endOf(shape, view)
    const [h, u] = from ?? [0, 0]
    return [within(wide / 2, -wide / 2, h + by[0]), within(tall / 2, -tall / 2, u + by[1])]
  }
  const { wide, tall, toSheet, toVessel } = frameOf(shape, view === "back")
  const [X, Z] = from ? toSheet(...from) : [wide / 2, 0]
  return toVessel(within(wide, 0, X + by[0]), within(tall, 0, Z + by[1]))
}
