import type { QueryClient } from "@tanstack/react-query"
import { api, asked, Refusal } from "../api/client"
import type { Schema } from "../api/client"
import type { paths } from "../api/schema"
import type { Item } from "./outbox"

type Step = paths["/api/trials/{trial_id}/steps"]["post"]["requestBody"]["content"]["application/json"]

export type BenchState = Schema["BenchOut"] & {
  /** When it arrived, by the page's own steady clock, ms. */
  received: number
  /** When the last step, reading or key of the rig was answered, by the same clock: no look that was asked before undoes it. */
  answered: number
}

const path = (id: string) => ({ params: { path: { trial_id: id } } })

/** A bench as it arrived. The judge's view of a hold that runs is kept until the next look: what answers a step has none. */
export function arrived(state: Schema["BenchOut"], before?: BenchState): BenchState {
  const [hold, was] = [state.hold, before?.hold]
  const same = hold && was && hold.began === was.began && hold.says == null
  const kept = same ? { ...hold, verdict: was.verdict, more: was.more, says: was.says, drop_from_temperature: was.drop_from_temperature } : hold
  return { ...state, hold: kept, received: performance.now(), answered: performance.now() }
}

/** Send one thing that was done at a bench, from whatever page; the hand that did it is the one that sends it. */
export async function sendItem(queries: QueryClient, item: Item, late: boolean): Promise<void> {
  const keep = (state: Schema["BenchOut"]) => queries.setQueryData<BenchState>(["bench", item.trial], (before) => arrived(state, before))
  const headers = item.hand ? { "X-Hand": item.hand } : undefined
  if (item.kind === "reading") {
    const body = [{ ...item.body, id: item.id, at: late ? item.at : null } as Schema["ReadingIn"]]
    const taken = await asked(api.POST("/api/trials/{trial_id}/readings", { ...path(item.trial), body, headers }))
    await queries.invalidateQueries({ queryKey: ["bench", item.trial] })
    if (taken.differs?.length) throw new Refusal(taken.says ?? "Another reading stands under this id.", null, 409)
  } else if (item.kind === "step") {
    const body = { ...item.body, id: item.id, at: late ? item.at : null } as Step
    keep(await asked(api.POST("/api/trials/{trial_id}/steps", { ...path(item.trial), body, headers })))
  } else {
    keep(await asked(postPhoto(item, late)))
  }
}

async function postPhoto(item: Item, late: boolean): Promise<{ data?: Schema["BenchOut"]; error?: unknown; response: Response }> {
  if (!item.photo) throw new Refusal("The picture is gone from this browser. Take it again.", null, 409)
  const form = new FormData()
  form.set("id", item.id)
  form.set("text", String(item.body.text ?? ""))
  if (item.body.leak) form.set("leak", String(item.body.leak))
  if (late) form.set("at", item.at)
  form.set("photo", item.photo, "photo.jpg")
  return api.POST("/api/trials/{trial_id}/photos", { ...path(item.trial), body: form as never, bodySerializer: () => form })
}
