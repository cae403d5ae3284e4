import type { MattePart, Setting } from '../api/types.gen'
import { monotone, readPoints, writePoints } from './spline'
import { changeMatte } from './steps'
import { initialOf, valueOf, type Value } from './look'
import { studio } from './studio'

/** The settings of a part at a frame of the shot, keys and all, as the engine has them. */
export function partAt(part: MattePart, settings: Setting[], frame: number): Record<string, Value> {
  const out: Record<string, Value> = {}
  const keys = part.keys ?? []
  const at = (setting: Setting, i: number): Value => {
    const v = keys[i]!.settings[setting.id] ?? part.settings?.[setting.id]
    return (v as Value | undefined) ?? initialOf(setting)
  }
  const through = (values: number[]) => {
    const first = keys[0]!.frame
    const last = keys[keys.length - 1]!.frame
    const own = keys.findIndex((k) => k.frame === frame)
    if (own >= 0) return values[own]!
    if (frame <= first) return values[0]!
    if (frame >= last) return values[values.length - 1]!
    return monotone(keys.map((k, i) => [k.frame, values[i]!]))(frame)
  }
  const come = Math.max(0, keys.filter((k) => k.frame <= frame).length - 1)
  for (const s of settings) {
    if (keys.length === 0) out[s.id] = valueOf(part, s)
    else if (s.points) {
      const lines = keys.map((_, i) => readPoints(String(at(s, i))))
      if (lines.some((l) => l.length !== lines[0]!.length)) out[s.id] = at(s, come)
      else out[s.id] = writePoints(lines[0]!.map((_, k) => [through(lines.map((l) => l[k]![0])), through(lines.map((l) => l[k]![1]))]))
    } else if (s.choices) out[s.id] = at(s, come)
    else out[s.id] = through(keys.map((_, i) => at(s, i) as number))
  }
  return out
}

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

/** Goes to the next key of a part, or the one before. */
export function seekKey(part: MattePart, by: 1 | -1) {
  const { frame } = studio.get()
  const frames = (part.keys ?? []).map((k) => k.frame)
  const to = by > 0 ? frames.find((f) => f > frame) : [...frames].reverse().find((f) => f < frame)
  if (to !== undefined) studio.seek(to)
}

/** How many steps of the open look share a matte. */
export function users(name: string): number {
  const look = studio.get().look
  return Object.values(look?.stations ?? {}).reduce((n, st) => n + (st.steps ?? []).filter((s) => s.matte === name).length, 0)
}

export const joins = [
  { id: 'add', label: 'and', note: 'It covers as well: the union' },
  { id: 'within', label: 'within', note: 'Only where it covers too: the intersection' },
  { id: 'without', label: 'without', note: 'All but what it covers: the subtraction' },
]
