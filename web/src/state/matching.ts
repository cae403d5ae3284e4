import { api } from '../api/client'
import type { Side } from '../api/types.gen'
import { setLayout, setSide } from './judging'
import { judge } from './judge'
import { setDock } from './docking'
import { scopes } from './scopes'
import { Store } from './store'
import { studio } from './studio'

/** Bringing the open shot to a reference: whether it is under way, and what it came to, for which shot. */
export const matching = new Store<{ busy: boolean; says: string; shot: number }>({ busy: false, says: '', shot: 0 })

/** Brings the open shot to a pin, a still or another shot, and stands them beside each other, with the scopes of both. One undo takes it back. */
export async function matchTo(side: Side) {
  const shot = studio.shot
  if (!shot) return
  const { frame, zoom } = studio.get()
  const box = zoom === 'fit' ? (scopes.get().box ?? undefined) : undefined
  const theirs = (zoom === 'fit' && scopes.get().otherBox) || box
  matching.set({ busy: true, says: '', shot: shot.id })
  try {
    await studio.settled()
    const met = await api.match(shot.id, { side, frame, box, theirs })
    studio.take(met.shot)
    matching.set({ says: met.says })
    setSide(side)
    if (judge.get().layout !== 'beside') setLayout('beside')
    setDock({ under: true })
  } catch (error) {
    studio.complain(error)
  } finally {
    matching.set({ busy: false })
  }
}
