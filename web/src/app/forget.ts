import type { QueryClient } from "@tanstack/react-query"
import { deleteDB } from "idb"
import { api } from "../api/client"
import { closeShelf } from "../bench/outbox"
import { forgetSeen } from "./seen"

/** Nothing of the workshop's stays in this browser: not what was seen, not what waited, not the application itself. */
export async function forget(queries: QueryClient) {
  queries.clear()
  sessionStorage.clear()
  localStorage.clear()
  await closeShelf()
  await api.POST("/api/forget").catch(() => undefined) // and the browser itself is told to
  await Promise.all([forgetSeen(), deleteDB("toadbell", { blocked: () => undefined }).catch(() => undefined)])
  if ("caches" in window) for (const name of await caches.keys()) await caches.delete(name)
  for (const one of (await navigator.serviceWorker?.getRegistrations()) ?? []) await one.unregister()
}
