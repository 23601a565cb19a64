/** What the vessel form holds: every field as typed. It becomes a sheet in the open format. */
export type Draft = {
  name: string
  kind: string
  working_pressure: string
  plate_pressure: string
  relief_set: string
  made: string
  retire: string
  form: "cylinder" | "sphere"
  inside_diameter: string
  length: string
  wall: string
  wall_measured: boolean
  thinnest: string
  material: string
  joint_efficiency: string
  corrosion: string
  end_form: string
  end_wall: string
  pitch: string
  position: "lying" | "standing"
  notes: string
}

export const EMPTY: Draft = {
  name: "", kind: "receiver", working_pressure: "", plate_pressure: "", relief_set: "", made: "", retire: "",
  form: "cylinder", inside_diameter: "", length: "", wall: "", wall_measured: false, thinnest: "", material: "carbon-steel",
  joint_efficiency: "0.7", corrosion: "", end_form: "ellipsoidal", end_wall: "", pitch: "", position: "lying", notes: "",
} // prettier-ignore

type Sheet = Record<string, unknown>
type Part = Record<string, unknown>

const text = (value: unknown) => (typeof value === "string" ? value : value == null ? "" : String(value))
const year = (value: string) => (value.trim() === "" ? undefined : /^\d+$/.test(value.trim()) ? Number(value) : value)

/** The sheet of a draft; null until there is enough to look at. Keys the form does not know are kept from `before`. */
export function sheetOf(draft: Draft, before: Sheet = {}): Sheet | null {
  if (!draft.working_pressure.trim()) return null
  const shell: Part = {
    ...((before["shell"] as Part | undefined) ?? {}),
    form: draft.form,
    inside_diameter: draft.inside_diameter,
    length: draft.form === "cylinder" ? draft.length : undefined,
    wall: draft.wall || undefined,
    wall_measured: draft.wall_measured,
    wall_readings: readings(before, draft.thinnest),
    material: draft.material,
    joint_efficiency: Number(draft.joint_efficiency) || undefined,
    corrosion: draft.corrosion || undefined,
  }
  const end: Part = { form: draft.end_form, wall: draft.end_wall || undefined, pitch: draft.end_form === "stayed" ? draft.pitch || undefined : undefined }
  const sheet: Sheet = {
    ...before,
    kind: draft.kind,
    working_pressure: draft.working_pressure,
    plate_pressure: draft.plate_pressure || undefined,
    relief_set: draft.relief_set || undefined,
    made: year(draft.made),
    retire: year(draft.retire),
    shell: draft.inside_diameter.trim() ? shell : undefined,
    ends: draft.form === "cylinder" && draft.inside_diameter.trim() ? [end, end] : [],
    position: draft.position,
  }
  return JSON.parse(JSON.stringify(sheet)) as Sheet
}

/** Wall readings are a list in the sheet; the form shows and changes the thinnest. */
function readings(before: Sheet, thinnest: string): unknown {
  const old = ((before["shell"] as Part | undefined)?.["wall_readings"] as string[] | undefined) ?? []
  if (!thinnest.trim()) return undefined
  return old.includes(thinnest) ? old : [thinnest]
}

/** The draft of a vessel that hangs already. */
export function draftOf(name: string, notes: string, sheet: Sheet, thinnest: string): Draft {
  const shell = (sheet["shell"] as Part | undefined) ?? {}
  const end = ((sheet["ends"] as Part[] | undefined) ?? [])[0] ?? {}
  return {
    ...EMPTY,
    name,
    notes,
    kind: text(sheet["kind"]),
    working_pressure: text(sheet["working_pressure"]),
    plate_pressure: text(sheet["plate_pressure"]),
    relief_set: text(sheet["relief_set"]),
    made: text(sheet["made"]),
    retire: text(sheet["retire"]),
    form: shell["form"] === "sphere" ? "sphere" : "cylinder",
    inside_diameter: text(shell["inside_diameter"]),
    length: text(shell["length"]),
    wall: text(shell["wall"]),
    wall_measured: shell["wall_measured"] === true,
    thinnest,
    material: text(shell["material"]) || "other",
    joint_efficiency: text(shell["joint_efficiency"] ?? 0.7),
    corrosion: text(shell["corrosion"]),
    end_form: text(end["form"]) || "ellipsoidal",
    end_wall: text(end["wall"]),
    pitch: text(end["pitch"]),
    position: sheet["position"] === "standing" ? "standing" : "lying",
  }
}

/** The reading, as written, that is the thinnest; `size` is the core's figure for it, mm. */
export function thinnestWritten(sheet: Sheet): string {
  const list = ((sheet["shell"] as Part | undefined)?.["wall_readings"] as string[] | undefined) ?? []
  return [...list].sort((a, b) => Number.parseFloat(a) - Number.parseFloat(b))[0] ?? ""
}
