import type { Kind, Show, StepPath } from '../api/types.gen'
import { Tip } from '../controls/Tip'
import { judge } from '../state/judge'
import { exaggerate, release, setShow } from '../state/judging'
import { KeyTip } from './KeyTip'

const views: { id: Show; label: string; help: string }[] = [
  { id: 'adds', label: 'adds', help: 'What this step adds and takes away, in linear light, amplified' },
  { id: 'matte', label: 'matte', help: 'Where this step acts: white where it changes most, black where nothing' },
  { id: 'solo', label: 'solo', help: 'This step alone in its station; the others rest. With Shift: alone in all of the path' },
]

const source: (typeof views)[number] = { id: 'source', label: 'source', help: 'The light alone that feeds this step' }

const wedge: (typeof views)[number] = {
  id: 'wedge',
  label: 'greys',
  help: 'On greys in the picture’s place: a step wedge, and mid grey beneath',
}

const placed: (typeof views)[number] = {
  id: 'placed',
  label: 'placed',
  help: 'At 1:1, every cloud placed one by one, as a delivery can have it: some seconds for a picture',
}

/** One step at a time: its contribution, where it acts, alone, and pushed while held. */
export function StepViews({ kind, path, title, active }: { kind: Kind; path: StepPath; title: string; active: boolean }) {
  const show = judge.use((s) => (s.step === path ? s.show : ''))
  if (!active && !show) return null
  const lit = (id: Show) => show === id || (id === 'solo' && show === 'alone')
  const word = 'rounded-sm px-[1.5px] text-xs'
  return (
    <div className="flex items-center" role="group" aria-label={`Views of ${title}`}>
      {[
        ...views,
        ...(kind.scatters ? [source] : []),
        ...(kind.tool === 'grain' ? [wedge] : []),
        ...(path === 'negative.grain' ? [placed] : []),
      ].map((v) => (
        <Tip key={v.id} help={`${v.help}. Escape returns.`} side="left">
          <button
            type="button"
            aria-pressed={lit(v.id)}
            className={`${word} ${lit(v.id) ? 'text-plum' : 'text-dim hover:text-text'}`}
            onClick={(e) => setShow(v.id === 'solo' && e.shiftKey ? 'alone' : v.id, path)}
          >
            {v.label}
          </button>
        </Tip>
      ))}
      <KeyTip
        help={
          kind.lead
            ? 'Hold: the step at the top of its range, then back. The key acts on the card under the pointer.'
            : 'Hold: what the step does, four times as far, then back. The key acts on the card under the pointer.'
        }
        command="far"
        side="left"
      >
        <button
          type="button"
          aria-pressed={show === 'far'}
          className={`${word} ${show === 'far' ? 'text-plum' : 'text-dim hover:text-text'}`}
          onPointerDown={(e) => {
            e.currentTarget.setPointerCapture(e.pointerId)
            exaggerate(path)
          }}
          onPointerUp={release}
          onPointerCancel={release}
        >
          far
        </button>
      </KeyTip>
    </div>
  )
}
