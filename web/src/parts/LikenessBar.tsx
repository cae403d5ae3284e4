import type { Pin, Side } from '../api/types.gen'
import { Button } from '../controls/Button'
import { Choice, type Option } from '../controls/Choice'
import { ProgressBar } from '../controls/ProgressBar'
import { likenTo, likening, unliken } from '../state/likeness'
import { pinboard } from '../state/pins'
import { shotsOf, useStudio } from '../state/studio'
import { layOut, takePatch, testStrip } from '../state/testStrip'

/** Sorts the stocks by likeness to a pin, a still of one's own, or another shot, and tells what was found. */
export function LikenessBar() {
  const { side, done, found, problem } = likening.use((s) => s)
  const pins = pinboard.use((s) => s.pins)
  const shotId = useStudio((s) => s.shotId)
  const shots = useStudio(shotsOf)
  const patches = testStrip.use((s) => s.patches)
  const options: Option[] = [
    { id: '', label: 'in the order of the list' },
    ...pins.map((p: Pin) => ({ id: `pin:${p.id}`, label: p.name, group: p.reference ? 'Stills' : 'Pins' })),
    ...shots.filter((s) => s.id !== shotId).map((s) => ({ id: `shot:${s.id}`, label: s.name, group: 'Other shots' })),
  ]
  const first = found ? patches[0] : undefined
  return (
    <div className="mb-2 flex min-h-6 items-center gap-2" data-testid="likeness">
      <span
        className="shrink-0 text-dim"
        title="For every stock: the print, the printer lights and the exposure by which this frame comes nearest to a picture"
      >
        Nearest to
      </span>
      <Choice label="Nearest to" className="w-52" options={options} value={side} onChange={(v) => likenTo(v as Side | '', layOut)} />
      {done !== null && (
        <>
          <ProgressBar label="Looking for the nearest film" done={done} className="w-40 shrink-0" />
          <Button
            onClick={() => {
              unliken()
              layOut()
            }}
          >
            Stop
          </Button>
        </>
      )}
      {problem && (
        <span role="alert" className="text-amber">
          {problem}
        </span>
      )}
      {found && first && (
        <>
          <span className={`min-w-0 truncate ${found.near ? 'text-text' : 'text-soft'}`} role="status" title={found.says}>
            {found.says}
          </span>
          <Button
            active={found.near}
            className="shrink-0"
            title="Stock, print, lights and exposure, as ordinary settings; one undo brings the old ones back"
            onClick={() => takePatch(first.id)}
          >
            Take {first.label}
          </Button>
        </>
      )}
    </div>
  )
}
