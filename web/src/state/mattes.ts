import type { Setting } from '../api/types.gen'
import { changeMatte } from './steps'
import type { Value } from '../model/look'
import { partAt, type Keyed } from '../model/parts'
import { studio } from './studio'

/** Changes settings of a part: those of its key at this frame, if it has keys. */
export function setPart(name: string, index: number, settings: Setting[], values: Record<string, Value>, gesture = '', hurry = false) {
  const { frame } = studio.get()
  changeMatte(
    name,
    (m) => {
      const part = m.parts[index]!
      part.settings ??= {}
      if (!part.keys?.length) return void Object.assign(part.settings, values)
      let key = part.keys.find((k) => k.frame === frame)
      if (!key) {
        key = { frame, settings: partAt(part, settings, frame) }
        part.keys = [...part.keys, key].sort((a, b) => a.frame - b.frame)
      }
      Object.assign(key.settings, values)
    },
    gesture,
    hurry,
  )
}

/** Puts a key at this frame, or takes the one that is there away. */
export function toggleKey(name: string, index: number, settings: Setting[]) {
  const { frame } = studio.get()
  changeMatte(name, (m) => {
    const part = m.parts[index]!
    const now = partAt(part, settings, frame)
    const keys = part.keys ?? []
    if (keys.some((k) => k.frame === frame)) {
      part.keys = keys.filter((k) => k.frame !== frame)
      if (part.keys.length === 0) Object.assign((part.settings ??= {}), now) // it stays where it was
    } else part.keys = [...keys, { frame, settings: now }].sort((a, b) => a.frame - b.frame)
  })
}

/** Goes to the next key of a part or a step, or the one before. */
export function seekKey(part: Keyed, by: 1 | -1) {
  const { frame } = studio.get()
  const frames = (part.keys ?? []).map((k) => k.frame)
  const to = by > 0 ? frames.find((f) => f > frame) : [...frames].reverse().find((f) => f < frame)
  if (to !== undefined) studio.seek(to)
}

/** How many steps of the open look share a matte. */
export function users(name: string): number {
  const look = studio.get().look
  return Object.values(look?.stations ?? {}).reduce(
    (n, st) => n + [...(st.steps ?? []), ...Object.values(st.groups ?? {})].filter((s) => s.matte === name).length,
    0,
  )
}

export const joins = [
  { id: 'add', label: 'and', note: 'It covers as well: the union' },
  { id: 'within', label: 'within', note: 'Only where it covers too: the intersection' },
  { id: 'without', label: 'without', note: 'All but what it covers: the subtraction' },
]
