/** Move labels apart so that none is nearer to the next than `gap`, keeping their order and staying within the range.
 *  Positions in px, in any order; the answer is in the same order. */
export function spread(positions: number[], gap: number, least: number, most: number): number[] {
  const order = positions.map((_, index) => index).sort((a, b) => positions[a]! - positions[b]!)
  const placed = order.map((index) => Math.min(most, Math.max(least, positions[index]!)))
  for (let pass = 0; pass < 60; pass++) {
    let moved = false
    for (let i = 1; i < placed.length; i++) {
      const short = gap - (placed[i]! - placed[i - 1]!)
      if (short > 0.01) {
        placed[i - 1] = Math.max(least, placed[i - 1]! - short / 2)
        placed[i] = Math.min(most, Math.max(placed[i]! + short / 2, placed[i - 1]! + Math.min(gap, short)))
        moved = true
      }
    }
    if (!moved) break
  }
  for (let i = placed.length - 2; i >= 0; i--) placed[i] = Math.min(placed[i]!, placed[i + 1]! - gap)
  const answer: number[] = new Array(positions.length)
  order.forEach((index, i) => (answer[index] = placed[i]!))
  return answer
}
