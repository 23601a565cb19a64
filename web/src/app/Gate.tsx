import { useQueryClient } from "@tanstack/react-query"
import { useEffect, useState, type ReactNode } from "react"
import { useLocation } from "react-router"
import { LET_IN_NO_LONGER, type Refusal } from "../api/client"
import { useMe } from "../api/me"
import { indexedShelf, type Item } from "../bench/outbox"
import { SignIn } from "../people/SignIn"
import { forget } from "./forget"
import { Notice } from "./states"
import { useTheme } from "./theme"

/** Whoever is let in goes on to the rooms; whoever is not is asked who they are, or told that they were shut out. */
export function Gate({ children }: { children: ReactNode }) {
  const queries = useQueryClient()
  const me = useMe()
  const { pathname } = useLocation()
  const [out, setOut] = useState<{ says: string; unsent: Item[] } | null>(null)
  useEffect(() => {
    const onOut = (event: Event) => {
      const refusal = (event as CustomEvent<Refusal>).detail
      if (refusal.field === "shut-out")
        void indexedShelf
          .all()
          .catch(() => [])
          .then((unsent) => {
            setOut((before) => before ?? { says: refusal.message, unsent })
            return forget(queries)
          })
      else if (queries.getQueryData(["me"])) void queries.resetQueries({ queryKey: ["me"] }) // it was somebody's: whose is it now?
    }
    addEventListener(LET_IN_NO_LONGER, onOut)
    return () => removeEventListener(LET_IN_NO_LONGER, onOut)
  }, [queries])
  if (pathname === "/join") return children
  if (out) return <ShutOut {...out} />
  const refusal = me.error as Refusal | null
  if (refusal?.status === 401) return <SignIn says={refusal.message} />
  const bound = me.data && !pathname.endsWith("/bench") && (!me.data.works || me.data.run)
  return (
    <>
      {bound && me.data && (
        <p className="no-print border-l-8 border-brass bg-brass-soft px-4 py-1.5 text-note text-ink">
          {me.data.works
            ? "This phone was let in for one run: you see everything, and lay hands on that alone."
            : `You are let in as ${me.data.role}: you see everything${me.data.role === "inspector" ? ", sign what asks for you," : ""} and may call stop; nothing else you do here is kept.`}
        </p>
      )}
      {children}
    </>
  )
}

/** Nothing of the workshop's is left here but what was not taken from this hand, and that goes with the page. */
function ShutOut({ says, unsent }: { says: string; unsent: Item[] }) {
  useTheme("daylight")
  return (
    <Notice title="This browser is let in no longer">
      <p>{says} What it was told was taken from it.</p>
      {unsent.length > 0 && (
        <>
          <p>These were done here and never reached the workshop. Read them out to whoever is at the bench; they go when this page is closed:</p>
          <ul className="border-l-8 border-vermilion bg-vermilion-soft px-4 py-2 text-ink">
            {unsent.map((item) => (
              <li key={item.id}>
                {item.at.slice(11, 19)} UTC: {item.says}
              </li>
            ))}
          </ul>
        </>
      )}
      <a className="btn btn-primary w-fit" href="/join">
        I have six words
      </a>
    </Notice>
  )
}
