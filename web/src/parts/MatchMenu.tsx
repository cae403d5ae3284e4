import type { Side } from '../api/types.gen'
import { Menu, type MenuItem } from '../controls/Menu'
import { matching, matchTo } from '../state/matching'
import { pinboard } from '../state/pins'
import { shotsOf, useStudio } from '../state/studio'

/** Brings the open shot to a pin, a still or another shot. */
export function MatchMenu() {
  const shots = useStudio(shotsOf)
  const open = useStudio((s) => s.shotId)
  const pins = pinboard.use((s) => s.pins)
  const busy = matching.use((s) => s.busy)
  const groups: { title: string; items: MenuItem<Side>[] }[] = [
    { title: 'Another shot', items: shots.filter((s) => s.id !== open).map((s) => ({ id: `shot:${s.id}`, label: s.name })) },
    { title: 'Pins', items: pins.filter((p) => !p.reference).map((p) => ({ id: `pin:${p.id}`, label: p.name })) },
    { title: 'Stills', items: pins.filter((p) => p.reference).map((p) => ({ id: `pin:${p.id}`, label: p.name })) },
  ]
  if (groups.every((g) => g.items.length === 0)) return null
  return (
    <Menu
      label="Match"
      help="Bring this shot to another picture by exposure, white balance and contrast: ordinary steps, one undo. With a box on the picture (Shift and drag), what is inside it is compared; side by side, each can have a box of its own"
      value=""
      groups={groups}
      onChange={(side) => void matchTo(side)}
    >
      <span className="whitespace-nowrap">{busy ? 'comparing' : 'Match'}</span>
    </Menu>
  )
}

/** What bringing the shot to a reference came to. */
export function MatchSays() {
  const { says, shot } = matching.use((s) => s)
  const open = useStudio((s) => s.shotId)
  if (!says || shot !== open) return null
  return (
    <div className="mt-1.5 flex items-start gap-2 text-xs text-soft" role="status" data-testid="match">
      <span className="min-w-0 grow">{says}</span>
      <button type="button" aria-label="Close" className="px-1 text-dim hover:text-text" onClick={() => matching.set({ says: '' })}>
        ×
      </button>
    </div>
  )
}
