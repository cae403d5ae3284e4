import type { Fitted, Patch } from '../api/types.gen'
import { Button } from '../controls/Button'
import { keepFit } from '../state/fit'
import { FitPlots } from './FitPlots'

/** What a measurement came to: which parts are measured and how sure, how well it reads, and what it cannot know. */
export function FitResult({ made, onDone }: { made: Fitted; onDone: () => void }) {
  const r = made.report!
  return (
    <div data-testid="fit-result">
      <h3 className="m-0 mb-1 font-semibold">{made.label}</h3>
      <table className="mb-1 w-full border-collapse text-sm">
        <caption className="sr-only">Which parts of the card are measured</caption>
        <tbody>
          {r.parts?.map((p) => (
            <tr key={p.of} className="border-t border-line align-top">
              <th scope="row" className={`w-16 py-0.5 pr-2 text-left font-normal ${p.measured ? 'text-text' : 'text-dim'}`}>
                {p.of}
              </th>
              <td className="py-0.5 text-soft">
                {p.measured ? `from ${p.from}` : p.from}
                {p.sure && <span className="block text-dim">{p.sure}</span>}
                {p.problem && <span className="block text-amber">{p.problem}</span>}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="m-0 text-soft">
        {r.pairs ? 'Densities of the colours' : 'Density'} {r.rms.toFixed(3)} off on the whole, {r.worst.toFixed(3)} at most. Started from{' '}
        {r.like}.{r.steps && ` Mid grey at log exposure ${r.grey.toFixed(2).replace('-', '−')}.`}
      </p>
      <FitPlots made={made} />
      {r.pairs && (
        <>
          <ul className="m-0 list-none p-0 text-soft">
            {r.pairs.map((p) => (
              <li key={p.name}>
                {p.name}, on a print: ΔE {p.mean.toFixed(2)} over what was fitted, {p.keptOut.toFixed(2)} over what was kept out. Its light
                was uneven by {Math.round(100 * p.uneven)} %.
              </li>
            ))}
          </ul>
          <Worst title="Worst of what was fitted" patches={r.patches!.filter((p) => !p.keptOut)} />
          <Worst title="Worst of what was kept out" patches={r.patches!.filter((p) => p.keptOut)} />
        </>
      )}
      <ul className="mb-3 mt-1.5 list-none p-0 text-xs text-dim">
        {r.limits.map((l) => (
          <li key={l} className="mb-0.5">
            {l}
          </li>
        ))}
      </ul>
      <div className="flex gap-2">
        <Button active className="h-7" onClick={() => void keepFit(true).then((done) => done && onDone())}>
          Keep and use
        </Button>
        <Button className="h-7" onClick={() => void keepFit(false).then((done) => done && onDone())}>
          Keep
        </Button>
      </div>
    </div>
  )
}

const shownWorst = 9

/** The patches that are furthest off, as the film has them above as the card has them. */
function Worst({ title, patches }: { title: string; patches: Patch[] }) {
  const worst = [...patches].sort((a, b) => b.error - a.error).slice(0, shownWorst)
  return (
    <figure className="m-0 mt-1.5">
      <figcaption className="text-xs text-dim">{title}: as the film has them, above as the card has them</figcaption>
      <div className="mt-0.5 flex gap-1">
        {worst.map((p, i) => (
          <span key={i} className="w-11 text-center text-xs text-soft" title={`ΔE ${p.error.toFixed(2)}`}>
            <span className="block h-4" style={{ background: web(p.shown[0]) }} />
            <span className="block h-4" style={{ background: web(p.shown[1]) }} />
            <span className={p.error > 4 ? 'text-amber' : ''}>{p.error.toFixed(1)}</span>
          </span>
        ))}
      </div>
    </figure>
  )
}

const web = (light: number[]) => `rgb(${light.map((v) => Math.round(255 * Math.pow(Math.max(0, Math.min(1, v)), 1 / 2.2))).join(' ')})`
