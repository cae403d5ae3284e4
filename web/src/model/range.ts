/** Part of a tone scale, in stops: brighter than low, coming in over the knee below it, and darker than high. */
export interface ToneRange {
  low: number
  high: number
  knee: number
}

const smooth = (t: number) => {
  const u = Math.max(0, Math.min(1, t))
  return u * u * (3 - 2 * u)
}

/** The share of light of so many stops that is in the range, as the engine has it. */
export function share({ low, high, knee }: ToneRange, stops: number): number {
  const k = Math.max(knee, 1e-3)
  const up = low === -Infinity ? 1 : smooth((stops - low + k) / k)
  const down = high === Infinity ? 1 : 1 - smooth((stops - high) / k)
  return up * down
}
