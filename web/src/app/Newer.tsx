import { useRegisterSW } from "virtual:pwa-register/react"

const EVERY = 600_000
/** A worker that still answers something is taken over when that is done, or with the page that asked for it, ms. */
const AT_THE_LATEST = 5_000

/** The one that waits takes over, and the page begins anew with it. */
async function takeOver() {
  const anew = () => window.location.reload()
  navigator.serviceWorker.addEventListener("controllerchange", anew, { once: true })
  const waiting = (await navigator.serviceWorker.getRegistration())?.waiting
  if (!waiting) return anew()
  waiting.postMessage({ type: "SKIP_WAITING" })
  setTimeout(anew, AT_THE_LATEST)
}

/** A newer Toad Bell lies ready: it takes over when it is told to, never by itself in the middle of something. */
export function Newer() {
  const {
    needRefresh: [ready, setReady],
  } = useRegisterSW({
    onRegisteredSW: (_, registration) => {
      if (registration) setInterval(() => void registration.update().catch(() => undefined), EVERY)
    },
    onRegisterError: () => undefined, // a certificate that was not taken in: it goes on without, and says so where phones come in
  })
  if (!ready) return null
  return (
    <p role="status" className="no-print flex flex-wrap items-center gap-3 border-l-8 border-water bg-water-soft px-4 py-2 text-ink">
      <span className="min-w-52 flex-1">A newer Toad Bell lies ready. It takes over when you say so; what waits to be sent stays.</span>
      <button className="btn h-11 border-line border-ink" onClick={() => void takeOver()}>
        Take it over now
      </button>
      <button className="btn btn-ghost h-11" onClick={() => setReady(false)}>
        Later
      </button>
    </p>
  )
}
