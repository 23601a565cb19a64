import { createAsyncStoragePersister } from "@tanstack/query-async-storage-persister"
import type { Query } from "@tanstack/react-query"
import type { PersistQueryClientOptions } from "@tanstack/react-query-persist-client"
import { deleteDB, type IDBPDatabase, openDB } from "idb"

const NAME = "toadbell-seen"
const MOST = 20_000
/** A trace longer than this is fetched anew. */
const DAY = 86_400_000

let opened: Promise<IDBPDatabase> | null = null
const shelf = () => (opened ??= openDB(NAME, 1, { upgrade: (db) => void db.createObjectStore("seen") }))

const storage = {
  getItem: async (key: string) => (await (await shelf()).get("seen", key)) as string | undefined,
  setItem: async (key: string, value: string) => (await shelf()).put("seen", value, key),
  removeItem: async (key: string) => (await shelf()).delete("seen", key),
}

type Restored = { clientState: { queries: { queryKey: readonly unknown[]; state: { data?: unknown; dataUpdatedAt: number } }[] } }

/** The page's own clock begins anew with each page: a bench that was kept arrived as long ago as the wall's clock says. */
export function again(text: string): never {
  const kept = JSON.parse(text) as Restored
  for (const { queryKey, state } of kept.clientState.queries)
    if (queryKey[0] === "bench" && state.data) (state.data as { received: number }).received = performance.now() - Math.max(0, Date.now() - state.dataUpdatedAt)
  return kept as never
}

const persister = createAsyncStoragePersister({ storage, key: NAME, throttleTime: 3_000, deserialize: again })

/** What of the workshop is still shown after a reload without the server: who is here, and the runs that were looked at. */
export const SEEN: Omit<PersistQueryClientOptions, "queryClient"> = {
  persister,
  maxAge: DAY,
  buster: import.meta.url, // the name of the file that this is in, which each build has its own of
  dehydrateOptions: {
    shouldDehydrateQuery: ({ queryKey, state }: Query) => {
      if (state.data === undefined) return false
      const trace = queryKey[0] === "trace" && queryKey.length === 2
      const points = trace ? (state.data as { series: { time: number[] }[] }).series.reduce((sum, one) => sum + one.time.length, 0) : 0
      return queryKey[0] === "me" || queryKey[0] === "bench" || (trace && points < MOST)
    },
  },
}

/** Forget all of it. */
export async function forgetSeen() {
  const open = opened
  opened = null
  if (open) (await open).close()
  await deleteDB(NAME, { blocked: () => undefined }).catch(() => undefined)
}
