import { openDB, type DBSchema, type IDBPDatabase } from "idb"
import { useEffect, useMemo, useSyncExternalStore } from "react"
import { Refusal } from "../api/client"

/** Something done at the bench that has to reach the server once: written down here first, sent then. */
export type Item = {
  id: string
  trial: string
  kind: "step" | "reading" | "photo"
  /** What the log will say of it, until the server says it. */
  says: string
  /** When it was done, for the server where it could not be sent at once. */
  at: string
  body: Record<string, unknown>
  photo?: Blob
  tried: boolean
  /** Whose hand did it. */
  hand?: string
  /** Why the server would not have it. */
  refused: string | null
  /** It is in this page alone: the browser's database did not take it, or not yet. */
  loose?: boolean
}

/** Sends an item; `late` where it was tried before. */
export type Send = (item: Item, late: boolean) => Promise<void>

/** Where items lie until they are kept: a browser's own database, or a list in tests. */
export type Shelf = {
  all: () => Promise<Item[]>
  put: (item: Item) => Promise<void>
  drop: (id: string) => Promise<void>
}

interface Kept extends DBSchema {
  outbox: { key: string; value: Item & { order: number } }
}

let database: Promise<IDBPDatabase<Kept>> | null = null
let order = Date.now()

const open = () =>
  (database ??= openDB<Kept>("toadbell", 1, {
    upgrade: (db) => db.createObjectStore("outbox", { keyPath: "id" }),
    terminated: () => (database = null),
  }))

/** How long the browser's database is waited for, ms: a reading is sent whether it answers or not. */
const PATIENCE = 1000

class Silent extends Error {}

/** What was begun, or an error where it does not come about in time. */
const inTime = <T>(begun: Promise<T>): Promise<T> => {
  let timer: ReturnType<typeof setTimeout>
  const late = new Promise<never>((_, fail) => (timer = setTimeout(() => fail(new Silent("The browser's database does not answer.")), PATIENCE)))
  return Promise.race([begun, late]).finally(() => clearTimeout(timer))
}

/** Something done with the database; one that fails or falls silent is opened anew the next time. */
const withIt = async <T>(act: (db: IDBPDatabase<Kept>) => Promise<T>): Promise<T> => {
  const opened = open()
  try {
    return await inTime(opened.then(act))
  } catch (problem) {
    if (database === opened) database = null
    void opened.then((db) => db.close()).catch(() => undefined)
    throw problem
  }
}

/** The browser's own database: it outlives a reload, a closed lid and a dead server. */
export const indexedShelf: Shelf = {
  all: () =>
    withIt(async (db) => {
      const found = (await db.getAll("outbox")).sort((one, other) => one.order - other.order)
      order = Math.max(order, 1 + (found.at(-1)?.order ?? 0)) // after what an earlier visit left, whatever its clock said
      return found
    }),
  put: (item) =>
    withIt(async (db) => {
      const known = await db.get("outbox", item.id)
      await db.put("outbox", { ...item, loose: false, order: known?.order ?? order++ })
    }),
  drop: (id) => withIt((db) => db.delete("outbox", id)),
}

/** Let go of it, so that it can be taken away. */
export async function closeShelf() {
  const open = database
  database = null
  if (open) (await open).close()
}

export type Outcome = "kept" | "waiting"

/** Items on their way, in the order they were made. One goes at a time; while the server is away they wait. */
export class Outbox {
  items: Item[] = []
  /** What the server said when it could not store anything: a full disk, or one that cannot be written to. */
  why: string | null = null
  private listeners = new Set<() => void>()
  private going: Promise<void> | null = null
  private storing = new Set<string>()

  constructor(
    private readonly shelf: Shelf,
    private readonly send: Send,
    private readonly trial: string,
  ) {}

  /** Take up what an earlier visit left, and send it. */
  async wake(): Promise<void> {
    const left = (await inTime(this.shelf.all()).catch(() => [])).filter((item) => item.trial === this.trial)
    const here = new Set(this.items.map((item) => item.id))
    this.show([...left.filter((item) => !here.has(item.id)), ...this.items])
    await this.flush()
  }

  /** Write it down, send it: "kept" once the server has it, "waiting" while it does not answer. Throws the server's refusal. */
  async add(item: Item): Promise<Outcome> {
    this.show([...this.items, { ...item, loose: true }])
    this.storing.add(item.id)
    await this.store(item) // a browser that keeps nothing, or says nothing, still sends
    this.storing.delete(item.id)
    await this.flush()
    const after = this.items.find((one) => one.id === item.id)
    if (!after) return "kept"
    if (after.refused === null) return "waiting"
    this.remove(item.id)
    throw new Refusal(after.refused, null, 409)
  }

  /** Is there anything that would be gone with this page? */
  get loose(): boolean {
    return this.items.some((item) => item.loose)
  }

  /** Put on the shelf what was not taken before. */
  async storeLoose(): Promise<void> {
    for (const item of [...this.items]) if (item.loose) await this.store(item)
  }

  private async store(item: Item): Promise<void> {
    const stored = await inTime(this.shelf.put(item)).then(
      () => true,
      () => false,
    )
    this.show(this.items.map((one) => (one.id === item.id ? { ...one, loose: !stored } : one)))
  }

  /** Send what waits; whoever asks while it goes waits for the same going, and for one more round. */
  async flush(): Promise<void> {
    while (this.going) await this.going
    this.going = this.round()
    try {
      await this.going
    } finally {
      this.going = null
    }
  }

  /** One round of sending; while another window of this browser sends the same things, they are left to it. */
  private async round(): Promise<void> {
    if (!("locks" in navigator)) return this.sendAll()
    await navigator.locks.request(`toadbell.outbox.${this.trial}`, { ifAvailable: true }, (lock) => (lock ? this.sendAll() : undefined))
  }

  private async sendAll(): Promise<void> {
    for (const item of [...this.items]) {
      if (item.refused !== null) continue
      if (this.storing.has(item.id)) return // written down first, and whatever came after it waits its turn
      try {
        await this.send(item, item.tried)
      } catch (problem) {
        const status = problem instanceof Refusal ? problem.status : 0
        const away = status === 0 || status >= 500
        if (away) return this.wait(status >= 500 ? (problem as Error).message : null)
        await this.change({ ...item, tried: true, refused: (problem as Error).message })
        continue
      }
      this.why = null
      this.remove(item.id)
    }
  }

  /** The server is away, or cannot store: nothing here could be sent at once, and each keeps its own time. */
  private async wait(why: string | null): Promise<void> {
    this.why = why
    this.show([...this.items])
    for (const item of [...this.items]) if (!item.tried) await this.change({ ...item, tried: true })
  }

  /** It waits no more, from this moment on; a browser that is closed before it is off the shelf sends it again, and it is done once. */
  remove(id: string): void {
    this.show(this.items.filter((item) => item.id !== id))
    void inTime(this.shelf.drop(id)).catch(() => undefined) // sent again by the next visit where it stays, and done once
  }

  private async change(item: Item): Promise<void> {
    this.show(this.items.map((one) => (one.id === item.id ? { ...item, loose: one.loose } : one)))
    await this.store(item)
  }

  private show(items: Item[]) {
    this.items = items
    this.listeners.forEach((listener) => listener())
  }

  subscribe = (listener: () => void) => {
    this.listeners.add(listener)
    return () => void this.listeners.delete(listener)
  }

  waiting = () => this.items
}

const RETRY = 1000

/** The outbox of a trial: woken with the page, tried again every second and as soon as the network is back. */
export function useOutbox(trial: string, send: Send): { outbox: Outbox; items: Item[] } {
  const outbox = useMemo(() => new Outbox(indexedShelf, send, trial), [send, trial])
  const items = useSyncExternalStore(outbox.subscribe, outbox.waiting)
  useEffect(() => {
    void outbox.wake()
    const again = () => {
      if (outbox.items.some((item) => item.refused === null)) void outbox.flush()
      if (outbox.loose) void outbox.storeLoose()
    }
    const leaving = (event: BeforeUnloadEvent) => {
      if (outbox.loose) event.preventDefault() // it would be gone: the browser asks first
    }
    const timer = setInterval(again, RETRY)
    addEventListener("online", again)
    addEventListener("beforeunload", leaving)
    return () => {
      clearInterval(timer)
      removeEventListener("online", again)
      removeEventListener("beforeunload", leaving)
    }
  }, [outbox])
  return { outbox, items }
}
