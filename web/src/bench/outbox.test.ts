// @vitest-environment jsdom
import { describe, expect, it, vi } from "vitest"
import { Refusal } from "../api/client"
import { indexedShelf, Outbox, type Item, type Send, type Shelf } from "./outbox"

/** A browser's database that keeps what an earlier visit left in it. */
const { browser } = vi.hoisted(() => ({ browser: new Map<string, { id: string; order: number }>() }))
vi.mock("idb", () => ({
  openDB: () =>
    Promise.resolve({
      getAll: () => Promise.resolve([...browser.values()]),
      get: (_: string, id: string) => Promise.resolve(browser.get(id)),
      put: (_: string, item: { id: string; order: number }) => Promise.resolve(void browser.set(item.id, item)),
    }),
}))

/** A shelf that outlives its outbox, as a browser's database does. */
function shelf(): Shelf & { items: Map<string, Item> } {
  const items = new Map<string, Item>()
  return {
    items,
    all: () => Promise.resolve([...items.values()]),
    put: (item) => Promise.resolve(void items.set(item.id, item)),
    drop: (id) => Promise.resolve(void items.delete(id)),
  }
}

const reading = (id: string, trial = "one"): Item => ({
  id,
  trial,
  kind: "reading",
  says: `reading ${id}`,
  at: "2026-11-25T10:00:00Z",
  body: { pressure: "3 bar" },
  tried: false,
  refused: null,
})

/** A server that can be away, and that keeps what it gets, once. */
function server() {
  const kept: { id: string; late: boolean }[] = []
  const state = { away: false }
  const send: Send = (item, late) => {
    if (state.away) return Promise.reject(new Refusal("The server does not answer.", null, 0))
    if (item.body.pressure === "3 mm") return Promise.reject(new Refusal("“3 mm” is no pressure.", null, 422))
    kept.push({ id: item.id, late })
    return Promise.resolve()
  }
  return { kept, state, send }
}

describe("what is done at the bench", () => {
  it("is kept at once while the server answers", async () => {
    const [kept, far] = [shelf(), server()]
    const outbox = new Outbox(kept, far.send, "one")
    expect(await outbox.add(reading("a"))).toBe("kept")
    expect(far.kept).toEqual([{ id: "a", late: false }])
    expect(kept.items.size).toBe(0)
  })

  it("waits in its order while the server is away, and arrives once with its own time", async () => {
    const [kept, far] = [shelf(), server()]
    const outbox = new Outbox(kept, far.send, "one")
    far.state.away = true
    expect(await outbox.add(reading("a"))).toBe("waiting")
    expect(await outbox.add(reading("b"))).toBe("waiting")
    await outbox.flush()
    far.state.away = false
    await Promise.all([outbox.flush(), outbox.flush()])
    expect(far.kept).toEqual([
      { id: "a", late: true },
      { id: "b", late: true },
    ])
    expect(outbox.items).toEqual([])
  })

  it("waits no more once the server has it, however slow the shelf is", async () => {
    const [kept, far] = [shelf(), server()]
    const slow: Shelf = { ...kept, drop: () => new Promise(() => undefined) }
    const outbox = new Outbox(slow, far.send, "one")
    void outbox.add(reading("a"))
    await expect.poll(() => far.kept.length).toBe(1)
    await expect.poll(() => outbox.items).toEqual([])
  })

  it("outlives a closed page, and leaves other trials alone", async () => {
    const [kept, far] = [shelf(), server()]
    far.state.away = true
    await new Outbox(kept, far.send, "one").add(reading("a"))
    await new Outbox(kept, far.send, "two").add(reading("x", "two"))
    far.state.away = false
    const again = new Outbox(kept, far.send, "one")
    await again.wake()
    expect(far.kept.map((one) => one.id)).toEqual(["a"])
    expect([...kept.items.keys()]).toEqual(["x"])
  })

  it("is thrown back with the server's words where it is refused at once", async () => {
    const [kept, far] = [shelf(), server()]
    const outbox = new Outbox(kept, far.send, "one")
    await expect(outbox.add({ ...reading("a"), body: { pressure: "3 mm" } })).rejects.toThrow("is no pressure")
    expect(kept.items.size).toBe(0)
  })

  it("stays with the reason where it is refused afterwards, and holds up nothing behind it", async () => {
    const [kept, far] = [shelf(), server()]
    const outbox = new Outbox(kept, far.send, "one")
    far.state.away = true
    await outbox.add({ ...reading("a"), body: { pressure: "3 mm" } })
    await outbox.add(reading("b"))
    far.state.away = false
    await outbox.flush()
    expect(far.kept.map((one) => one.id)).toEqual(["b"])
    expect(outbox.items.map((item) => item.refused)).toEqual(["“3 mm” is no pressure."])
    outbox.remove("a")
    expect(outbox.items).toEqual([])
  })

  it("is sent where the browser's database falls silent, a second later at the most, and what comes after it too", async () => {
    const [kept, far] = [shelf(), server()]
    const never = () => new Promise<never>(() => undefined)
    const outbox = new Outbox({ ...kept, all: never, put: never, drop: never }, far.send, "one")
    void outbox.wake()
    const both = Promise.all([outbox.add(reading("a")), outbox.add(reading("b"))])
    expect(outbox.loose).toBe(true) // a page that is left now is asked about
    await both
    await expect.poll(() => far.kept.map((one) => one.id), { timeout: 3000 }).toEqual(["a", "b"])
    expect(outbox.loose).toBe(false)
  })

  it("is in this page alone while the database is full and the server away, and is written down as soon as there is room", async () => {
    const [kept, far] = [shelf(), server()]
    const state = { full: true }
    const put = (item: Item) => (state.full ? Promise.reject(new DOMException("full", "QuotaExceededError")) : kept.put(item))
    const outbox = new Outbox({ ...kept, put }, far.send, "one")
    far.state.away = true
    expect(await outbox.add(reading("a"))).toBe("waiting")
    expect([outbox.loose, kept.items.size]).toEqual([true, 0])
    state.full = false
    await outbox.storeLoose()
    expect([outbox.loose, kept.items.has("a")]).toEqual([false, true])
  })

  it("is sent even where the browser keeps nothing", async () => {
    const far = server()
    const broken: Shelf = {
      all: () => Promise.reject(new Error("no room")),
      put: () => Promise.reject(new Error("no room")),
      drop: () => Promise.reject(new Error("no room")),
    }
    const outbox = new Outbox(broken, far.send, "one")
    await outbox.wake()
    expect(await outbox.add(reading("a"))).toBe("kept")
  })
})

describe("what lies in the browser's database", () => {
  it("goes after what an earlier visit left, though the phone's clock was put back since", async () => {
    browser.set("left", { ...reading("left"), order: Date.now() + 3_600_000 })
    await indexedShelf.all()
    await indexedShelf.put(reading("now"))
    await indexedShelf.put(reading("then"))
    expect((await indexedShelf.all()).map((item) => item.id)).toEqual(["left", "now", "then"])
  })
})
