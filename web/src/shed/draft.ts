import type { Schema } from "../api/client"
/** What the vessel form holds: every field as typed. It becomes a sheet in the open format. */
export type Draft = {
  name: string
  kind: string
  working_pressure: string
  plate_pressure: string
  relief_set: string
  made: string
  retire: string
  form: Form
  inside_diameter: string
  length: string
  width: string
  height: string
  bilge: string
  head: string
  volume: string
  wall: string
  wall_measured: boolean
  unwelded: boolean
  thinnest: string
  material: string
  joint_efficiency: string
  corrosion: string
  end_form: string
  end_wall: string
  pitch: string
  stay_diameter: string
  crown: string
  knuckle: string
  tube_count: string
  tube_diameter: string
  tube_wall: string
  maker_test_limit: string
  design_temperature: string
  minimum_temperature: string
  empty_mass: string
  design: string
  layup: string
  closure: string
  position: "lying" | "standing"
  notes: string
}

export const FORMS = ["cylinder", "sphere", "drum", "box", "cask"] as const
export type Form = (typeof FORMS)[number]

export const EMPTY: Draft = {
  name: "", kind: "receiver", working_pressure: "", plate_pressure: "", relief_set: "", made: "", retire: "",
  form: "cylinder", inside_diameter: "", length: "", width: "", height: "", bilge: "", head: "", volume: "",
  wall: "", wall_measured: false, unwelded: false, thinnest: "", material: "carbon-steel",
  joint_efficiency: "0.7", corrosion: "", end_form: "ellipsoidal", end_wall: "", pitch: "", stay_diameter: "", crown: "", knuckle: "",
  tube_count: "", tube_diameter: "", tube_wall: "", maker_test_limit: "", design_temperature: "", minimum_temperature: "", empty_mass: "",
  design: "", layup: "", closure: "",
  position: "lying", notes: "",
} // prettier-ignore

/** The shape a kind usually has, for a vessel that nothing was entered of yet. */
export const USUAL: Record<string, Partial<Draft>> = {
  boiler: { form: "cylinder", material: "copper", end_form: "stayed", position: "lying" },
  receiver: { form: "cylinder", material: "carbon-steel", end_form: "ellipsoidal", position: "lying" },
  fermenter: { form: "cylinder", material: "stainless-304", end_form: "ellipsoidal", position: "standing" },
  chamber: { form: "cylinder", material: "aluminium-6061", end_form: "flat", position: "lying" },
  digester: { form: "drum" },
  "sheet-tank": { form: "box" },
  cooler: { form: "box" },
  enclosure: { form: "box" },
  cask: { form: "cask", position: "lying" },
  pipework: { form: "cylinder", material: "copper", end_form: "none", position: "lying" },
  joint: { form: "cylinder", material: "brass", end_form: "none", position: "lying" },
}

export type Sheet = Schema["VesselSheet"]
export type Part = Record<string, unknown>
export type Reading = string | { wall: string; along?: string; round?: string; date?: string }

const text = (value: unknown) => (typeof value === "string" ? value : value == null ? "" : String(value))
const year = (value: string) => (value.trim() === "" ? undefined : /^\d+$/.test(value.trim()) ? Number(value) : value)
const part = (sheet: Partial<Sheet>, key: keyof Sheet) => (sheet[key] as Part | null | undefined) ?? {}
export const wallOf = (reading: Reading) => (typeof reading === "string" ? reading : reading.wall)
export const readingsOf = (sheet: Partial<Sheet>) => (part(sheet, "shell")["wall_readings"] as Reading[] | undefined) ?? []
const clean = (sheet: Part) => JSON.parse(JSON.stringify(sheet)) as Sheet

/** The sheet of a draft; null until there is enough to look at. Keys the form does not know are kept from `before`. */
export function sheetOf(draft: Draft, before: Partial<Sheet> = {}): Sheet | null {
  if (!draft.working_pressure.trim()) return null
  return clean({
    ...before,
    kind: draft.kind,
    working_pressure: draft.working_pressure,
    plate_pressure: draft.plate_pressure || undefined,
    relief_set: draft.relief_set || undefined,
    maker_test_limit: draft.maker_test_limit || undefined,
    design_temperature: draft.design_temperature || undefined,
    minimum_temperature: draft.minimum_temperature || undefined,
    empty_mass: draft.empty_mass || undefined,
    volume: draft.volume || undefined,
    design: draft.design.trim() || undefined,
    layup: draft.layup.trim() || undefined,
    closure: draft.closure.trim() || undefined,
    made: year(draft.made),
    retire: year(draft.retire),
    position: draft.position,
    ...shapeOf(draft, before),
  })
}

/** Is a metal softer beside a weld? Then it is taken as welded unless somebody says that nothing is. */
export const softens = (material: string) => material.startsWith("aluminium")

/** Flat sides as thick as they are: nothing is known of them without a wall. */
const sidesOf = (draft: Draft) => (draft.wall.trim() ? { wall: draft.wall, material: draft.material } : {})

function shapeOf(draft: Draft, before: Partial<Sheet>): Part {
  const none = { shell: undefined, ends: undefined, box: undefined, cask: undefined, tubes: undefined }
  if (draft.form === "drum")
    return { ...none, box: draft.inside_diameter && draft.height ? { diameter: draft.inside_diameter, height: draft.height, ...sidesOf(draft) } : undefined }
  if (draft.form === "box") {
    const known = draft.length && draft.width && draft.height
    return { ...none, box: known ? { length: draft.length, width: draft.width, height: draft.height, ...sidesOf(draft) } : undefined }
  }
  if (draft.form === "cask") {
    const known = draft.bilge && draft.head && draft.length
    return { ...none, cask: known ? { bilge: draft.bilge, head: draft.head, length: draft.length } : undefined }
  }
  if (!draft.inside_diameter.trim()) return none
  const shell: Part = {
    ...part(before, "shell"),
    form: draft.form,
    inside_diameter: draft.inside_diameter,
    length: draft.form === "cylinder" ? draft.length || undefined : undefined,
    wall: draft.wall || undefined,
    wall_measured: draft.wall_measured,
    welded: softens(draft.material) && draft.unwelded ? false : undefined,
    wall_readings: readings(before, draft.thinnest),
    material: draft.material,
    joint_efficiency: Number(draft.joint_efficiency) || undefined,
    corrosion: draft.corrosion || undefined,
  }
  return { ...none, shell, ends: draft.form === "cylinder" ? endsOf(draft, before) : [], tubes: tubesOf(draft, before) }
}

/** Two ends alike, unless the vessel has two that differ: then the form leaves them as they are. */
function endsOf(draft: Draft, before: Partial<Sheet>): unknown {
  if (draft.end_form === "none") return []
  const old = (before["ends"] as Part[] | undefined) ?? []
  if (draft.end_form === "mixed") return old
  const stayed = draft.end_form === "stayed"
  const dished = draft.end_form === "torispherical"
  const end = {
    form: draft.end_form,
    wall: draft.end_wall || undefined,
    pitch: stayed ? draft.pitch || undefined : undefined,
    stay_diameter: stayed ? draft.stay_diameter || undefined : undefined,
    crown: dished ? draft.crown || undefined : undefined,
    knuckle: dished ? draft.knuckle || undefined : undefined,
  }
  return [0, 1].map((i) => ({ ...kept(old[i]), ...end }))
}

/** What an end has beyond the form's fields. */
function kept(end: Part | undefined): Part {
  const { wall_readings, material, attachment } = end ?? {}
  return { wall_readings, material, attachment }
}

function tubesOf(draft: Draft, before: Partial<Sheet>): unknown {
  if (!draft.tube_diameter.trim()) return undefined
  const [old = {}, ...others] = (before["tubes"] as Part[] | undefined) ?? []
  const count = /^\d+$/.test(draft.tube_count.trim()) ? Number(draft.tube_count) : draft.tube_count || 1
  return [{ ...old, count, outside_diameter: draft.tube_diameter, wall: draft.tube_wall }, ...others]
}

/** Wall readings are a list in the sheet; the form shows and changes the thinnest where none has a place. */
function readings(before: Partial<Sheet>, thinnest: string): unknown {
  const old = readingsOf(before)
  if (old.some((reading) => typeof reading !== "string")) return old
  if (!thinnest.trim()) return undefined
  return old.map(wallOf).includes(thinnest) ? old : [thinnest]
}

const same = (ends: Part[]) => ends.length < 2 || JSON.stringify({ ...ends[0], wall_readings: 0 }) === JSON.stringify({ ...ends[1], wall_readings: 0 })

/** The draft of a vessel that hangs already. */
export function draftOf(name: string, notes: string, sheet: Sheet, thinnest: string): Draft {
  const [shell, box, cask] = [part(sheet, "shell"), part(sheet, "box"), part(sheet, "cask")]
  const ends = (sheet["ends"] as Part[] | undefined) ?? []
  const end = ends[0] ?? {}
  const tube = ((sheet["tubes"] as Part[] | undefined) ?? [])[0] ?? {}
  const form: Form = sheet["box"] ? (box["diameter"] ? "drum" : "box") : sheet["cask"] ? "cask" : shell["form"] === "sphere" ? "sphere" : "cylinder"
  const plain = [
    "kind",
    "working_pressure",
    "plate_pressure",
    "relief_set",
    "made",
    "retire",
    "volume",
    "maker_test_limit",
    "design_temperature",
    "minimum_temperature",
    "empty_mass",
    "design",
    "layup",
    "closure",
  ] as const
  return {
    ...EMPTY,
    ...Object.fromEntries(plain.map((key) => [key, text(sheet[key])])),
    name,
    notes,
    form,
    inside_diameter: text(shell["inside_diameter"] ?? box["diameter"]),
    length: text(shell["length"] ?? box["length"] ?? cask["length"]),
    width: text(box["width"]),
    height: text(box["height"]),
    bilge: text(cask["bilge"]),
    head: text(cask["head"]),
    wall: text(shell["wall"] ?? box["wall"]),
    wall_measured: shell["wall_measured"] === true,
    unwelded: shell["welded"] === false,
    thinnest,
    material: text(shell["material"] ?? box["material"]) || "other",
    joint_efficiency: text(shell["joint_efficiency"] ?? 0.7),
    corrosion: text(shell["corrosion"]),
    end_form: ends.length === 0 ? (sheet["shell"] ? "none" : "ellipsoidal") : same(ends) ? text(end["form"]) : "mixed",
    end_wall: text(end["wall"]),
    pitch: text(end["pitch"]),
    stay_diameter: text(end["stay_diameter"]),
    crown: text(end["crown"]),
    knuckle: text(end["knuckle"]),
    tube_count: text(tube["count"]),
    tube_diameter: text(tube["outside_diameter"]),
    tube_wall: text(tube["wall"]),
    position: sheet["position"] === "standing" ? "standing" : "lying",
  } as Draft
}

/** The thinnest reading as it is written, by what the server says of the sheet. */
export function thinnestWritten(sheet: Partial<Sheet>, answer: Schema["DeriveAnswer"] | null | undefined): string {
  const reading = readingsOf(sheet)[answer?.wall?.thinnest_reading ?? 0]
  return reading ? wallOf(reading) : ""
}
