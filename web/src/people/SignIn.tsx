import { useState } from "react"
import { Link } from "react-router"
import { Notice } from "../app/states"
import { Loading } from "../app/Loading"
import { useTheme } from "../app/theme"
import { Choice, Secret } from "./SwitchDialog"
import { type Person, useWho } from "./queries"

/** Nobody is signed in at this browser: on the workshop's own machine names are chosen from, elsewhere words are asked for. */
export function SignIn({ says }: { says: string }) {
  useTheme("daylight")
  const who = useWho()
  const [asked, setAsked] = useState<Person | null>(null)
  const done = () => undefined
  if (who.isPending) return <Loading what="the door" />
  if (!who.data?.here)
    return (
      <Notice title="This browser is not let in">
        <p>{says}</p>
        <p>Ask whoever has the workshop to press “Bring a phone”: scan the code that shows, or type the six words.</p>
        <Link className="btn btn-primary w-fit" to="/join">
          I have six words
        </Link>
      </Notice>
    )
  return (
    <Notice title="Who is at it?">
      {asked ? <Secret person={asked} done={done} back={() => setAsked(null)} /> : <Choice people={who.data.people} ask={setAsked} done={done} />}
    </Notice>
  )
}
