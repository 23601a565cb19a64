import type { Schema } from "../api/client"
import { day, habitFor, show, type Habit } from "./units"

export type Fitness = "fit" | "limited" | "tight" | "not fit" | "not proven"
const TONES: Record<Fitness, string> = {
  fit: "text-moss",
  limited: "text-brass-ink",
  tight: "text-water-ink",
  "not fit": "text-vermilion",
  "not proven": "text-quiet",
}

/** What is decided of a relief valve after its own test. */
export type Valve = Schema["Decidable"]["valve"]
const VALVE_TONES: Record<Exclude<Valve, "">, string> = { good: "text-moss", reset: "text-brass-ink", bad: "text-vermilion", "cannot-tell": "text-quiet" }

type TagProps = {
  fitness: Fitness
  pressure?: number | null
  date?: string | null
  note?: string
  habit: Habit
  large?: boolean
  practice?: boolean
}

/** The workshop tag: its shape says the same as its colour and its words. */
export function Tag({ fitness, pressure, date, note, habit, large = false, practice = false }: TagProps) {
  if (practice) return <Practice large={large} would={fitness} />
  const [w, h] = large ? [290, 94] : [146, 54]
  const c = large ? 22 : 14
  const outline = {
    fit: `M${c} 1 H${w - 5} a4 4 0 0 1 4 4 V${h - 5} a4 4 0 0 1 -4 4 H${c} L1 ${h - c} V${c} Z`,
    limited: `M1 1 H${w - c} L${w - 1} ${c} V${h - 1} H1 Z`,
    tight: `M${c} 1 H${w - c} L${w - 1} ${h / 2} L${w - c} ${h - 1} H${c} L1 ${h / 2} Z`,
    "not fit": `M1 1 H${w - 1} V${h - 1} H1 Z`,
    "not proven": `M1 1 H${w - 1} V${h - 1} H1 Z`,
  }[fitness]
  const figure = pressure != null ? show(pressure, "pressure", habit === "metric" ? habitFor(habit, pressure) : habit, 3) : (note ?? "")
  return (
    <span className={`relative inline-block shrink-0 ${TONES[fitness]}`} style={{ width: w, height: h }} data-testid="tag">
      <svg width={w} height={h} className="absolute inset-0" aria-hidden="true" fill="var(--color-paper)" stroke="currentColor" strokeWidth="2">
        <path d={outline} strokeDasharray={fitness === "not proven" ? "5 4" : undefined} />
        {fitness === "fit" && <circle cx={large ? 26 : 14} cy={h / 2} r={large ? 9 : 5} />}
        {fitness === "not fit" && <path d={`M1 ${h - 1} L${w - 1} 1`} opacity="0.45" />}
      </svg>
      <span
        className={`absolute inset-0 flex flex-col justify-center ${large ? "pl-14" : fitness === "fit" || fitness === "tight" ? "pl-7" : "pl-4"} text-left leading-tight`}
      >
        <span className={`font-semibold ${large ? "text-lg" : "text-small"}`}>{fitness}</span>
        {figure && <span className={`figure text-ink ${large ? "text-3xl" : "text-note"}`}>{figure}</span>}
        {date && <span className={`${large ? "text-sm" : "text-fine"} text-quiet`}>{day(date)}</span>}
      </span>
    </span>
  )
}

type DecidedProps = Omit<TagProps, "fitness" | "pressure"> & { decision: { fitness: string; valve: Valve; says: string; pressure?: number | null } }

/** The tag of what was decided, or is advised: the vessel's, or after a relief valve's own test the valve's. */
export function DecidedTag({ decision: { fitness, valve, says, pressure }, ...how }: DecidedProps) {
  if (how.practice) return <Practice large={how.large ?? false} would={says} />
  if (valve) return <OfValve valve={valve} says={says} date={how.date} large={how.large ?? false} />
  return <Tag fitness={fitness as Fitness} pressure={pressure} {...how} />
}

/** What hangs on the valve after its own test: none of the vessel's shapes, for it says nothing of the vessel. */
function OfValve({ valve, says, date, large }: { valve: Exclude<Valve, "">; says: string; date?: string | null; large: boolean }) {
  return (
    <span
      className={`inline-flex shrink-0 flex-col justify-center rounded-full border-line border-current bg-paper text-left leading-tight ${VALVE_TONES[valve]} ${large ? "h-[94px] w-[290px] px-9" : "h-[54px] w-[146px] px-4"}`}
      data-testid="tag"
    >
      <span className={`font-semibold ${large ? "text-lg" : "text-small"}`}>{says}</span>
      <span className={`${large ? "text-sm" : "text-fine"} text-quiet`}>{large ? "says nothing about the vessel" : "the valve alone"}</span>
      {date && <span className={`${large ? "text-sm" : "text-fine"} text-quiet`}>{day(date)}</span>}
    </span>
  )
}

/** Where a tag would hang: a run on the simulated rig ends in none. */
function Practice({ large, would }: { large: boolean; would: string }) {
  return (
    <span
      className={`inline-flex flex-col justify-center border-2 border-dotted border-quiet px-4 text-left leading-tight text-quiet ${large ? "h-[94px] w-[290px]" : "h-[54px] w-[146px]"}`}
      data-testid="tag"
    >
      <span className={`font-semibold ${large ? "text-lg" : "text-small"}`}>practice</span>
      <span className={large ? "text-sm" : "text-fine"}>{large ? `on a real rig: ${would}. It proves nothing here.` : "proves nothing"}</span>
    </span>
  )
}
