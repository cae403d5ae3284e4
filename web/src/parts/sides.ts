import type { Side } from '../api/types.gen'
import type { MenuItem } from '../controls/Menu'
import { upwards } from '../model/levels'
import { sideName } from '../state/judge'
import { pinboard } from '../state/pins'
import { shotsOf, useStudio } from '../state/studio'
import { called, inUse, trialsOf, useOfTrials } from '../state/trials'

/** What can stand on a side of a comparison, and what each is called. */
export function useSides(): { groups: { title: string; items: MenuItem<Side>[] }[]; name: (side: Side) => string } {
  const shots = useStudio(shotsOf)
  const station = useStudio((s) => s.station)
  const of = useOfTrials()
  const pins = pinboard.use((s) => s.pins)
  const trials = of.reel?.trials ?? []
  const used = upwards.map((level) => inUse(of, level)).find((t) => t)
  const name = (side: Side) => (side === '' && used ? `${used.name}, as it is now` : sideName(side, shots, pins, trials))
  const groups: { title: string; items: MenuItem<Side>[] }[] = [
    {
      title: 'This shot',
      items: [
        { id: 'film', label: 'without film' },
        { id: 'entered', label: 'as it entered', note: 'conversion alone' },
        { id: `station:${station}`, label: name(`station:${station}`), note: 'the station that is open' },
        { id: 'previous', label: 'before the last change' },
      ],
    },
    {
      title: 'Trials',
      items: trialsOf(of).map((t) => ({
        id: `trial:${t.id}`,
        label: called(t),
        note: t.level === 'shot' ? undefined : `of the ${t.level}`,
      })),
    },
    { title: 'Pins', items: pins.filter((p) => !p.reference).map((p) => ({ id: `pin:${p.id}`, label: p.name })) },
    { title: 'References', items: pins.filter((p) => p.reference).map((p) => ({ id: `pin:${p.id}`, label: p.name })) },
    { title: 'This look on', items: shots.filter((s) => s.id !== of.shotId).map((s) => ({ id: `onto:${s.id}`, label: s.name })) },
    { title: 'Another shot', items: shots.filter((s) => s.id !== of.shotId).map((s) => ({ id: `shot:${s.id}`, label: s.name })) },
  ]
  return { groups, name }
}
