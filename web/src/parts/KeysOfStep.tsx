import type { Kind, Step } from '../api/types.gen'
import { newGesture } from '../api/gesture'
import { Tip } from '../controls/Tip'
import { keyedOf } from '../model/parts'
import { seekKey } from '../state/mattes'
import { shotOf, studio, useStudio } from '../state/studio'

const word = 'rounded-sm px-1 text-xs text-dim hover:text-text'

/** Keys of a step over the frames of the shot: what is keyed moves between them. */
export function KeysOfStep({ kind, name, step }: { kind: Kind; name: string; step: Step | undefined }) {
  const frame = useStudio((s) => s.frame)
  const frames = useStudio((s) => shotOf(s)?.frames ?? 1)
  const keys = step?.keys ?? []
  if (frames < 2 && keys.length === 0) return null
  const here = keys.some((k) => k.frame === frame)
  const names = keyedOf(kind)
    .map((s) => s.label.toLowerCase())
    .join(', ')
  return (
    <div className="mt-1 flex h-6 items-center gap-1 border-t border-line pt-1" role="group" aria-label="Keys over frames">
      <Tip help={`Over frames move: ${names}. Before the first key and after the last they stay.`} side="left">
        <span className="w-[84px] text-soft">Moves</span>
      </Tip>
      {keys.length > 0 && (
        <button type="button" aria-label="Key before" className={word} onClick={() => seekKey(step!, -1)}>
          ‹
        </button>
      )}
      <Tip
        help={here ? 'This frame is a key. Press to take it away.' : 'Makes this frame a key: between keys it moves smoothly.'}
        side="left"
      >
        <button
          type="button"
          aria-pressed={here}
          aria-label="Key at this frame"
          className={here ? 'rounded-sm px-1 text-xs text-plum' : word}
          onClick={() =>
            studio.edit({ op: here ? 'unkey' : 'key', station: kind.station, kind: name, value: frame, gesture: newGesture() })
          }
        >
          key{keys.length ? ` ${keys.length}` : ''}
        </button>
      </Tip>
      {keys.length > 0 && (
        <button type="button" aria-label="Key after" className={word} onClick={() => seekKey(step!, 1)}>
          ›
        </button>
      )}
      {keys.length === 0 && <span className="text-xs text-dim">stays where it is</span>}
    </div>
  )
}
