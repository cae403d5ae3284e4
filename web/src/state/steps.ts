import type { Edit, Matte, Picked, Step, StepPath } from '../api/types.gen'
import { desk, entries, activate, split, startOf, type DeskState } from './desk'
import { nameOf, stepNamed } from '../model/look'
import { studio } from './studio'

const foldKey = (station: string, name: string) => `${studio.get().shotId} ${station}.${name}`

/** Whether a card is folded: those of kinds that were added are, until a hand opens them, once others are there. */
export function isFolded(state: DeskState, station: string, name: string) {
  return state.folded[foldKey(station, name)] ?? false
}

export function fold(station: string, name: string, folded: boolean) {
  desk.set({ folded: { ...desk.get().folded, [foldKey(station, name)]: folded } })
}

/** Chooses a card: alone, beside others, or up to it. */
export function choose(station: string, name: string, how: 'alone' | 'beside' | 'upto') {
  const { chosen } = desk.get()
  if (how === 'alone') return desk.set({ chosen: chosen.length === 1 && chosen[0] === name ? [] : [name] })
  if (how === 'beside') return desk.set({ chosen: chosen.includes(name) ? chosen.filter((n) => n !== name) : [...chosen, name] })
  const names = entries(studio.get().look!, studio.get().desk!.kinds, station).map((e) => e.name)
  const from = names.indexOf(chosen[chosen.length - 1] ?? name)
  const to = names.indexOf(name)
  desk.set({ chosen: names.slice(Math.min(from, to), Math.max(from, to) + 1) })
}

/** Adds a step of a kind, after the active step if that is in the station. */
export async function addStep(station: string, kind: string) {
  const before = new Set((studio.get().look?.stations[station]?.steps ?? []).map(nameOf))
  studio.edit({ op: 'add', station, kind })
  await studio.settled()
  const added = (studio.get().look?.stations[station]?.steps ?? []).find((s) => !before.has(nameOf(s)))
  if (!added) return
  const path: StepPath = `${station}.${nameOf(added)}`
  activate(path)
  desk.set({ focus: path })
}

/** Moves a step by places, up or down, past those that keep theirs. */
export function moveStep(station: string, name: string, by: number) {
  const steps = studio.get().look?.stations[station]?.steps ?? []
  const at = steps.findIndex((s) => nameOf(s) === name)
  const to = at + by
  if (at >= 0 && to >= 0 && to < steps.length) moveTo(station, name, to)
}

export function moveTo(station: string, name: string, to: number) {
  studio.edit({ op: 'move', station, kind: name, value: to })
}

/** Copies steps, with the mattes they need. */
export function copySteps(station: string, names: string[]) {
  const look = studio.get().look
  if (!look) return
  const steps = names.map((n) => stepNamed(look, station, n)).filter((s): s is Step => !!s)
  const mattes: Record<string, Matte> = {}
  for (const s of steps) if (s.matte && look.mattes?.[s.matte]) mattes[s.matte] = look.mattes[s.matte]!
  if (steps.length === 0) return studio.tell('There is nothing to copy: the step is not in use yet.')
  desk.set({ copied: structuredClone({ station, steps, mattes }) })
}

export function pasteSteps(station: string) {
  const { copied } = desk.get()
  if (!copied) return studio.tell('Copy a step first.')
  studio.edit({ op: 'paste', station, steps: copied.steps, mattes: copied.mattes })
}

export function removeSteps(station: string, names: string[]) {
  studio.edit({ op: 'remove', station, names })
  desk.set({ chosen: desk.get().chosen.filter((n) => !names.includes(n)) })
}

/** Makes a group of steps that stand beside each other. */
export function groupSteps(station: string, names: string[]) {
  studio.edit({ op: 'group', station, names, name: 'Group' })
  desk.set({ chosen: [] })
}

/** Waits for a place on the picture. */
export function pick(path: StepPath, what: string, done: (picked: Picked) => void, setting = '') {
  const now = desk.get().picking
  const again = now?.path === path && now.what === what && now.setting === setting
  desk.set({ picking: again ? null : { path, what, setting, x: 0.5, y: 0.5, done } })
}

/** The place is found. */
export function pickAt(x: number, y: number) {
  const { picking } = desk.get()
  const view = studio.seen()
  if (!picking || !view) return
  studio.ask(
    { type: 'pick', channel: 'pick', view: { ...view, step: studio.pathOf(picking.path) }, probe: { x, y } },
    ({ picked }) => {
      const { picking } = desk.get()
      desk.set({ picking: null })
      picking?.done(picked)
    },
    (problem) => studio.tell(problem),
  )
}

/** Asks for what a card shows of the light that enters its step. */
export function askTones(path: StepPath) {
  const view = studio.seen()
  if (view)
    studio.ask({ type: 'tones', channel: `tones:${path}`, view: { ...view, step: studio.pathOf(path) } }, ({ tones }) =>
      desk.set({ tones: { ...desk.get().tones, [path]: tones } }),
    )
}

export function askSkin(path: StepPath) {
  const view = studio.seen()
  if (view)
    studio.ask({ type: 'skin', channel: `skin:${path}`, view: { ...view, step: studio.pathOf(path) } }, ({ skin }) =>
      desk.set({ skin: { ...desk.get().skin, [path]: skin } }),
    )
}

/** Asks for the settings under which skin comes out as it entered. */
export function askBack(path: StepPath, done: (back: Record<string, number>) => void) {
  const view = studio.seen()
  if (!view) return
  studio.ask(
    { type: 'skin', channel: 'back', view: { ...view, step: studio.pathOf(path) }, back: true },
    ({ skin }) => skin.back && done(skin.back),
    (problem) => studio.tell(problem),
  )
}

/** Gives a step or a group a matte of its own, with one part. */
export function startMatte(path: StepPath, label: string, part: string) {
  const look = studio.get().look!
  const [station, name] = split(path)
  const title = label
  let fresh = title
  for (let n = 2; look.mattes?.[fresh]; n++) fresh = `${title} ${n}`
  const gesture = `matte-${fresh}-${Date.now()}`
  studio.edit({ op: 'cover', name: fresh, matte: { parts: [{ kind: part, settings: startOf(part) }] }, gesture })
  studio.edit({ op: 'matte', station, ...(name.startsWith('group:') ? { group: name.slice(6) } : { kind: name }), name: fresh, gesture })
  desk.set({ activeStep: path, part: 0 })
}

/** Changes a matte; every step that shares it follows. */
export function changeMatte(name: string, change: (m: Matte) => void, gesture = '', hurry = false) {
  const now = studio.get().look?.mattes?.[name]
  if (!now) return
  const matte = structuredClone(now)
  change(matte)
  studio.edit({ op: 'cover', name, matte, ...(gesture ? { gesture } : {}) } satisfies Edit, hurry)
}
