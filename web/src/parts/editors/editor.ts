import type { Kind, Setting, Step, StepPath } from '../../api/types.gen'
import { scaleOf, valueOf, type Value } from '../../model/look'
import { studio } from '../../state/studio'

/** What every editor works on: a step of a kind, by its name. */
export interface EditorProps {
  kind: Kind
  name: string
  step: Step | undefined
  dim: boolean
}

export const pathOf = (p: EditorProps): StepPath => `${p.kind.station}.${p.name}`

export const settingOf = (kind: Kind, id: string): Setting => kind.settings.find((s) => s.id === id)!

export function numberOf(p: EditorProps, id: string): number {
  return valueOf(p.step, settingOf(p.kind, id)) as number
}
export function textOf(p: EditorProps, id: string): string {
  return String(valueOf(p.step, settingOf(p.kind, id)))
}

/** Changes settings: those that have keys in the key of this frame. */
export function change(p: EditorProps, values: Record<string, Value>, gesture = '', hurry = false) {
  if (p.step?.keys?.length) {
    const own = Object.fromEntries(Object.entries(values).filter(([id]) => p.kind.keyed?.includes(id)))
    const rest = Object.fromEntries(Object.entries(values).filter(([id]) => !p.kind.keyed?.includes(id)))
    if (Object.keys(own).length > 0)
      studio.edit(
        { op: 'key', station: p.kind.station, kind: p.name, value: studio.get().frame, values: own, ...(gesture ? { gesture } : {}) },
        hurry,
      )
    if (Object.keys(rest).length === 0) return
    values = rest
  }
  studio.edit({ op: 'set', station: p.kind.station, kind: p.name, values, ...(gesture ? { gesture } : {}) }, hurry)
}

export function restore(p: EditorProps, ids: string[], gesture: string) {
  for (const setting of ids) studio.edit({ op: 'reset', station: p.kind.station, kind: p.name, setting, gesture })
}

/** The props of a dial or a cell for a setting. */
export function dialOf(p: EditorProps, id: string) {
  const s = settingOf(p.kind, id)
  return {
    ...scaleOf(s),
    value: numberOf(p, id),
    dim: p.dim,
    onChange: (v: number, gesture: string, hurry: boolean) => change(p, { [id]: v }, gesture, hurry),
    onReset: () => studio.edit({ op: 'reset', station: p.kind.station, kind: p.name, setting: id }),
  }
}

/** The marks of the channels, the only colours beside the pictures. */
export const channelMarks: Record<string, string> = { Red: '#c8524a', Green: '#57a05c', Blue: '#5580d0' }
