import { Menu } from '../controls/Menu'
import { judge } from '../state/judge'
import { setDifference, setOwnSide, setShow, setTap } from '../state/judging'
import { keyLabel } from '../state/keymap'
import { studio, useStudio } from '../state/studio'
import { useSides } from './sides'

const chip = 'rounded-sm bg-black/65 px-1.5 py-px text-xs text-white'

/** What is on the screen, in words, wherever it is not simply the shot. */
export function Captions({ side }: { side: 'own' | 'other' }) {
  const { name } = useSides()
  const j = judge.use((s) => s)
  const hide = useStudio((s) => s.hide)
  const note = useStudio((s) => s.picture?.reply.note)
  const other = name(j.side)
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
      {j.tap && !j.show && j.layout === 'one' && (
        <button
          type="button"
          className={`${chip} absolute bottom-2 left-2 hover:bg-black/85`}
          data-testid="tap"
          title="Press, or Escape, for the whole way through"
          onPointerDown={(e) => e.stopPropagation()}
          onClick={() => setTap('')}
        >
          {note} <span className="text-white/60">back (Esc)</span>
        </button>
      )}
      {j.layout === 'wipe' && (
        <>
          <span className={`${chip} pointer-events-none absolute bottom-2 left-2`} data-testid="side-name">
            {other}
          </span>
          <OwnSide className="absolute right-2 top-2" />
        </>
      )}
      {j.layout === 'difference' && !j.show && <OwnSide className="absolute right-2 top-2" />}
      {j.layout === 'beside' && !j.show && <OwnSide className="absolute bottom-2 left-2" />}
      {(j.show || measured) && (
        <div
          className={`absolute bottom-2 left-2 flex items-center gap-2 ${j.layout === 'wipe' ? 'bottom-8' : ''}`}
          onPointerDown={(e) => e.stopPropagation()}
          onDoubleClick={(e) => e.stopPropagation()}
        >
          <span className={chip} data-testid="note">
            {measured && !j.show ? `${note ?? 'the difference'}, against ${other}${j.own ? `, of ${name(j.own)}` : ''}` : note}
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

/** What stands on this side, which can be another picture than the shot as it is: two pins, or two trials, against each other. */
function OwnSide({ className }: { className: string }) {
  const { groups, name } = useSides()
  const own = judge.use((s) => s.own)
  return (
    <div
      className={`pointer-events-auto ${className}`}
      onPointerDown={(e) => e.stopPropagation()}
      onDoubleClick={(e) => e.stopPropagation()}
    >
      <Menu
        label="This side"
        help="What stands on this side while two pictures are compared"
        value={own}
        className={`${chip} flex items-center gap-1 hover:bg-black/85`}
        groups={[{ title: '', items: [{ id: '', label: 'as it is now' }] }, ...groups]}
        onChange={setOwnSide}
      >
        {name(own)} <span className="text-white/60">▾</span>
      </Menu>
    </div>
  )
}
