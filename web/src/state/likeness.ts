import type { Likeness, Side } from '../api/types.gen'
import type { Picture } from '../api/window'
import { Store } from './store'
import { studio } from './studio'

/** The search for the films that bring the shot near a picture. */
interface Likening {
  /** What it is to be like: a pin, a still, another shot; '' for none. */
  side: Side | ''
  /** How far the search is, 0…1; null while none is under way. */
  done: number | null
  found: Likeness | null
  /** The picture that it is to be like. */
  picture: Picture | null
  problem: string
}

const blank: Likening = { side: '', done: null, found: null, picture: null, problem: '' }

export const likening = new Store<Likening>(blank)

/** Looks for the films by which the open shot comes nearest to a picture; then is told when they are found. */
export function likenTo(side: Side | '', then: () => void) {
  const { shotId, frame, docs } = studio.get()
  studio.unask('like')
  likening.set({ ...blank, side, done: side ? 0 : null })
  if (!side || !docs.shot) return then()
  const view = { shot: shotId, frame, ...studio.looks(), side, width: 0, height: 0 }
  const dpr = studio.get().density
  studio.askPicture('like:picture', { ...view, width: Math.round(520 * dpr), height: Math.round(420 * dpr) }, (picture) =>
    likening.set({ picture }),
  )
  studio.ask(
    { type: 'likeness', channel: 'like:search', view },
    ({ done, likeness }) => {
      likening.set(likeness ? { done: null, found: likeness } : { done })
      if (likeness) then()
    },
    (problem) => likening.set({ done: null, problem }),
  )
}

/** Ends the search, and forgets what was found. */
export function unliken() {
  if (likening.get().side) studio.unask('like')
  likening.set(blank)
}
