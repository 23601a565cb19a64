import { day, habitFor, show, type Habit } from "./units"

export type Fitness = "fit" | "limited" | "tight" | "not fit" | "not proven"
const TONES: Record<Fitness, string> = {
  fit: "text-moss",
  limited: "text-brass-ink",
  tight: "text-water-ink",
  "not fit": "text-vermilion",
  "not proven": "text-quiet",
}

type TagProps = { fitness: Fitness; pressure?: number | null; date?: string | null; note?: string; habit: Habit; large?: boolean; practice?: boolean }

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

/** Where a tag would hang: a run on the simulated rig ends in none. */
function Practice({ large, would }: { large: boolean; would: Fitness }) {
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
