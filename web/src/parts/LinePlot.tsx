/** The colours of channels in plots. */
export const inks = ['#c8524a', '#57a05c', '#5580d0']

export interface Series {
  colour: string
  /** What was measured, as rings. */
  rings?: [number, number][]
  line: [number, number][]
  broken?: boolean
}

/** Lines over an axis, with rings for what was measured. */
export function LinePlot({
  title,
  across,
  down,
  marks = [],
  series,
}: {
  title: string
  across: string
  down: string
  /** Places of the axis that are marked. */
  marks?: number[]
  series: Series[]
}) {
  const all = series.flatMap((s) => [...(s.rings ?? []), ...s.line])
  const xs = all.map((p) => p[0])
  const ys = all.map((p) => p[1])
  const [x0, x1] = [Math.min(...xs), Math.max(...xs)]
  const [y0, y1] = [Math.min(0, ...ys), Math.max(...ys) * 1.05 || 1]
  const x = (v: number) => 28 + ((v - x0) / (x1 - x0 || 1)) * 262
  const y = (v: number) => 132 - ((v - y0) / (y1 - y0 || 1)) * 118
  const step = [0.1, 0.2, 0.5, 1, 2, 5, 10].find((s) => (y1 - y0) / s <= 5) ?? 20
  const lines = []
  for (let v = Math.ceil(y0 / step) * step; v <= y1; v += step) lines.push(Number(v.toFixed(2)))
  const words = (v: number) => String(Number(v.toFixed(2))).replace('-', '−')
  return (
    <svg viewBox="0 0 300 158" className="w-full rounded-sm bg-room" role="img" aria-label={`${title}: ${down} by ${across}`}>
      <text x={28} y={10} fontSize={9} fill="#b9b2b6">
        {title}
        <tspan dx={6} fill="#8a8a8a">
          {down}
        </tspan>
      </text>
      {lines.map((v) => (
        <g key={v}>
          <line x1={28} x2={290} y1={y(v)} y2={y(v)} stroke="#333" />
          <text x={24} y={y(v) + 3} textAnchor="end" fontSize={8} fill="#8a8a8a">
            {words(v)}
          </text>
        </g>
      ))}
      {marks.map((v) => (
        <line key={v} x1={x(v)} x2={x(v)} y1={14} y2={132} stroke="#666" strokeDasharray="2 2" />
      ))}
      <text x={28} y={143} fontSize={8} fill="#8a8a8a">
        {words(x0)}
      </text>
      <text x={290} y={143} textAnchor="end" fontSize={8} fill="#8a8a8a">
        {words(x1)}
      </text>
      <text x={159} y={153} textAnchor="middle" fontSize={8} fill="#8a8a8a">
        {across}
      </text>
      {series.map((s) => (
        <g key={s.colour}>
          {(s.rings ?? []).map(([a, b], i) => (
            <circle key={i} cx={x(a)} cy={y(b)} r={1.7} fill="none" stroke={s.colour} opacity={0.75} />
          ))}
          <polyline
            fill="none"
            stroke={s.colour}
            strokeDasharray={s.broken ? '3 2' : undefined}
            points={s.line.map(([a, b]) => `${x(a)},${y(b)}`).join(' ')}
          />
        </g>
      ))}
    </svg>
  )
}
