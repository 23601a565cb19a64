import createClient, { type Middleware } from "openapi-fetch"
import type { components, paths } from "./schema"
import { windowId } from "./window"

export type Schema = components["schemas"]

/** What the server says when something cannot be done: a sentence for people, and the field it is about. */
export class Refusal extends Error {
  constructor(
    says: string,
    readonly field: string | null,
    readonly status: number,
  ) {
    super(says)
  }
}

/** Told to the page when the server lets this browser in no longer, with the refusal. */
export const LET_IN_NO_LONGER = "toadbell:out"

function token() {
  return document.cookie.match(/(?:^|; )toadbell_csrf=([^;]+)/)?.[1] ?? ""
}

const withToken: Middleware = {
  onRequest({ request }) {
    if (request.method !== "GET") {
      request.headers.set("X-CSRFToken", token())
      request.headers.set("X-Refusals", "answer")
    }
    if (!request.headers.has("X-Hand")) request.headers.set("X-Hand", windowId())
    return request
  },
}

const LOOKS = /\/(look|live|bench|trace|stop|hand|steps|readings)(\?|$)/
/** How long an answer is waited for, ms: a line that fell silent is no answer, and has to be said. A look at a run is asked again soon, a step has an id that makes it once, and whoever calls stop must know at once that nobody heard. */
const patience = (url: string) => (LOOKS.test(url) ? 6_000 : 60_000)

const fetched = (request: Request) => globalThis.fetch(request, { signal: AbortSignal.any([request.signal, AbortSignal.timeout(patience(request.url))]) })

export const api = createClient<paths>({ baseUrl: "", fetch: fetched })
api.use(withToken)

/** The data of an answer, or a Refusal in the server's own words. */
export async function asked<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let answer
  try {
    answer = await call
  } catch {
    throw new Refusal("The server does not answer. What you typed is still here; it goes on when the server is back.", null, 0)
  }
  const refused = Number(answer.response.headers.get("X-Refused"))
  if (answer.data !== undefined && answer.response.ok && !refused) return answer.data
  const said = ((refused ? answer.data : answer.error) ?? {}) as { says?: string; field?: string | null }
  const refusal = new Refusal(said.says ?? "The server did not understand this. Try again.", said.field ?? null, refused || answer.response.status)
  if (refusal.status === 401) dispatchEvent(new CustomEvent(LET_IN_NO_LONGER, { detail: refusal }))
  throw refusal
}
