import type { Show, Side, StepPath } from '../api/types.gen'
import { judge, type Judge, type Layout } from './judge'
import { player } from './player'
import { studio } from './studio'

export function setBefore(before: boolean) {
  if (before === judge.get().before) return
  judge.set({ before })
  if (before) studio.askOther(player.get().playing !== '')
}

export function setLayout(layout: Layout) {
  const old = judge.get().layout
  if (layout === old) layout = 'one'
  judge.set({ layout, other: layout === 'beside' || old === 'beside' ? null : judge.get().other })
  studio.refreshView()
}

export function setSide(side: Side) {
  judge.set({ side, other: null })
  studio.refreshView()
}

/** Chooses what stands on this side while two pictures are compared. */
export function setOwnSide(own: Side) {
  judge.set({ own })
  studio.refreshView()
}

/** Keeps the picture as it leaves a station while others are worked at; again, or without one, it is the whole way through. */
export function setTap(tap: string) {
  judge.set({ tap: tap === judge.get().tap ? '' : tap })
  studio.refresh(false)
}

/** Shows a view, or the picture again if it is there already. */
export function setShow(show: Show, step: StepPath | '' = '') {
  const now = judge.get()
  judge.set(now.show === show && now.step === step ? { show: '', step: '', bands: [] } : { show, step, bands: [] })
  studio.refresh(false)
}

export function setDifference(change: Partial<Pick<Judge, 'gain' | 'black'>>) {
  judge.set(change)
  studio.refresh(false)
}

/** Looks at what a compressed movie leaves of the picture, one to one. */
export function setDelivery(codec: string, megabits: number) {
  judge.set({ show: 'delivery', step: '', bands: [], codec, megabits })
  studio.setZoom(studio.get().zoom === 'fit' ? 1 : studio.get().zoom)
}

let kept: Pick<Judge, 'show' | 'step'> | null = null
/** Holds a step at the top of its range for as long as a key or a finger is down. */
export function exaggerate(step: StepPath) {
  if (kept) return
  const { show, step: old } = judge.get()
  kept = { show, step: old }
  judge.set({ show: 'far', step })
  studio.refresh(false)
}
export function release() {
  if (!kept) return
  judge.set(kept)
  kept = null
  studio.refresh(false)
}
