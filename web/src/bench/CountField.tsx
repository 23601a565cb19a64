import { useEffect, useRef, useState } from "react"

const LONG = 30

type CountFieldProps = { what: string; count: number | null; seconds: number | null; set: (count: number | null, seconds: number | null) => void }

/** Drops or bubbles counted by taps for half a minute. */
export function CountField({ what, count, seconds, set }: CountFieldProps) {
  const [began, setBegan] = useState<number | null>(null)
  const [now, setNow] = useState(0)
  const [taps, setTaps] = useState(0)
  const made = useRef(0)
  useEffect(() => {
    if (began === null) return
    const timer = setInterval(() => {
      if (performance.now() - began < 1000 * LONG) return setNow(performance.now())
      set(made.current, LONG)
      setBegan(null)
    }, 200)
    return () => clearInterval(timer)
  }, [began, set])
  const gone = began === null ? 0 : Math.max(0, (now - began) / 1000)
  const tap = () => {
    if (began !== null) {
      made.current += 1
      return setTaps(made.current)
    }
    made.current = 0
    setTaps(0)
    setNow(performance.now())
    setBegan(performance.now())
    set(null, null)
  }
  return (
    <div className="mb-3 flex flex-wrap items-center gap-2">
      <button type="button" className="btn h-12 border-line border-ink" onClick={tap}>
        {began === null ? `Count ${what} for half a minute` : `One ${what.slice(0, -1)}: ${taps} so far, ${Math.ceil(LONG - gone)} s left`}
      </button>
      <label className="flex items-center gap-2 text-small text-quiet">
        or
        <input
          className="input figure h-10 w-16 bg-ground text-ink"
          inputMode="numeric"
          aria-label={`${what} counted`}
          value={count ?? ""}
          onChange={(event) => {
            const number = Number(event.target.value)
            if (/^\d+$/.test(event.target.value.trim())) set(number, seconds ?? LONG)
            else set(null, null)
          }}
        />
        in
        <input
          className="input figure h-10 w-16 bg-ground text-ink"
          inputMode="numeric"
          aria-label="seconds"
          value={seconds ?? ""}
          disabled={count === null}
          onChange={(event) => set(count, Number(event.target.value) || LONG)}
        />
        s
      </label>
    </div>
  )
}
