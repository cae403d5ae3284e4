/**
 * Reads what is typed into a value: a number with or without its unit, or simple arithmetic: 1/3, +1/3, -0.5*2,
 * (2+1)/4, 1e3. With +=, -=, *= or /= before it, it counts from the value there is. A comma is a point. Undefined for
 * anything else.
 */
export function evaluate(text: string, now: number): number | undefined {
  let rest = text.trim().replace(/,/g, '.').replace(/−/g, '-').replace(/×/g, '*')
  const from = /^([-+*/])=/.exec(rest)
  if (from) rest = rest.slice(2)
  rest = rest.replace(/\s*(%.*|°|cd\/m²|[a-zµ][a-zµ ]*)$/i, '')
  const tokens = rest.match(/\d+\.?\d*(?:e[-+]?\d+)?|\.\d+|[-+*/()]/gi)
  if (!tokens || tokens.join('') !== rest.replace(/\s+/g, '')) return undefined
  let at = 0
  // sums of products of signed numbers
  const sum = (): number => {
    let v = product()
    while (tokens[at] === '+' || tokens[at] === '-') v = tokens[at++] === '+' ? v + product() : v - product()
    return v
  }
  const product = (): number => {
    let v = one()
    while (tokens[at] === '*' || tokens[at] === '/') v = tokens[at++] === '*' ? v * one() : v / one()
    return v
  }
  const one = (): number => {
    const t = tokens[at++]
    if (t === '-') return -one()
    if (t === '+') return one()
    if (t === '(') {
      const v = sum()
      return tokens[at++] === ')' ? v : NaN
    }
    return t === undefined ? NaN : Number(t)
  }
  const v = sum()
  if (at !== tokens.length || !Number.isFinite(v)) return undefined
  const result = from ? { '+': now + v, '-': now - v, '*': now * v, '/': now / v }[from[1]!]! : v
  return Number.isFinite(result) ? result : undefined
}

/** Rounds to a step, without the tail that binary fractions leave. */
export function tidy(value: number, step: number) {
  const digits = Math.max(0, Math.min(4, Math.ceil(-Math.log10(step) - 1e-9)))
  return Number((Math.round(value / step) * step).toFixed(digits))
}

/** How many places a step has. */
export function places(step: number, most = 3) {
  return Math.max(0, Math.min(most, Math.ceil(-Math.log10(step) - 1e-9)))
}

/** What an arrow key adds: a step, ten with Shift, a fifth with Alt. Nothing for other keys. */
export function nudgeOf(event: { key: string; shiftKey: boolean; altKey: boolean }, step: number): number {
  const sign = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[event.key] ?? 0
  return sign * step * (event.shiftKey ? 10 : 1) * (event.altKey ? 0.2 : 1)
}
