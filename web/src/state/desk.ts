import type { Kind, Look, Matte, Picked, SkinMove, Step, StepPath, Tones } from '../api/types.gen'
import { nameOf, stepNamed } from '../model/look'
import { Store } from './store'

/** A step on the desk, or a kind that stands there without being in the look. */
export interface Entry {
  kind: Kind
  name: string
  step?: Step
}

/** What a hand points at the picture for: the step that asks, and what becomes of the answer. */
export interface Picking {
  path: StepPath
  what: string
  /** The setting for which it is picked, if there are several. */
  setting: string
  x: number
  y: number
  done: (picked: Picked) => void
}

interface Copied {
  station: string
  steps: Step[]
  mattes: Record<string, Matte>
}

export interface DeskState {
  /** Cards that are folded or not, by shot and step, where that is not as usual. */
  folded: Record<string, boolean>
  /** The steps that are chosen together, by name, in the open station. */
  chosen: string[]
  /** The active step: its shapes have handles on the picture. */
  activeStep: StepPath | ''
  /** The active part of its matte. */
  part: number
  copied: Copied | null
  picking: Picking | null
  /** Readings for steps, by path. */
  tones: Record<string, Tones>
  skin: Record<string, SkinMove>
  /** The card that is to take the focus as soon as it is there, as station.step. */
  focus: StepPath | ''
  /** The step whose settings are being named to be kept ready. */
  keepingReady: StepPath | ''
}

export const desk = new Store<DeskState>({
  folded: {},
  chosen: [],
  activeStep: '',
  part: 0,
  copied: null,
  picking: null,
  tones: {},
  skin: {},
  focus: '',
  keepingReady: '',
})

/** The cards of a station: its steps in their order, and between them what always stands there. */
export function entries(look: Look, kinds: Kind[], station: string): Entry[] {
  const own = kinds.filter((k) => k.station === station)
  const order = (k: Kind) => own.indexOf(k)
  const list: Entry[] = (look.stations[station]?.steps ?? []).flatMap((step) => {
    const kind = own.find((k) => k.id === step.kind)
    return kind ? [{ kind, name: nameOf(step), step }] : []
  })
  for (const kind of own) {
    if (kind.group || list.some((e) => e.kind === kind)) continue
    const at = list.findIndex((e) => order(e.kind) > order(kind))
    list.splice(at < 0 ? list.length : at, 0, { kind, name: kind.id })
  }
  return list
}

/** A card by itself, or the cards of a group. */
export type Run = { group: string; cards: Entry[] } | { card: Entry }

/** The cards of a station with those of its groups together; what stands among them without being in the look comes after. */
export function runs(look: Look, list: Entry[], station: string): Run[] {
  const groups = look.stations[station]?.groups ?? {}
  const out: Run[] = []
  const seen = new Set<string>()
  for (const card of list) {
    const group = card.step?.group ?? ''
    if (!groups[group]) out.push({ card })
    else if (!seen.has(group)) {
      seen.add(group)
      out.push({ group, cards: list.filter((e) => e.step?.group === group) })
    }
  }
  return out
}

/** Makes a step the active one. */
export function activate(path: StepPath) {
  if (desk.get().activeStep !== path) desk.set({ activeStep: path, part: 0 })
}

export function deactivate() {
  desk.set({ chosen: [], activeStep: '', part: 0, picking: null })
}

/** How a group is named where steps are, among what has handles on the picture. */
export const groupPath = (station: string, group: string): StepPath => `${station}.group:${group}`

/** The matte that a step or a group acts in, with its name. */
export function matteOf(look: Look, path: StepPath | ''): { name: string; matte: Matte } | null {
  const [station, name] = split(path)
  const group = name.startsWith('group:') ? look.stations[station]?.groups?.[name.slice(6)] : undefined
  const called = (group ?? stepNamed(look, station, name))?.matte
  const matte = called ? look.mattes?.[called] : undefined
  return matte ? { name: called!, matte } : null
}

export function split(path: string): [string, string] {
  const dot = path.indexOf('.')
  return [path.slice(0, dot), path.slice(dot + 1)]
}

/** What a part starts with where its defaults would show nothing. */
export function startOf(part: string): Record<string, unknown> {
  return part === 'polygon' ? { points: '0.38:0.35 0.62:0.35 0.66:0.62 0.5:0.72 0.34:0.62' } : {}
}
