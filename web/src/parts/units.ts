import { LOW_HEAD } from "../api/core"

/** Display units. The core computes in SI; the browser only writes figures in the person's habit. */
export type Units = "metric" | "imperial"
/** A person's units; a low head is read in millibars. */
export type Habit = Units | "millibar"

type Unit = { name: string; size: number; offset?: number }

const UNITS = {
  pressure: { metric: { name: "bar", size: 1e5 }, imperial: { name: "psi", size: 6894.757293168 } },
  length: { metric: { name: "mm", size: 1e-3 }, imperial: { name: "in", size: 0.0254 } },
  height: { metric: { name: "m", size: 1 }, imperial: { name: "ft", size: 0.3048 } },
  volume: { metric: { name: "L", size: 1e-3 }, imperial: { name: "gal", size: 3.785411784e-3 } },
  small: { metric: { name: "mL", size: 1e-6 }, imperial: { name: "mL", size: 1e-6 } },
  mass: { metric: { name: "kg", size: 1 }, imperial: { name: "lb", size: 0.45359237 } },
  leak: { metric: { name: "mL/h", size: 1e-6 / 3600 }, imperial: { name: "mL/h", size: 1e-6 / 3600 } },
  compliance: { metric: { name: "mL/bar", size: 1e-11 }, imperial: { name: "mL/psi", size: 1e-6 / 6894.757293168 } },
  temperature: { metric: { name: "°C", size: 1, offset: 273.15 }, imperial: { name: "°F", size: 5 / 9, offset: 459.67 * (5 / 9) } },
} satisfies Record<string, Record<Units, Unit>>

export type Kind = keyof typeof UNITS

const MILLIBAR: Unit = { name: "mbar", size: 100 }

export const isMetric = (habit: Habit) => habit !== "imperial"

/** The habit in which a plan of some pressure (Pa) is read: metric people read low heads in millibars. */
export function habitFor(units: Units, pressure: number | null | undefined): Habit {
  return units === "metric" && pressure != null && pressure < LOW_HEAD ? "millibar" : units
}

function unit(kind: Kind, habit: Habit): Unit {
  if (habit === "millibar") return kind === "pressure" ? MILLIBAR : UNITS[kind].metric
  return UNITS[kind][habit]
}

export function unitOf(kind: Kind, habit: Habit): string {
  return unit(kind, habit).name
}

/** An SI value as a number in the habit's unit. */
export function inUnit(value: number, kind: Kind, habit: Habit): number {
  const { offset = 0, size } = unit(kind, habit)
  return (value - offset) / size
}

/**
 * A number with so many significant figures, no exponent, thin spaces between thousands, trailing noughts dropped; `up`: never
 * less than it is, as what has to be reached is told, but for what a computer's own rounding adds.
 */
export function digits(value: number, figures = 3, up = false): string {
  if (!Number.isFinite(value)) return "–"
  const place = 10 ** (figures - 1 - order(value))
  const rounded = (up ? Math.ceil(value * place * (1 - 1e-9)) / place : Number(value.toPrecision(figures))) || 0
  const [whole = "0", part] = Math.abs(rounded)
    .toFixed(Math.max(0, figures - 1 - order(rounded)))
    .split(".")
  const grouped = whole.length > 4 ? whole.replace(/\B(?=(\d{3})+$)/g, "\u2009") : whole
  const decimals = part?.replace(/0+$/, "")
  return (rounded < 0 ? "−" : "") + grouped + (decimals ? `.${decimals}` : "")
}

function order(value: number): number {
  return value === 0 ? 0 : Math.floor(Math.log10(Math.abs(value)))
}

/** An SI value with its unit; "not known" where it is null. */
export function show(value: number | null | undefined, kind: Kind, habit: Habit, figures = 3): string {
  if (value === null || value === undefined) return "not known"
  return `${digits(inUnit(value, kind, habit), figures)} ${unitOf(kind, habit)}`
}

/** What has to be reached (Pa), as glass, course and card write it: to four figures, never less than it is. */
export function aim(pressure: number, habit: Habit): string {
  return digits(inUnit(pressure, "pressure", habit), 4, true)
}

/** A low pressure (Pa) as the water column that holds it: 1 mm of water is 9.80665 Pa. */
export function waterColumn(pressure: number): string {
  return `${digits(pressure / 9.80665, 3)} mm of water`
}

/** Up to here a dial is read to thousandths of a bar, Pa. */
const FINE = 4e5

/**
 * A pressure as on a dial: always the same number of decimals on one bench, so that figures do not jump. On the way to a low
 * test one more, or 0.675 would stand there as 0.68 where 0.679 is to be reached.
 */
export function reading(value: number, habit: Habit, target: number | null | undefined): string {
  const fine = habit !== "millibar" && target != null && target < FINE ? 1 : 0
  return inUnit(value, "pressure", habit).toFixed((habit === "metric" ? 2 : 1) + fine)
}

/** A leak as a person says it: air leaks in litres an hour, water in millilitres; gas that is held goes by the day. */
export function leak(value: number, habit: Habit, unit = true, byDay = false): string {
  if (byDay) return `${digits(value * 86_400_000, 2)}${unit ? " L/day" : ""}`
  const mlh = inUnit(value, "leak", habit)
  const [number, name] = Math.abs(mlh) >= 1000 ? [mlh / 1000, "L/h"] : [mlh, "mL/h"]
  return unit ? `${digits(number, 2)} ${name}` : digits(number, 2)
}

/** Energy in J or kJ, whichever reads better. */
export function energy(joule: number | null | undefined): string {
  if (joule === null || joule === undefined) return "not known"
  if (joule > 0 && joule < 0.1) return "under 0.1 J"
  return joule >= 1e7 ? `${digits(joule / 1e6)} MJ` : joule >= 10_000 ? `${digits(joule / 1000)} kJ` : `${digits(joule)} J`
}

/** A length of time as people say it: 45 s, 2 min 30 s, 30 min, 17 h 45 min, 3 days. */
export function span(seconds: number): string {
  const whole = Math.round(seconds)
  if (whole < 60) return `${whole} s`
  if (whole < 600) return two(whole, 60, "min", "s")
  const minutes = Math.round(seconds / 60)
  if (minutes < 120) return `${minutes} min`
  return minutes < 48 * 60 ? two(minutes, 60, "h", "min") : two(Math.round(seconds / 3600), 24, "days", "h")
}

function two(whole: number, large: number, name: string, under: string): string {
  const rest = whole % large
  return `${Math.floor(whole / large)} ${name}${rest ? ` ${rest} ${under}` : ""}`
}

/** In which unit a stretch of time is ruled: minutes, or hours from four hours on. */
export function ruledIn(seconds: number): { size: number; name: string } {
  return seconds >= 4 * 3600 ? { size: 3600, name: "hours" } : { size: 60, name: "minutes" }
}

/** Seconds as 2:06, or 1:02:06; from two days on in words, for no clock shows so much. */
export function clock(seconds: number): string {
  const total = Math.max(0, Math.round(seconds))
  if (total >= 48 * 3600) return span(total)
  const [h, m, s] = [Math.floor(total / 3600), Math.floor(total / 60) % 60, total % 60]
  const tail = `${String(s).padStart(2, "0")}`
  return h ? `${h}:${String(m).padStart(2, "0")}:${tail}` : `${m}:${tail}`
}

/** How long ago, in words that fit a line. */
export function ago(seconds: number): string {
  if (seconds < 2) return "just now"
  if (seconds < 90) return `${Math.round(seconds)} s ago`
  return `${span(seconds < 7200 ? Math.round(seconds / 60) * 60 : Math.round(seconds / 3600) * 3600)} ago`
}

/** How far off a day is, in words. */
export function howFar(days: number): string {
  const n = Math.abs(days)
  const words = n < 60 ? `${n} ${n === 1 ? "day" : "days"}` : n < 730 ? `${Math.round(n / 30.44)} months` : `${Math.round(n / 365.25)} years`
  return days < 0 ? `${words} ago` : days === 0 ? "today" : `in ${words}`
}

const ORDINALS = ["", "first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth", "ninth", "tenth"]

/** first, second, … 11th */
export function ordinal(n: number): string {
  return ORDINALS[n] ?? `${n}th`
}

/** 24 Nov 2026 */
export function day(iso: string | null | undefined): string {
  return written(iso, { day: "numeric", month: "short", year: "numeric" })
}

/** November 2026 */
export function month(iso: string | null | undefined): string {
  return written(iso, { month: "long", year: "numeric" })
}

/** 24 Nov 2026, 14:05 */
export function moment(iso: string | null | undefined): string {
  return written(iso, { day: "numeric", month: "short", year: "numeric", hour: "2-digit", minute: "2-digit" })
}

/** 14:05 */
export function hourOf(iso: string | null | undefined): string {
  return written(iso, { hour: "2-digit", minute: "2-digit" })
}

/** 14:05:09 */
export function timeOfDay(iso: string | null | undefined): string {
  return written(iso, { hour: "2-digit", minute: "2-digit", second: "2-digit" })
}

/** Today in the workshop's zone, as 2026-11-24. */
export function today(): string {
  return new Date().toLocaleDateString("sv-SE", zone ? { timeZone: zone } : {})
}

let zone: string | undefined

/** The zone in which moments are told, from the workshop's settings. */
export function tellIn(workshop: string) {
  zone = workshop
}

/** A day is a day wherever it is read; a moment is told in the workshop's zone. */
function written(iso: string | null | undefined, how: Intl.DateTimeFormatOptions): string {
  if (!iso) return "not known"
  const timeZone = /^\d{4}-\d\d-\d\d$/.test(iso) ? "UTC" : zone
  return new Date(iso).toLocaleString("en-GB", { ...how, ...(timeZone ? { timeZone } : {}) })
}
