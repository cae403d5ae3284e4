import { Button } from '../controls/Button'
import { Tip } from '../controls/Tip'
import { allSeen, marksOf, nextMark, seen } from '../state/carry'
import { studio, useStudio } from '../state/studio'
import type { Kind, Step } from '../api/types.gen'

/** How many steps of the shot came from another picture, and the way through them. */
export function Marks() {
  const shot = useStudio((s) => s.docs.shot)
  const stations = useStudio((s) => s.desk?.stations)
  const marks = marksOf(shot, stations?.map((s) => s.id) ?? [])
  if (marks.length === 0) return null
  return (
    <div className="mt-1.5 flex items-center gap-2 text-amber" role="status" data-testid="marks">
      <span className="min-w-0 truncate">{marks.length === 1 ? '1 step' : `${marks.length} steps`} to look at again</span>
      <span className="grow" />
      <Tip help="Go to the next step with values that were found on another picture" side="left">
        <Button onClick={nextMark}>Next</Button>
      </Tip>
      <Tip help="All of them suit this shot" side="left">
        <Button onClick={allSeen}>All seen</Button>
      </Tip>
    </div>
  )
}

/** On the card of such a step: what of it came from another picture. Enter says that it suits, and goes on. */
export function Again({ kind, name, step }: { kind: Kind; name: string; step: Step | undefined }) {
  const own = useStudio((s) => studio.landing(kind.station) === 'shot' && s.shotId > 0)
  const again = step?.again ?? []
  if (!own || again.length === 0) return null
  const words = again.map((id) =>
    id === 'matte' ? 'its matte' : id === 'keys' ? 'what moves' : (kind.settings.find((s) => s.id === id)?.label ?? id).toLowerCase(),
  )
  return (
    <div className="flex items-center gap-2 text-xs text-amber" data-testid="again">
      <span className="min-w-0 grow">From another picture: look at {words.join(', ')}</span>
      <Tip help="It suits this shot; go on to the next (Enter)" side="left">
        <Button onClick={() => void seen(kind.station, name)}>Suits</Button>
      </Tip>
    </div>
  )
}
