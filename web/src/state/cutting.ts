import { api } from '../api/client'
import { Store } from './store'
import { studio } from './studio'

/** The cuts of a movie that holds several shots: found by themselves, corrected by hand. */
export const cutting = new Store<{ shot: number; at: number[]; done: number | null }>({ shot: 0, at: [], done: null })

/** Looks for the cuts of the open shot. */
export function findCuts() {
  const shot = studio.shot
  if (!shot) return
  cutting.set({ shot: shot.id, at: [], done: 0 })
  studio.ask(
    { type: 'cuts', channel: 'cuts', shot: shot.id },
    (reply) => cutting.set(reply.found ? { done: null, at: reply.cuts ?? [] } : { done: reply.done }),
    (problem) => {
      cutting.set({ done: null })
      studio.tell(problem)
    },
  )
}

export function stopCuts() {
  studio.unask('cuts')
  cutting.set({ shot: 0, at: [], done: null })
}

/** Puts a cut at the open frame, or takes one away. */
export function toggleCut(frame: number) {
  const { at } = cutting.get()
  cutting.set({ at: at.includes(frame) ? at.filter((f) => f !== frame) : [...at, frame].sort((a, b) => a - b) })
}

/** Makes shots of the open one. */
export async function split() {
  const { shot, at } = cutting.get()
  try {
    await studio.settled()
    await api.split(shot, at)
    stopCuts()
    await studio.meetReel()
  } catch (error) {
    studio.complain(error)
  }
}
