import { useEffect, useState } from "react"

/** Keep the screen awake while a run is on; gives whether it is. A hidden page lets go, and takes hold again when it is back. */
export function useWakeLock(wanted: boolean): boolean {
  const [awake, setAwake] = useState(false)
  useEffect(() => {
    if (!wanted || !("wakeLock" in navigator)) return
    let lock: WakeLockSentinel | null = null
    let over = false
    const take = async () => {
      if (document.visibilityState !== "visible" || over) return
      try {
        lock = await navigator.wakeLock.request("screen")
        if (over) return void lock.release()
        setAwake(true)
        lock.addEventListener("release", () => setAwake(false))
      } catch {
        setAwake(false) // low battery, or not allowed: the screen may go dark, the clock goes on
      }
    }
    void take()
    document.addEventListener("visibilitychange", take)
    return () => {
      over = true
      document.removeEventListener("visibilitychange", take)
      void lock?.release()
    }
  }, [wanted])
  return awake
}
