import type { Side } from '../api/types.gen'
import { Button } from '../controls/Button'
import { Menu, type MenuItem } from '../controls/Menu'
import { judge, sideName } from '../state/judge'
import { setBefore, setLayout, setSide } from '../state/judging'
import { pinboard } from '../state/pins'
import { shotsOf, useStudio } from '../state/studio'
import { KeyTip } from './KeyTip'

/** How the shot is set against another picture, and which. */
export function CompareCluster() {
  const { before, layout, side } = judge.use((s) => s)
  const shots = useStudio(shotsOf)
  const station = useStudio((s) => s.station)
  const open = useStudio((s) => s.shotId)
  const pins = pinboard.use((s) => s.pins)
  const groups: { title: string; items: MenuItem<Side>[] }[] = [
    {
      title: 'This shot',
      items: [
        { id: 'film', label: 'without film' },
        { id: 'entered', label: 'as it entered', note: 'conversion alone' },
        { id: `station:${station}`, label: sideName(`station:${station}`, [], []), note: 'the station that is open' },
        { id: 'previous', label: 'before the last change' },
      ],
    },
    { title: 'Pins', items: pins.filter((p) => !p.reference).map((p) => ({ id: `pin:${p.id}`, label: p.name })) },
    { title: 'References', items: pins.filter((p) => p.reference).map((p) => ({ id: `pin:${p.id}`, label: p.name })) },
    { title: 'Another shot', items: shots.filter((s) => s.id !== open).map((s) => ({ id: `shot:${s.id}`, label: s.name })) },
  ]
  return (
    <div className="flex items-center gap-1.5" role="group" aria-label="Compare">
      <KeyTip help="Hold to see the other side in place of the picture." command="before">
        <Button
          active={before}
          onPointerDown={() => setBefore(true)}
          onPointerUp={() => setBefore(false)}
          onPointerLeave={() => setBefore(false)}
        >
          Before
        </Button>
      </KeyTip>
      <KeyTip help="A line across the picture, the other side beyond it. Drag the line, turn it by its knob." command="wipe">
        <Button active={layout === 'wipe'} onClick={() => setLayout('wipe')}>
          Wipe
        </Button>
      </KeyTip>
      <KeyTip help="The other side on the left, the picture on the right; size and place are common." command="beside">
        <Button active={layout === 'beside'} onClick={() => setLayout('beside')}>
          Beside
        </Button>
      </KeyTip>
      <KeyTip help="What the picture has more than the other side, and less, amplified." command="difference">
        <Button active={layout === 'difference'} onClick={() => setLayout('difference')}>
          Difference
        </Button>
      </KeyTip>
      <Menu label="Other side" value={side} groups={groups} onChange={setSide}>
        <span className="max-w-32 truncate">{sideName(side, shots, pins)}</span>
      </Menu>
    </div>
  )
}
