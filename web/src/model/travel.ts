/** How a value moves along a line: a place on it is 0 to 1. */
export interface Travel {
  place(value: number): number
  value(place: number): number
}

/**
 * The travel from min to max. A curve above 1 makes it slow at its low end; where 0 lies within, it is slow about 0, to both sides, and 0
 * stays in its place.
 */
export function travelOf(min: number, max: number, curve = 1): Travel {
  const span = max - min
  const rest = min < 0 && max > 0 ? -min / span : 0
  return {
    place(value) {
      const u = Math.max(0, Math.min(1, (value - min) / span))
      const side = u < rest ? rest : 1 - rest
      return rest + Math.sign(u - rest) * side * Math.pow(Math.abs(u - rest) / side, 1 / curve)
    },
    value(place) {
      const side = place < rest ? rest : 1 - rest
      return min + span * (rest + Math.sign(place - rest) * side * Math.pow(Math.abs(place - rest) / side, curve))
    },
  }
}
