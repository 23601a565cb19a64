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
const LOW = 2e4

export const isMetric = (habit: Habit) => habit !== "imperial"

/** The habit in which a plan of some pressure (Pa) is read: metric people read low heads in millibars. */
export function habitFor(units: Units, pressure: number | null | undefined): Habit {
  return units === "metric" && pressure != null && pressure < LOW ? "millibar" : units
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

/** A number with so many significant figures, no exponent, thin spaces between thousands, trailing noughts dropped. */
export function digits(value: number, figures = 3): string {
  if (!Number.isFinite(value)) return "–"
  const rounded = Number(value.toPrecision(figures))
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

/** A low pressure (Pa) as the water column that holds it: 1 mm of water is 9.80665 Pa. */
export function waterColumn(pressure: number): string {
  return `${digits(pressure / 9.80665, 3)} mm of water`
}

/** A pressure as on a dial: always the same number of decimals, so that figures do not jump. */
export function reading(value: number, habit: Habit): string {
  return inUnit(value, "pressure", habit).toFixed(habit === "metric" ? 2 : 1)
}

/** Energy in J or kJ, whichever reads better. */
export function energy(joule: number | null | undefined): string {
  if (joule === null || joule === undefined) return "not known"
  return joule >= 10_000 ? `${digits(joule / 1000)} kJ` : `${digits(joule)} J`
}

/** Seconds as 2:06, or 1:02:06. */
export function clock(seconds: number): string {
  const total = Math.max(0, Math.round(seconds))
  const [h, m, s] = [Math.floor(total / 3600), Math.floor(total / 60) % 60, total % 60]
  const tail = `${String(s).padStart(2, "0")}`
  return h ? `${h}:${String(m).padStart(2, "0")}:${tail}` : `${m}:${tail}`
}

/** How long ago, in words that fit a line. */
export function ago(seconds: number): string {
  if (seconds < 2) return "just now"
  if (seconds < 90) return `${Math.round(seconds)} s ago`
  if (seconds < 5400) return `${Math.round(seconds / 60)} min ago`
  return `${Math.round(seconds / 3600)} h ago`
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
