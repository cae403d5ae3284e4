import { smooth } from './spline'

/** The shares of the zones at a tone, as the engine has them. */
export function zoneWeights(t: number, borders: number[], softness: number): number[] {
  const w: number[] = []
  let left = 1
  for (const b of borders) {
    const over = Math.min(smooth((t - b) / softness + 0.5), left)
    w.push(left - over)
    left = over
  }
  return [...w, left]
}
