/** The monotone cubic through points that the engine uses (Fritsch & Carlson 1980, Fritsch & Butland 1984), to draw it. */
export function monotone(points: [number, number][]): (x: number) => number {
  const n = points.length
  if (n === 0) return (x) => x
  if (n === 1) return (x) => x + points[0]![1] - points[0]![0]
  const xs = points.map((p) => p[0])
  const ys = points.map((p) => p[1])
  const d = xs.slice(1).map((x, i) => (ys[i + 1]! - ys[i]!) / (x - xs[i]!))
  const m = xs.map((_, i) => {
    if (i === 0) return d[0]!
    if (i === n - 1) return d[n - 2]!
    if (d[i - 1]! * d[i]! <= 0) return 0
    const h0 = xs[i]! - xs[i - 1]!
    const h1 = xs[i + 1]! - xs[i]!
    const a = (h0 + 2 * h1) / (3 * (h0 + h1))
    return (d[i - 1]! * d[i]!) / (a * d[i]! + (1 - a) * d[i - 1]!)
  })
  return (x) => {
    if (x <= xs[0]!) return x + ys[0]! - xs[0]!
    if (x >= xs[n - 1]!) return x + ys[n - 1]! - xs[n - 1]!
    let i = 0
    while (xs[i + 1]! <= x) i++
    const h = xs[i + 1]! - xs[i]!
    const t = (x - xs[i]!) / h
    const rise = ys[i + 1]! - ys[i]!
    const m0 = m[i]! * h
    const m1 = m[i + 1]! * h
    return ys[i]! + t * (m0 + t * (3 * rise - 2 * m0 - m1 + t * (m0 + m1 - 2 * rise)))
  }
}

export function readPoints(text: string): [number, number][] {
  return text
    .split(/\s+/)
    .filter(Boolean)
    .map((w) => w.split(':').map(Number) as [number, number])
}

export function writePoints(points: [number, number][]): string {
  return points.map(([x, y]) => `${short(x)}:${short(y)}`).join(' ')
}

const short = (v: number) => String(Number(v.toFixed(4)))

/** Rises from 0 at 0 to 1 at 1 with level ends. */
export const smooth = (u: number) => {
  const v = Math.max(0, Math.min(1, u))
  return v * v * (3 - 2 * v)
}
