import { useState } from "react"
import { useMe } from "../api/me"
import { useKeys } from "../app/keys"
import { Badge } from "./Badge"
import { SwitchDialog } from "./SwitchDialog"

/** Whose browser this is just now, at the right of every head; a key and a number make it somebody else's. */
export function WhoIsHere() {
  const { data: me } = useMe()
  const [open, setOpen] = useState(false)
  useKeys([{ key: ".", does: "who is at it: then a number", act: () => setOpen(true), disabled: !me }])
  if (!me) return null
  return (
    <>
      <button className="btn btn-ghost btn-sm gap-1.5 px-1" onClick={() => setOpen(true)} title={`${me.name}, ${me.role}`}>
        <Badge initials={me.initials} colour={me.colour} />
        <span className="sr-only">{me.name} is here. Somebody else?</span>
        <kbd className="key hidden lg:inline-grid">.</kbd>
      </button>
      {open && <SwitchDialog close={() => setOpen(false)} signedIn={me.signed_in} />}
    </>
  )
}
