import type { Choice } from './types.gen'

/** The choices there are to make: what was put away is offered no longer, unless it is what stands. */
export function offered(choices: Choice[] | undefined, now = ''): Choice[] {
  return (choices ?? []).filter((c) => !c.away || c.id === now)
}
