import { Store } from './store'
import { studio } from './studio'

/** How far a search for shots that look alike is, 0…1; null while there is none. */
export const searching = new Store<{ done: number | null }>({ done: null })

/** Chooses a shot with those of its camera and light: they are suggested, and nothing is done to them. */
export function chooseAlike(shot: number) {
  searching.set({ done: 0 })
  studio.ask(
    { type: 'alike', channel: 'alike', shot },
    (reply) => {
      searching.set({ done: reply.found ? null : reply.done })
      if (!reply.found) return
      if (!reply.shots?.length) return studio.tell('No other shot of the reel is of this camera and light')
      studio.set({ selection: [shot, ...reply.shots] })
    },
    (problem) => {
      searching.set({ done: null })
      studio.tell(problem)
    },
  )
}

export function stopAlike() {
  studio.unask('alike')
  searching.set({ done: null })
}
