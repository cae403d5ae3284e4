import { Button } from '../controls/Button'
import { Menu } from '../controls/Menu'
import { judge } from '../state/judge'
import { setBefore, setLayout, setSide } from '../state/judging'
import { KeyTip } from './KeyTip'
import { useSides } from './sides'

/** How the shot is set against another picture, and which. */
export function CompareCluster() {
  const { before, layout, side } = judge.use((s) => s)
  const { groups, name } = useSides()
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
        <span className="max-w-24 truncate">{name(side)}</span>
      </Menu>
    </div>
  )
}
