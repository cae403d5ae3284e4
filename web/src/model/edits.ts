import type { Edit, Kind, Look } from '../api/types.gen'
import { kindOf, nameOf, valueOf } from './look'
import { keyedOf, stepAt } from './parts'

/** Edits that change a look in place, which the screen need not wait for. */
export const atOnce = [
  'set',
  'reset',
  'clear',
  'on',
  'off',
  'strength',
  'outside',
  'source',
  'key',
  'unkey',
  'cover',
  'matte',
  'title',
  'lay',
  'treat',
]

/** The same edit that the server makes. */
export function applied(look: Look, edit: Edit, kinds: Kind[]): Look {
  const next = structuredClone(look)
  const { op, station, kind, setting, value } = edit
  if (op === 'cover') {
    next.mattes = { ...next.mattes, [edit.name!]: structuredClone(edit.matte!) }
    return next
  }
  if (op === 'treat') {
    const t = {
      ...(next.treatment ?? { on: true, strength: 1 }),
      ...(typeof value === 'boolean' ? { on: value } : { strength: value as number }),
    }
    if (t.on && t.strength === 1) delete next.treatment
    else next.treatment = t
    return next
  }
  if (!station) return next
  if (op === 'clear' && !kind) {
    delete next.stations[station]
    return next
  }
  const part = (next.stations[station] ??= { on: true, strength: 1, steps: [] })
  part.steps ??= []
  if (edit.group) {
    const group = part.groups?.[edit.group]
    if (!group) return next
    if (op === 'on' || op === 'off') group.on = op === 'on'
    if (op === 'on') part.on = true
    if (op === 'strength') group.strength = value as number
    if (op === 'title') group.title = edit.name!.trim()
    if (op === 'matte') group.matte = edit.name || null
    if (op === 'outside') group.outside = value as boolean
    if (op === 'lay') group.lay = edit.name
    return next
  }
  if (edit.names) {
    for (const s of part.steps) if (edit.names.includes(nameOf(s))) s.on = op === 'on'
    if (op === 'on') part.on = true
    return next
  }
  if (!kind) {
    if (op === 'on' || op === 'off') part.on = op === 'on'
    if (op === 'strength') part.strength = value as number
    return next
  }
  let step = part.steps.find((s) => nameOf(s) === kind)
  if (!step && op !== 'reset' && op !== 'clear') {
    const of = kindOf(kinds, station, kind)
    if (!of) return next
    step = { kind: of.id, on: true, strength: 1, settings: {}, matte: null }
    if (kind !== of.id) step.id = kind
    const order = (id: string) => kinds.findIndex((k) => k.station === station && k.id === id)
    const at = part.steps.reduce((last, s, i) => (order(s.kind) <= order(of.id) ? i + 1 : last), 0)
    part.steps.splice(at, 0, step)
    const beside = part.steps[at - 1]?.group
    if (beside && beside === part.steps[at + 1]?.group) step.group = beside
  }
  if (!step) return next
  step.settings ??= {}
  switch (op) {
    case 'set':
      step.on = true
      part.on = true
      Object.assign(step.settings, edit.values ?? { [setting!]: value })
      break
    case 'reset':
      delete step.settings[setting!]
      for (const key of step.keys ?? []) delete key.settings[setting!]
      break
    case 'clear':
      step.settings = {}
      step.strength = 1
      delete step.keys
      break
    case 'key': {
      const frame = value as number
      const of = kindOf(kinds, station, kind)!
      let key = step.keys?.find((k) => k.frame === frame)
      if (!key) {
        const now = stepAt(step, of, frame)
        key = { frame, settings: Object.fromEntries(keyedOf(of).map((s) => [s.id, valueOf(now, s)])) }
        step.keys = [...(step.keys ?? []), key].sort((a, b) => a.frame - b.frame)
      }
      Object.assign(key.settings, edit.values ?? {})
      step.on = true
      part.on = true
      break
    }
    case 'unkey': {
      const keys = step.keys ?? []
      if (keys.length === 1) Object.assign(step.settings, keys[0]!.settings)
      step.keys = keys.filter((k) => k.frame !== value)
      if (step.keys.length === 0) delete step.keys
      break
    }
    case 'on':
      step.on = true
      part.on = true
      break
    case 'off':
      step.on = false
      break
    case 'strength':
      step.strength = value as number
      break
    case 'outside':
      step.outside = value as boolean
      break
    case 'source':
      step.source = value as boolean
      break
    case 'matte':
      step.matte = edit.name || null
      break
    case 'title':
      step.title = edit.name
  }
  return next
}
