import type { Schema } from "../api/client"

/** A vessel as a file tells it. */
export type WrittenSheet = { name: string; notes: string; sheet: Schema["VesselSheet"] }

/** A vessel's sheet, bare or with a name and notes. */
export async function readSheet(file: File): Promise<WrittenSheet> {
  let found: unknown
  try {
    found = JSON.parse(await file.text())
  } catch {
    throw new Error("That is no sheet: it cannot be read as JSON.")
  }
  const whole = found as (Partial<WrittenSheet> & Record<string, unknown>) | null
  const sheet = whole?.sheet ?? whole
  if (typeof sheet !== "object" || sheet === null || !("kind" in sheet)) throw new Error("That is no vessel's sheet: it says no kind.")
  return {
    name: String(whole?.name ?? file.name.replace(/\.json$/i, "")).slice(0, 120),
    notes: String(whole?.notes ?? ""),
    sheet: sheet as WrittenSheet["sheet"],
  }
}
