import type { Own, Plot } from '../api/types.gen'

const W = 420

/** Code against stops from mid grey. */
export function CurvePlot({ plot }: { plot: Plot | null }) {
  const H = 200
  const x = (stops: number) => 34 + ((stops + 12) / 24) * (W - 52)
  const y = (code: number) => H - 18 - Math.max(-0.1, Math.min(1.1, code)) * (H - 34)
  const line = plot?.curve.map(([s, c], i) => `${i === 0 ? 'M' : 'L'}${x(s).toFixed(1)} ${y(c).toFixed(1)}`).join('')
  return (
    <svg
      viewBox={`0 0 ${W} ${H}`}
      className="w-full rounded-sm border border-line bg-room"
      role="img"
      aria-label="Code against stops from mid grey"
      fontSize="10"
      fill="#8e8e8e"
    >
      {[-12, -8, -4, 0, 4, 8, 12].map((s) => (
        <g key={s}>
          <line x1={x(s)} x2={x(s)} y1={y(1)} y2={y(0)} stroke="#303030" />
          <text x={x(s)} y={H - 5} textAnchor="middle">
            {s > 0 ? `+${s}` : s}
          </text>
        </g>
      ))}
      {[0, 0.25, 0.5, 0.75, 1].map((c) => (
        <g key={c}>
          <line x1={x(-12)} x2={x(12)} y1={y(c)} y2={y(c)} stroke="#303030" />
          <text x={28} y={y(c) + 3} textAnchor="end">
            {c}
          </text>
        </g>
      ))}
      {plot && !plot.problem && (
        <>
          <rect
            x={x(-plot.below)}
            y={y(1)}
            width={x(Math.min(12, plot.above)) - x(-plot.below)}
            height={y(0) - y(1)}
            fill="#ffffff"
            opacity="0.05"
          />
          <path d={line} fill="none" stroke="#e6e6e6" strokeWidth="1.5" />
          <circle cx={x(0)} cy={y(plot.grey)} r="3" fill="#c07aab" />
        </>
      )}
      <text x={W - 22} y={y(0) - 6} textAnchor="end">
        code, by stops from mid grey
      </text>
    </svg>
  )
}

/** The primaries and the white on the chromaticity plane, within the edge of real colours. */
export function GamutPlot({ plot, own }: { plot: Plot | null; own: Own }) {
  const H = 230
  const k = 190
  const x = (v: number) => W / 2 - 0.36 * k + v * k
  const y = (v: number) => H - 34 - v * k
  const at = (p: number[]) => `${x(p[0]!).toFixed(1)} ${y(p[1]!).toFixed(1)}`
  return (
    <svg
      viewBox={`0 0 ${W} ${H}`}
      className="w-full rounded-sm border border-line bg-room"
      role="img"
      aria-label="Primaries and white among real colours"
      fontSize="10"
      fill="#8e8e8e"
    >
      {plot && <path d={plot.locus.map((p, i) => (i === 0 ? 'M' : 'L') + at(p)).join('') + 'Z'} fill="#1d1d1d" stroke="#8e8e8e" />}
      <path d={`M${at(own.red)}L${at(own.green)}L${at(own.blue)}Z`} fill="none" stroke="#e6e6e6" strokeWidth="1.5" />
      {(
        [
          [own.red, '#d05a5a', 'R'],
          [own.green, '#5ab45a', 'G'],
          [own.blue, '#6a86e0', 'B'],
          [own.white, '#ffffff', 'W'],
        ] as const
      ).map(([p, color, name]) => (
        <g key={name}>
          <circle cx={x(p[0])} cy={y(p[1])} r="3.5" fill={color} />
          <text x={x(p[0]) + 7} y={y(p[1]) + 3}>
            {name}
          </text>
        </g>
      ))}
      <text x={W - 10} y={H - 8} textAnchor="end">
        x and y of 1931, within the edge of real colours
      </text>
    </svg>
  )
}
