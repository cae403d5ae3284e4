import type { Kind, Look, Setting, Step } from '../api/types.gen'

export type Value = number | string

/** What a step is found by in its station. */
export const nameOf = (step: Step) => step.id || step.kind

/** The kind of the step that has a name: exposure-2 is an exposure. */
export function kindOf(kinds: Kind[], station: string, name: string): Kind | undefined {
  const find = (id: string) => kinds.find((k) => k.station === station && k.id === id)
  const further = /^(.+)-([2-9]|[1-9]\d+)$/.exec(name)
  const of = further ? find(further[1]!) : undefined
  return of?.repeatable ? of : find(name)
}

/** A station's step by its name, if it is there. */
export function stepNamed(look: Look, station: string, name: string): Step | undefined {
  return look.stations[station]?.steps?.find((s) => nameOf(s) === name)
}

/** The first step of a kind in a look, if it is there. */
export function stepOf(look: Look, kind: Kind): Step | undefined {
  return stepNamed(look, kind.station, kind.id)
}

/** What a step is called on the screen. */
export function titleOf(kind: Kind, step: Step | undefined): string {
  if (step?.title) return step.title
  return step?.id ? `${kind.label} ${step.id.slice(step.id.lastIndexOf('-') + 1)}` : kind.label
}

/** A setting's value: the step's, or the default. */
export function valueOf(step: { settings?: Record<string, unknown> } | undefined, setting: Setting): Value {
  const v = step?.settings?.[setting.id]
  return (v as Value | undefined) ?? initialOf(setting)
}

export function initialOf(setting: Setting): Value {
  if (setting.points) return ''
  return setting.choices ? setting.choices[setting.default]!.id : setting.default
}

/** What a dial says of a setting and how far it goes. */
export function scaleOf(s: Setting) {
  const { label, help, unit, min, max, curve, names } = s
  return { label, help, unit, min, max, curve, names, step: s.step ?? 0.01, initial: initialOf(s) as number }
}

export function stationOn(look: Look, station: string): boolean {
  return look.stations[station]?.on ?? true
}

/** Whether a step acts: it, or any of its kind if no name is given. */
export function isActive(look: Look, kind: Kind, name?: string): boolean {
  if (kind.fixed) return true
  const steps = look.stations[kind.station]?.steps ?? []
  const groups = look.stations[kind.station]?.groups
  return (
    stationOn(look, kind.station) &&
    steps.some((s) => s.kind === kind.id && s.on && (!name || nameOf(s) === name) && (groups?.[s.group ?? '']?.on ?? true))
  )
}

/** Whether what a step needs for an effect is there. */
export function hasEffect(look: Look, kinds: Kind[], kind: Kind, name = kind.id): boolean {
  const provided = (what: string) => kinds.some((k) => k.provides === what && isActive(look, k))
  switch (kind.precondition) {
    case 'print':
      return provided('print')
    case 'unprinted':
      return !provided('print')
    case 'on the film':
      return provided('sizes')
    case 'film':
      return kinds.some((k) => k.film && k.id !== kind.id && isActive(look, k))
    case 'matte':
      return !!stepNamed(look, kind.station, name)?.matte
  }
  return true
}

/** Whether any step of a station acts. */
export function stationActs(look: Look, kinds: Kind[], station: string): boolean {
  return kinds.some((k) => k.station === station && !k.fixed && isActive(look, k))
}
