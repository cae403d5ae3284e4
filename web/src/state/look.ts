import type { Edit, Kind, Look, Setting, Step } from '../api/types.gen'

export type Value = number | string

/** The step of a kind in a look, if it is there. */
export function stepOf(look: Look, kind: Kind): Step | undefined {
  return look.stations[kind.station]?.steps?.find((s) => s.kind === kind.id)
}

/** A setting's value: the look's, or the default. */
export function valueOf(step: Step | undefined, setting: Setting): Value {
  const v = step?.settings?.[setting.id]
  return (v as Value | undefined) ?? initialOf(setting)
}

export function initialOf(setting: Setting): Value {
  return setting.choices ? setting.choices[setting.default]!.id : setting.default
}

export function stationOn(look: Look, station: string): boolean {
  return look.stations[station]?.on ?? true
}

export function isActive(look: Look, kind: Kind): boolean {
  if (kind.fixed) return true
  const step = stepOf(look, kind)
  return !!step?.on && stationOn(look, kind.station)
}

/** Whether what a kind needs for an effect is there. */
export function hasEffect(look: Look, kinds: Kind[], kind: Kind): boolean {
  const on = (path: string) => kinds.some((k) => `${k.station}.${k.id}` === path && isActive(look, k))
  switch (kind.when) {
    case 'print':
      return on('print.medium')
    case 'unprinted':
      return !on('print.medium')
    case 'halo or grain':
      return on('negative.halation') || on('negative.grain')
    case 'film':
      return kinds.some((k) => k.film && k.id !== kind.id && isActive(look, k))
  }
  return true
}

/** Whether any step of a station acts. */
export function stationActs(look: Look, kinds: Kind[], station: string): boolean {
  return kinds.some((k) => k.station === station && !k.fixed && isActive(look, k))
}

/** The same edit that the server makes, so that the screen need not wait for it. */
export function applied(look: Look, edit: Edit, kinds: Kind[]): Look {
  const next = structuredClone(look)
  const { op, station, kind, setting, value } = edit
  if (!station) return next
  if (op === 'clear' && !kind) {
    delete next.stations[station]
    return next
  }
  const part = (next.stations[station] ??= { on: true, strength: 1, steps: [] })
  part.steps ??= []
  if (!kind) {
    if (op === 'on' || op === 'off') part.on = op === 'on'
    if (op === 'strength') part.strength = value as number
    return next
  }
  let step = part.steps.find((s) => s.kind === kind)
  if (!step && op !== 'reset' && op !== 'clear') {
    step = { kind, on: true, strength: 1, settings: {}, matte: null }
    part.steps.push(step)
    const order = (id: string) => kinds.findIndex((k) => k.station === station && k.id === id)
    part.steps.sort((a, b) => order(a.kind) - order(b.kind))
  }
  if (!step) return next
  step.settings ??= {}
  switch (op) {
    case 'set':
      step.on = true
      part.on = true
      step.settings[setting!] = value
      break
    case 'reset':
      delete step.settings[setting!]
      break
    case 'clear':
      step.settings = {}
      step.strength = 1
      break
    case 'on':
      step.on = true
      part.on = true
      break
    case 'off':
      step.on = false
      break
    case 'strength':
      step.strength = value as number
  }
  return next
}
