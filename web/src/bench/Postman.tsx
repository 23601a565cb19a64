import { useQueryClient } from "@tanstack/react-query"
import { useEffect, useState } from "react"
import { Link, useMatch } from "react-router"
import { indexedShelf, Outbox, type Item } from "./outbox"
import { sendItem } from "./sending"

const ROUND = 2000

/** What was done at a bench and waits goes out from whatever page is open; the bench's own page sends its own. */
export function Postman() {
  const queries = useQueryClient()
  const here = useMatch("/trials/:id/bench")?.params.id
  const [left, setLeft] = useState<Pick<Item, "trial" | "says" | "refused">[]>([])
  useEffect(() => {
    let stopped = false
    const round = async () => {
      const others = (await indexedShelf.all().catch(() => [])).filter((item) => item.trial !== here)
      for (const trial of new Set(others.map((item) => item.trial))) {
        const outbox = new Outbox(indexedShelf, (item, late) => sendItem(queries, item, late), trial)
        await outbox.wake().catch(() => undefined)
      }
      const after = others.length ? (await indexedShelf.all().catch(() => [])).filter((item) => item.trial !== here) : []
      if (!stopped) setLeft(after)
    }
    void round()
    const timer = setInterval(() => void round(), ROUND)
    addEventListener("online", round)
    return () => {
      stopped = true
      clearInterval(timer)
      removeEventListener("online", round)
    }
  }, [queries, here])
  const refused = left.filter((item) => item.refused !== null)
  const first = refused[0] ?? left[0]
  if (!first) return null
  const many = `${left.length} ${left.length === 1 ? "thing" : "things"} done at the bench`
  return (
    <p
      role="status"
      className={`no-print border-l-8 px-4 py-2 text-ink ${refused.length ? "border-vermilion bg-vermilion-soft" : "border-brass bg-brass-soft"}`}
    >
      {first.refused !== null
        ? `${many}: ${refused.length} could not be taken. First, ${first.says}: ${first.refused} `
        : `${many} wait to be sent, and go out as soon as the server answers. `}
      <Link className="underline" to={`/trials/${first.trial}/bench`}>
        To that bench
      </Link>
    </p>
  )
}
