import { Button } from '../controls/Button'
import { Tip } from '../controls/Tip'
import { shotOf, useStudio } from '../state/studio'
import { zoomTo } from '../state/zoom'
import { grain, grainOfStock, openGrain, regrain } from '../state/grain'

/** What goes with a step of grain: the way to the cards, and where noise was taken out, grain to put back. */
export function GrainTool({ path, on, back }: { path: string; on: boolean; back: boolean }) {
  const busy = grain.use((s) => s.busy === 'match')
  const small = useStudio((s) => {
    const shot = shotOf(s)
    return s.zoom === 'fit' && !!shot && Math.min(s.view.width / shot.width, s.view.height / shot.height) < 0.7
  })
  return (
    <>
      {small && on && (
        <p className="m-0 mt-1 text-xs text-dim">
          Fitted, the picture is too small to show it.{' '}
          <button type="button" className="rounded-sm text-soft underline hover:text-text" onClick={() => zoomTo(1, { x: 0.5, y: 0.5 })}>
            See it 1:1
          </button>
        </p>
      )}
      {back && (
        <div role="group" aria-label="Put grain back" className="mt-1 flex h-7 items-center gap-2 border-t border-line pt-1">
          <span className="w-[84px] shrink-0 text-soft">Put back</span>
          <Tip help="Measures the grain that was there, as the finished picture showed it, and puts as much on top" side="left">
            <Button disabled={busy} onClick={regrain}>
              {busy ? 'Matching…' : 'its own'}
            </Button>
          </Tip>
          <Tip help="Switches the negative’s grain on" side="left">
            <Button onClick={grainOfStock}>the stock’s</Button>
          </Tip>
        </div>
      )}
      <button type="button" className="mt-1 h-6 rounded-sm text-soft hover:text-text" onClick={() => openGrain(path)}>
        Grain cards…
      </button>
    </>
  )
}
