import { useEffect, useState, type ComponentType, type ReactNode } from "react"

const AGAIN = 2_000
const pieces = new Set<() => Promise<unknown>>()
let atOnce = false

/** Fetch every piece that is not here yet, and from now on each as it is named: a run goes on when the server is away, and so does all that it may need. */
export function fetchLater() {
  atOnce = true
  for (const fetch of pieces) fetch().catch(() => undefined)
}

/** Nothing for the moment that it takes; where the server is away, that it is. */
const gone = (away: boolean) =>
  away && (
    <p role="status" className="m-4 border-l-8 border-brass bg-brass-soft px-4 py-2">
      The server does not answer, and this was not fetched yet. It opens by itself as soon as the server is back.
    </p>
  )

/**
 * A piece of the application that is fetched when it is wanted; at once where it was fetched before, and where the server is away as soon as that is back.
 * Suspense would hold each back for a third of a second.
 */
export function later<Props extends object>(load: () => Promise<ComponentType<Props>>, meanwhile: (away: boolean) => ReactNode = gone): ComponentType<Props> {
  let here: ComponentType<Props> | null = null
  const fetch = async () => (here ??= await load())
  pieces.add(fetch)
  if (atOnce) fetch().catch(() => undefined)
  return function Later(props: Props) {
    const [Piece, setPiece] = useState(() => here)
    const [away, setAway] = useState(false)
    useEffect(() => {
      if (Piece) return
      const fetching = () =>
        void fetch().then(
          (piece) => setPiece(() => piece),
          () => setAway(true),
        )
      fetching()
      const again = setInterval(fetching, AGAIN)
      return () => clearInterval(again)
    }, [Piece])
    return Piece ? <Piece {...props} /> : meanwhile(away)
  }
}
