import { smooth } from './spline'

const STEPS = 720
const NEAREST = 20

/** The centres of families of hue, kept apart as the engine keeps them. */
export function apart(centres: number[]): number[] {
  const c = [...centres]
  const n = c.length
  for (let k = 0; k < 4 * n; k++)
    for (let i = 0; i < n; i++) {
      const j = (i + 1) % n
      const gap = c[j]! - c[i]! + (j === 0 ? 360 : 0)
      if (gap >= NEAREST) continue
      c[i]! -= (NEAREST - gap) / 2
      c[j]! += (NEAREST - gap) / 2
    }
  return c
}

/** Values of families around the circle, half a degree apart, each passing into the next. */
export function around(centres: number[], values: number[], softness: number): number[] {
  const n = centres.length
  const soft = 0.4 + (0.6 * softness) / 100
  const first = centres[0]!
  return Array.from({ length: STEPS }, (_, s) => {
    const hue = (s * 360) / STEPS
    const h = ((hue - first + 720) % 360) + first
    let i = n - 1
    for (let k = 0; k < n; k++) if (centres[k]! <= h) i = k
    const j = (i + 1) % n
    const span = (centres[j]! - centres[i]! + 360) % 360
    const w = smooth((((hue - centres[i]! + 720) % 360) / span - 0.5) / soft + 0.5)
    return values[i]! * (1 - w) + values[j]! * w
  })
}

/** Shifts, softened until no hue tears from its neighbour or overtakes it. */
export function eased(shifts: number[]): number[] {
  const step = 360 / STEPS
  let y = shifts
  for (let k = 0; k < 4000; k++) {
    const steep = y.some((v, i) => {
      const d = y[(i + 1) % STEPS]! - v
      return d > 1.9 - step || d < 0.05 - step
    })
    if (!steep) break
    y = y.map((v, i) => (y[(i + STEPS - 1) % STEPS]! + 2 * v + y[(i + 1) % STEPS]!) / 4)
  }
  return y
}
