/** Gains by tone, in stops and per cent: those of the middle, and of shadows and highlights so many stops from it. */
export interface ToneGains {
  low: number
  mids: number
  high: number
  middle: number
  reach: number
}

/** The gain at a brightness, as the engine has it. */
export function gainAt(g: ToneGains, stops: number): number {
  const u = (stops - g.middle) / g.reach
  const end = u < 0 ? g.low : g.high
  const t = Math.min(Math.abs(u), 1)
  return g.mids + (end - g.mids) * t * t * (3 - 2 * t)
}
