import type { Treatment } from '../api/types.gen'
import type { Docs, Level } from '../model/levels'
import { studio } from './studio'

/** The switch and strength of the treatment as a whole, at the level that is worked at. */
export const treatmentOf = (docs: Docs, level: Level): Treatment =>
  docs[docs[level] ? level : 'shot']?.treatment ?? { on: true, strength: 1 }

/** Switches it, or mixes it. */
export function treat(value: boolean | number, gesture = '', hurry = false) {
  const { docs, level } = studio.get()
  studio.edit({ op: 'treat', value, ...(gesture ? { gesture } : {}) }, hurry, docs[level] ? level : 'shot')
}
