/** Each window is a hand of its own: one of them holds a run. It outlives a reload of its window. */
export function windowId(): string {
  let id = sessionStorage.getItem("toadbell.hand")
  if (!id) sessionStorage.setItem("toadbell.hand", (id = crypto.randomUUID?.() ?? String(Math.random()).slice(2)))
  return id
}

/** What this hand is called where others see it. */
export function deviceName(): string {
  return matchMedia("(pointer: coarse) and (max-width: 700px)").matches ? "a phone" : "a laptop"
}
