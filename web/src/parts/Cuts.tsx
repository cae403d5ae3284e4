import { Button } from '../controls/Button'
import { ProgressBar } from '../controls/ProgressBar'
import { Tip } from '../controls/Tip'
import { cutting, findCuts, split, stopCuts, toggleCut } from '../state/cutting'
import { shotOf, studio, useStudio } from '../state/studio'

/** Splits a movie that holds several shots: its cuts are found, and can be corrected. */
export function Cuts() {
  const shot = useStudio(shotOf)
  const frame = useStudio((s) => s.frame)
  const { shot: of, at, done } = cutting.use((s) => s)
  if (!shot || shot.frames < 2) return null
  if (of !== shot.id)
    return (
      <Tip help="Look for hard cuts: a movie that holds several shots can be split into them" side="left">
        <Button onClick={findCuts}>Find cuts</Button>
      </Tip>
    )
  const inside = frame > shot.in && frame < (shot.out || shot.frames)
  return (
    <section aria-label="Cuts" className="mt-2 grid w-full gap-1.5 rounded-sm border border-line p-2">
      {done !== null ? (
        <div className="flex items-center gap-2">
          <ProgressBar label="Looking for cuts" done={done} className="grow" />
          <Button onClick={stopCuts}>Stop</Button>
        </div>
      ) : (
        <>
          <p className="m-0 text-soft" role="status">
            {at.length === 0
              ? 'No cut was found.'
              : at.length === 1
                ? '1 cut: press it to see its frame.'
                : `${at.length} cuts: press one to see its frame.`}
          </p>
          <ul className="m-0 flex max-h-32 flex-wrap gap-1 overflow-y-auto p-0">
            {at.map((f) => (
              <li key={f} className={`flex items-center rounded-sm border ${f === frame ? 'border-plum' : 'border-line'}`}>
                <button
                  type="button"
                  className="px-1.5 hover:text-text"
                  aria-label={`Go to the cut at ${f}`}
                  onClick={() => studio.seek(f)}
                >
                  {f}
                </button>
                <button
                  type="button"
                  className="px-1 text-dim hover:text-text"
                  aria-label={`Take the cut at ${f} away`}
                  onClick={() => toggleCut(f)}
                >
                  ×
                </button>
              </li>
            ))}
          </ul>
          <div className="flex gap-2">
            <Button disabled={!inside || at.includes(frame)} title="Put a cut at the open frame" onClick={() => toggleCut(frame)}>
              Cut here
            </Button>
            <span className="grow" />
            <Button onClick={stopCuts}>Close</Button>
            {at.length > 0 && (
              <Button active onClick={() => void split()}>
                Split into {at.length + 1}
              </Button>
            )}
          </div>
        </>
      )}
    </section>
  )
}
