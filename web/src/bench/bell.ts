import { useEffect, useRef } from "react"
import { digits, inUnit, unitOf, type Habit } from "../parts/units"
import type { BenchState } from "./queries"
import { useSetting } from "./settings"

let audio: AudioContext | null = null

/** Ring once: calm for the end of a pause or hold and for a reading that is due, hard for a guard. Silent until the page was touched. */
export function ring(tone: "calm" | "hard") {
  try {
    audio ??= new AudioContext()
    const [at, pitch] = [audio.currentTime, tone === "calm" ? 660 : 220]
    for (const [part, loudness] of [
      [1, 0.22],
      [2.76, 0.1],
      [5.4, 0.04],
    ] as const) {
      const [voice, gain] = [audio.createOscillator(), audio.createGain()]
      voice.frequency.value = pitch * part
      voice.type = tone === "calm" ? "sine" : "square"
      gain.gain.setValueAtTime(loudness, at)
      gain.gain.exponentialRampToValueAtTime(0.0001, at + 1.8)
      voice.connect(gain).connect(audio.destination)
      voice.start(at)
      voice.stop(at + 1.9)
    }
  } catch {
    // No sound on this machine: the strip says it all the same.
  }
}

/** Say it aloud with the browser's own voice; a new sentence takes an older one's place. */
export function speak(text: string) {
  if (!("speechSynthesis" in window)) return
  speechSynthesis.cancel()
  speechSynthesis.speak(new SpeechSynthesisUtterance(text))
}

/** Seconds to the next reading by hand in a hold; null where a logger reads, or none is asked for. */
export function dueIn(bench: BenchState, now: number): number | null {
  if (bench.phase !== "holding" || !bench.hold || bench.rig || bench.latest?.source === "device") return null
  const last = Math.max(Date.parse(bench.hold.began), bench.latest ? Date.parse(bench.latest.at) : 0)
  return (last - now) / 1000 + bench.answer.hold.every
}

/** Ring when a pause or the hold runs out, when a reading is due, and hard when a guard trips. */
export function useBell(bench: BenchState, left: number | null, due: number | null) {
  const [on] = useSetting("bell")
  useEdge(left !== null && left <= 0, () => on && ring("calm"))
  useEdge(due !== null && due <= 0, () => on && ring("calm"))
  const called = bench.guards.some((guard) => guard.code === "called")
  useMore(bench.guards.length, () => (on || called) && ring("hard")) // a stop that somebody calls is heard whatever is switched off
}

/** Do it when the condition comes true, not while it stays so, nor for what was so already when the page came up. */
function useEdge(condition: boolean, act: () => void) {
  const was = useRef(condition)
  useEffect(() => {
    if (condition && !was.current) act()
    was.current = condition
  })
}

/** Do it whenever the count rises, not for what it was when the page came up. */
function useMore(count: number, act: () => void) {
  const was = useRef(count)
  useEffect(() => {
    if (count > was.current) act()
    was.current = count
  })
}

const QUIET = 4000

/** Call out what is to be done, each new pressure, and every guard. */
export function useCallouts(bench: BenchState, habit: Habit) {
  const [on] = useSetting("calls")
  const said = useRef({ now: bench.now.says, at: bench.latest?.at, guards: bench.guards.length, when: -Infinity })
  useEffect(() => {
    const before = said.current
    const guard = bench.guards.length > before.guards ? bench.guards.at(-1)!.says : null
    const now = bench.now.says !== before.now ? bench.now.says : null
    const fresh = bench.latest !== null && bench.latest.at !== before.at
    const waits = fresh && performance.now() - before.when <= QUIET // the next look calls it out, or a newer one
    const pressure = fresh && !waits ? inWords(bench.latest!.pressure, habit) : null
    const stop = guard !== null && bench.guards.at(-1)?.code === "called"
    if (stop && !on) speak(guard)
    const text = guard ?? ([now, pressure].filter(Boolean).join(" ") || null)
    if (on && text) speak(text)
    const at = on && waits ? before.at : bench.latest?.at
    said.current = { now: bench.now.says, at, guards: bench.guards.length, when: on && text ? performance.now() : before.when }
  }, [bench, habit, on])
}

/** 12.8 bar, as it is called out. */
export function inWords(pressure: number, habit: Habit): string {
  return `${digits(inUnit(pressure, "pressure", habit), 3)} ${unitOf("pressure", habit)}`
}
