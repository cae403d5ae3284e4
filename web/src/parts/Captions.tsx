import { judge, sideName } from '../state/judge'
import { setDifference, setShow } from '../state/judging'
import { pinboard } from '../state/pins'
import { keyLabel } from '../state/keymap'
import { shotsOf, studio, useStudio } from '../state/studio'

const chip = 'rounded-sm bg-black/65 px-1.5 py-px text-xs text-white'

/** What is on the screen, in words, wherever it is not simply the shot. */
export function Captions({ side }: { side: 'own' | 'other' }) {
  const shots = useStudio(shotsOf)
  const pins = pinboard.use((s) => s.pins)
  const j = judge.use((s) => s)
  const hide = useStudio((s) => s.hide)
  const note = useStudio((s) => s.picture?.reply.note)
  const other = sideName(j.side, shots, pins)
  if (side === 'other')
    return (
      <span className={`${chip} absolute bottom-2 left-2`} data-testid="side-name">
        {other}
      </span>
    )
  const measured = j.show === 'adds' || (j.layout === 'difference' && !j.show)
  if (j.before)
    return (
      <span className={`${chip} absolute bottom-2 left-2`} data-testid="side-name">
        {other}
      </span>
    )
  return (
    <>
      {hide && (
        <button
          type="button"
          className={`${chip} absolute left-2 top-2 text-amber hover:text-white`}
          data-testid="hidden"
          title="Press to show it again"
          onPointerDown={(e) => e.stopPropagation()}
          onClick={() => studio.setHide(hide)}
        >
          {hide === 'above' ? 'the look above is hidden' : 'the shot’s own is hidden'} (
          {keyLabel(hide === 'above' ? 'hide-above' : 'hide-own')})
        </button>
      )}
      {j.layout === 'wipe' && (
        <>
          <span className={`${chip} pointer-events-none absolute bottom-2 left-2`} data-testid="side-name">
            {other}
          </span>
          <span className={`${chip} pointer-events-none absolute bottom-2 right-2`}>as it is now</span>
        </>
      )}
      {j.layout === 'beside' && !j.show && <span className={`${chip} absolute bottom-2 left-2`}>as it is now</span>}
      {(j.show || measured) && (
        <div
          className={`absolute bottom-2 left-2 flex items-center gap-2 ${j.layout === 'wipe' ? 'bottom-8' : ''}`}
          onPointerDown={(e) => e.stopPropagation()}
          onDoubleClick={(e) => e.stopPropagation()}
        >
          <span className={chip} data-testid="note">
            {measured && !j.show ? `${note ?? 'the difference'}, against ${other}` : note}
          </span>
          {measured && (
            <span className={`${chip} flex items-center gap-1.5`} role="group" aria-label="Amplification">
              {[1, 4, 16, 64].map((g) => (
                <button
                  key={g}
                  type="button"
                  aria-pressed={j.gain === g}
                  className={j.gain === g ? 'font-semibold' : 'text-white/60 hover:text-white'}
                  onClick={() => setDifference({ gain: g })}
                >
                  ×{g}
                </button>
              ))}
              <button type="button" className="ml-1 text-white/60 hover:text-white" onClick={() => setDifference({ black: !j.black })}>
                {j.black ? 'on black' : 'on grey'}
              </button>
            </span>
          )}
          {j.show && j.show !== 'far' && (
            <button type="button" className={`${chip} text-white/75 hover:text-white`} onClick={() => setShow('')}>
              back (Esc)
            </button>
          )}
        </div>
      )}
    </>
  )
}
