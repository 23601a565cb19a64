import { useEffect, useState } from "react"
import type { Schema } from "../api/client"

type Clock = Omit<Schema["Clock"], "off">

/** The trial's time in ms, from the server's clock and the trial's speed; `received` and `now` by the page's own steady clock, which nobody puts right. */
export function trialNow(clock: Clock, received: number, now: number): number {
  const server = Date.parse(clock.server_now) + (now - received)
  if (!clock.wall_anchor || !clock.trial_anchor) return server
  return Date.parse(clock.trial_anchor) + (server - Date.parse(clock.wall_anchor)) * clock.speed
}

/** Is it that moment already, by the trial's clock? */
export const isPast = (moment: string, { clock, received }: { clock: Clock; received: number }): boolean =>
  trialNow(clock, received, performance.now()) >= Date.parse(moment)

/** The trial's time, fresh four times a second. */
export function useTrialNow(clock: Clock | undefined, received: number): number {
  const [now, setNow] = useState(() => performance.now())
  useEffect(() => {
    const timer = setInterval(() => setNow(performance.now()), 250)
    return () => clearInterval(timer)
  }, [])
  return clock ? trialNow(clock, received, Math.max(now, received)) : now
}
