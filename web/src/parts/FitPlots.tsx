import type { Fitted } from '../api/types.gen'
import { LinePlot, inks, type Series } from './LinePlot'

/** What was measured, as rings, and what the card does, as lines. */
export function FitPlots({ made }: { made: Fitted }) {
  const { steps, grey, drawn, speckles, ring } = made.report!
  const three = <T,>(list: T[], x: (v: T) => number, measured: (v: T) => number[], fitted: (v: T) => number[]): Series[] =>
    inks.map((colour, c) => ({
      colour,
      rings: list.map((v): [number, number] => [x(v), measured(v)[c]!]),
      line: list.map((v): [number, number] => [x(v), fitted(v)[c]!]),
    }))
  return (
    <div className="my-2 grid grid-cols-2 gap-2">
      {steps && (
        <LinePlot
          title="Curves"
          across="log exposure"
          down="density"
          marks={[grey]}
          series={three(
            steps,
            (s) => s.logE,
            (s) => s.measured,
            (s) => s.fitted,
          )}
        />
      )}
      {drawn && (
        <LinePlot
          title="Detail"
          across="cycles a mm"
          down="left of a contrast"
          series={[
            {
              colour: '#b9b2b6',
              rings: drawn.map((d): [number, number] => [d.cycles, d.measured]),
              line: drawn.map((d): [number, number] => [d.cycles, d.fitted]),
            },
          ]}
        />
      )}
      {speckles && (
        <LinePlot
          title="Grain"
          across="density above base"
          down="deviation × 1000"
          series={three(
            speckles,
            (s) => s.density[1],
            (s) => s.measured.map((v) => 1000 * v),
            (s) => s.fitted.map((v) => 1000 * v),
          )}
        />
      )}
      {ring && (
        <LinePlot
          title="Halo"
          across="mm from the lamp"
          down="stops from mid grey"
          marks={ring.seen ? [ring.radius] : []}
          series={three(
            ring.profile.filter((p) => p.radius > 0.06 && p.radius < 1.2),
            (p) => p.radius,
            (p) => p.measured.map(inStops),
            (p) => p.fitted.map(inStops),
          )}
        />
      )}
    </div>
  )
}

const inStops = (light: number) => Math.max(Math.log2(Math.max(light, 1e-6) / 0.18), -12)
