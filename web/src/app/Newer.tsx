import { useRegisterSW } from "virtual:pwa-register/react"

const EVERY = 600_000

/** A newer Toad Bell lies ready: it takes over when it is told to, never by itself in the middle of something. */
export function Newer() {
  const {
    needRefresh: [ready, setReady],
    updateServiceWorker,
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
      <button className="btn h-11 border-line border-ink" onClick={() => void updateServiceWorker(true)}>
        Take it over now
      </button>
      <button className="btn btn-ghost h-11" onClick={() => setReady(false)}>
        Later
      </button>
    </p>
  )
}
