/** A place in pixels. */
export interface Place {
  x: number
  y: number
}

/** How many pieces a curved side is drawn in. */
const BENDS = 16

/** The outline through points as the engine has it: a closed centripetal spline (Barry & Goldman 1988), or straight. */
export function outline(points: Place[], curved: boolean): Place[] {
  const n = points.length
  if (!curved || n < 3) return points
  return points.flatMap((_, i) => {
    const [a, b, c, d] = [-1, 0, 1, 2].map((k) => points[(i + k + n) % n]!) as [Place, Place, Place, Place]
    return Array.from({ length: BENDS }, (_, k) => between(a, b, c, d, k / BENDS))
  })
}

/** The curve from b to c, at a share of the way. */
function between(a: Place, b: Place, c: Place, d: Place, u: number): Place {
  const knot = (p: Place, q: Place) => Math.sqrt(Math.hypot(q.x - p.x, q.y - p.y)) + 1e-9
  const t1 = knot(a, b)
  const t2 = t1 + knot(b, c)
  const t3 = t2 + knot(c, d)
  const t = t1 + (t2 - t1) * u
  const mix = (p: Place, q: Place, from: number, to: number) => ({
    x: p.x + ((q.x - p.x) * (t - from)) / (to - from),
    y: p.y + ((q.y - p.y) * (t - from)) / (to - from),
  })
  const p = mix(a, b, 0, t1)
  const q = mix(b, c, t1, t2)
  const r = mix(c, d, t2, t3)
  return mix(mix(p, q, 0, t2), mix(q, r, t1, t3), t1, t2)
}

/** The point after which a new one belongs: that whose side lies nearest to a place. */
export function nearestSide(points: Place[], at: Place): number {
  let best = 0
  let least = Infinity
  points.forEach((p, i) => {
    const q = points[(i + 1) % points.length]!
    const l = (q.x - p.x) ** 2 + (q.y - p.y) ** 2
    const u = Math.max(0, Math.min(1, ((at.x - p.x) * (q.x - p.x) + (at.y - p.y) * (q.y - p.y)) / Math.max(l, 1e-9)))
    const far = Math.hypot(p.x + u * (q.x - p.x) - at.x, p.y + u * (q.y - p.y) - at.y)
    if (far < least) [least, best] = [far, i]
  })
  return best
}

/** From pixels to a shape's own axes, about its centre and turned by degrees. */
export function ownAxes(centre: Place, degrees: number, p: Place): Place {
  const a = (degrees * Math.PI) / 180
  const [dx, dy] = [p.x - centre.x, p.y - centre.y]
  return { x: dx * Math.cos(a) + dy * Math.sin(a), y: dy * Math.cos(a) - dx * Math.sin(a) }
}
