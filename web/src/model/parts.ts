import type { Key, Kind, Setting, Step } from '../api/types.gen'
import { initialOf, valueOf, type Value } from './look'
import { monotone, readPoints, writePoints } from './spline'

/** What has settings, and keys for them over the frames of a shot: a part of a matte, or a step. */
export interface Keyed {
  settings?: Record<string, unknown>
  keys?: Key[]
}

/** The settings of a kind that can have keys. */
export const keyedOf = (kind: Kind): Setting[] => kind.settings.filter((s) => kind.keyed?.includes(s.id))

/** A step as it is at a frame: what is keyed is as its keys say. */
export function stepAt(step: Step | undefined, kind: Kind, frame: number): Step | undefined {
  if (!step?.keys?.length) return step
  return { ...step, settings: { ...step.settings, ...partAt(step, keyedOf(kind), frame) } }
}

/** The settings of a part at a frame of the shot, keys and all, as the engine has them. */
export function partAt(part: Keyed, settings: Setting[], frame: number): Record<string, Value> {
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
