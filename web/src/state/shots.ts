import type { ShotCard } from '../api/types.gen'

/** Tells whether a frame of a sequence is missing. */
export function inGap(shot: ShotCard, frame: number) {
  return shot.gaps.some((g) => frame >= g.first && frame <= g.last)
}
