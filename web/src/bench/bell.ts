let audio: AudioContext | null = null

/** Ring once: calm for the end of a pause or hold, hard for a guard. Silent until the page was touched. */
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
