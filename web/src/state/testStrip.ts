import { laid, withFilm } from '../model/films'
import { api } from '../api/client'
import type { Choice, Kind, LikenedFilm, Look, ReadyFilm, ReadyLook, Setting } from '../api/types.gen'
import type { Picture } from '../api/window'
import { newGesture } from '../api/gesture'
import { applied } from '../model/edits'
import type { Level } from '../model/levels'
import { stepOf, valueOf, type Value } from '../model/look'
import { offered } from '../api/choices'
import { likening, unliken } from './likeness'
import { Store } from './store'
import { studio } from './studio'

/** One setting under several values. A choice is shown whole, a number is bracketed around where it stands. */
export interface Axis {
  station: string
  kind: string
  setting: string
  /** For numbers: how many values, and between which. */
  count: number
  from: number
  to: number
  /** The values that have words, in place of those. */
  words?: boolean
}

/** One picture of a test strip. */
export interface Patch {
  id: string
  label: string
  /** What taking it sets. */
  values: { station: string; kind: string; setting: string; value: Value }[]
  /** Or a whole look. */
  whole?: Look
  /** The level whose look it would be. */
  level: Level
  /** The id of the look that is taken. */
  taken?: string
  /** It is what the shot has now. */
  now: boolean
  /** What it can be found by, and the key under which it is kept in reach. */
  note?: string
  /** What its card says of it beside the note. */
  says?: string[]
  group?: string
  tags?: string[]
  key?: string
  /** How far it stays from what the strip is sorted by. */
  apart?: number
  look: Look
}

interface Strip {
  open: boolean
  down: Axis | null
  across: Axis | null
  looks: ReadyLook[]
  recipes: ReadyFilm[]
  /** What the patches are filtered by. */
  filter: Filter
  /** How strong a kept look is taken, 0…1. */
  strength: number
  patches: Patch[]
  columns: number
  pictures: Record<string, Picture>
  /** The patch that is shown large, and its picture; '' is what the shot has now. */
  large: string
  enlarged: Picture | null
  /** A second patch that stands beside it, and its picture. */
  beside: string
  second: Picture | null
}

/** By what patches are filtered: words, a family, a mood, and whether they are kept in reach. */
export interface Filter {
  words: string
  group: string
  tag: string
  kept: boolean
}

const all: Filter = { words: '', group: '', tag: '', kept: false }

export const testStrip = new Store<Strip>({
  open: false,
  down: null,
  across: null,
  looks: [],
  recipes: [],
  filter: all,
  strength: 1,
  patches: [],
  columns: 1,
  pictures: {},
  large: '',
  enlarged: null,
  beside: '',
  second: null,
})

let round = 0

/** The axis along which whole looks stand. */
export const wholeLooks: Axis = { station: 'look', kind: '', setting: '', count: 0, from: 0, to: 0 }

/** The axis along which recipes stand: whole films, put in place of the shot's own. */
export const wholeFilms: Axis = { ...wholeLooks, station: 'recipe' }

/** The look that an axis varies, and the level in which that lands. */
function ground(axis: Axis): { level: Level; look: Look | null } {
  const level = axis === wholeLooks ? studio.get().level : studio.landing(axis === wholeFilms ? 'negative' : axis.station)
  return { level, look: studio.get().docs[level] }
}

function find(axis: Axis): { kind: Kind; setting: Setting } | null {
  const kind = studio.get().desk?.kinds.find((k) => k.station === axis.station && k.id === axis.kind)
  const setting = kind?.settings.find((s) => s.id === axis.setting)
  return kind && setting ? { kind, setting } : null
}

/** A bracket of a setting around where it stands now, over a quarter of its travel on either side. */
export function axisOf(kind: Kind, setting: Setting, count = 5): Axis {
  const look = studio.get().docs[studio.landing(kind.station)]!
  const axis = { station: kind.station, kind: kind.id, setting: setting.id, count, from: 0, to: 0 }
  if (setting.choices) return axis
  if (Object.keys(setting.names ?? {}).length >= 3) return { ...axis, from: setting.min, to: setting.max, words: true }
  const now = valueOf(stepOf(look, kind), setting) as number
  const reach = (setting.max - setting.min) / (setting.min < 0 ? 6 : 4)
  const step = setting.step ?? 0.01
  const tidy = (v: number) => Number((Math.round(Math.max(setting.min, Math.min(setting.max, v)) / step) * step).toFixed(4))
  return { ...axis, from: tidy(now - reach), to: tidy(now + reach) }
}

function valuesOf(axis: Axis): { value: Value; label: string; now: boolean; choice?: Choice }[] {
  const found = find(axis)
  if (!found) return []
  const { kind, setting } = found
  const now = valueOf(stepOf(ground(axis).look!, kind), setting)
  if (setting.choices)
    return offered(setting.choices, String(now)).map((c) => ({ value: c.id, label: c.label, now: c.id === now, choice: c }))
  if (axis.words)
    return Object.entries(setting.names ?? {})
      .sort((a, b) => a[1] - b[1])
      .map(([word, value]) => ({ value, label: word, now: value === now }))
  const step = setting.step ?? 0.01
  const list = Array.from({ length: axis.count }, (_, i) => {
    const v = axis.count === 1 ? axis.from : axis.from + ((axis.to - axis.from) * i) / (axis.count - 1)
    return Number((Math.round(v / step) * step).toFixed(4))
  }).map((v) => Math.max(setting.min, Math.min(setting.max, v)))
  return [...new Set(list)].map((v) => ({
    value: v,
    label: `${setting.min < 0 && v > 0 ? '+' : ''}${v} ${setting.unit ?? ''}`.trim(),
    now: v === now,
  }))
}

/** Opens the strip, on an axis (against another), on what was varied last, or on the stock. */
export function openStrip(axis?: Axis, against: Axis | null = null) {
  const { desk, look } = studio.get()
  if (!desk || !look) return
  let { down } = testStrip.get()
  if (axis) {
    down = axis
    testStrip.set({ across: against })
  }
  if (testStrip.get().recipes.length === 0)
    api.recipes().then(
      (recipes) => {
        testStrip.set({ recipes })
        if (testStrip.get().open && testStrip.get().down === wholeFilms) setAxes(wholeFilms, null)
      },
      (e) => studio.complain(e),
    )
  api.looks().then(
    (looks) => {
      testStrip.set({ looks })
      if (testStrip.get().open && testStrip.get().down === wholeLooks) setAxes(wholeLooks, testStrip.get().across)
    },
    (e) => studio.complain(e),
  )
  if (!down || (down !== wholeLooks && down !== wholeFilms && !find(down))) {
    const kind = desk.kinds.find((k) => k.station === 'negative' && k.id === 'stock')!
    down = axisOf(kind, kind.settings[0]!)
  }
  unliken()
  testStrip.set({ open: true, filter: all })
  setAxes(down, testStrip.get().across)
}

export function closeStrip() {
  round++
  unliken()
  studio.unask('try')
  testStrip.set({ open: false, pictures: {}, enlarged: null, large: '', beside: '', second: null })
}

/** Chooses what is varied; everything under way for another choice is dropped at once. */
export function setAxes(down: Axis | null, across: Axis | null) {
  const { desk, frame, shotId } = studio.get()
  if (!desk || !down || !studio.get().docs.shot) return
  // what is varied twice must land at one level
  if (across && ground(across).level !== ground(down).level) across = null
  const { level, look } = ground(down)
  if (!look) return
  studio.unask('try')
  round++
  if (down === wholeLooks || down === wholeFilms) across = null
  if (!ofStocks(down, across)) unliken()
  if (down.setting !== testStrip.get().down?.setting || down.station !== testStrip.get().down?.station) testStrip.set({ filter: all })
  const first = valuesOf(down).map((d) => ({ axis: down, ...d }))
  const second = across ? valuesOf(across).map((d) => ({ axis: across, ...d })) : []
  const sets = second.length > 0 ? first.flatMap((a) => second.map((b) => [a, b])) : first.map((a) => [a])
  const likened =
    likening.get().found?.films.map((film) => likenedPatch(film, first, (likening.get().found!.level || 'shot') as Level)) ?? []
  const patches =
    likened.length > 0
      ? likened
      : sets.map((set, i): Patch => {
          let next = look
          const values = set.map(({ axis, value }) => ({ station: axis.station, kind: axis.kind, setting: axis.setting, value }))
          for (const v of values) {
            next = applied(next, { op: 'set', ...v }, desk.kinds)
          }
          return {
            id: `${round}-${i}`,
            label: set.map((s) => (set.length > 1 ? s.label.replace(/ .*/, '') : s.label)).join(' · '),
            values,
            now: set.every((s) => s.now),
            level,
            look: next,
            ...foundBy(set),
          }
        })
  if (down === wholeLooks)
    for (const l of testStrip.get().looks) {
      const whole = l.look
      patches.push({
        id: `${round}-${l.id}`,
        label: l.label,
        values: [{ station: 'look', kind: '', setting: '', value: l.id }],
        whole,
        now: JSON.stringify(whole) === JSON.stringify(look),
        level,
        look: whole,
      })
    }
  if (down === wholeFilms)
    for (const l of testStrip.get().looks.filter((l) => l.kept)) {
      const whole = laid(look, l.look, testStrip.get().strength)
      patches.push({
        id: `${round}-${l.id}`,
        label: l.label,
        values: [{ station: 'look', kind: '', setting: '', value: l.id }],
        taken: l.id,
        now: false,
        level,
        look: whole,
        note: l.note,
        group: 'Kept looks',
        tags: l.mood ? [l.mood] : [],
        key: `look:${l.id}`,
      })
    }
  if (down === wholeFilms)
    for (const r of testStrip.get().recipes) {
      const whole = withFilm(look, r.look)
      patches.push({
        id: `${round}-${r.id}`,
        label: r.label,
        values: [{ station: 'recipe', kind: '', setting: '', value: r.id }],
        whole,
        now: JSON.stringify(whole) === JSON.stringify(look),
        level,
        look: whole,
        note: r.note,
        group: r.era,
        tags: r.tags,
        key: `recipe:${r.id}`,
      })
    }
  testStrip.set({ down, across, patches, columns: second.length || 0, pictures: {}, large: '', enlarged: null, beside: '', second: null })
  for (const p of patches)
    studio.askPicture(
      `try:${p.id}`,
      { shot: shotId, frame, ...studio.looks(p.level, p.look), width: 400, height: 400, draft: true },
      (picture) => testStrip.set({ pictures: { ...testStrip.get().pictures, [p.id]: picture } }),
      true,
    )
  enlarge('')
}

/** Whether a strip is of stocks alone, which can be sorted by likeness. */
export function ofStocks(down: Axis | null, across: Axis | null) {
  return down?.station === 'negative' && down.kind === 'stock' && down.setting === 'id' && !across
}

/** Lays the patches out anew along the axes that there are. */
export function layOut() {
  const { down, across } = testStrip.get()
  setAxes(down, across)
}

/** A stock as near as it comes to what the strip is sorted by: a whole look. */
function likenedPatch(film: LikenedFilm, choices: { value: Value; choice?: Choice; axis: Axis }[], level: Level): Patch {
  const own = choices.find((c) => c.value === film.stock)
  const signed = (v: number, digits: number) => `${v < 0 ? '−' : '+'}${Math.abs(v).toFixed(digits)}`
  return {
    ...(own ? foundBy([own]) : {}),
    id: `${round}-${film.stock}`,
    label: film.stockLabel,
    values: [{ station: 'negative', kind: 'stock', setting: 'id', value: film.stock }],
    whole: film.look,
    now: false,
    level,
    look: film.look,
    apart: film.apart,
    note: `on ${film.mediumLabel}, ${signed(film.exposure, 1)} stops, lights ${film.lights.map((v) => signed(v, 0)).join(' ')}`,
    says: film.says.length > 0 ? film.says : ['no difference that a person would name'],
  }
}

/** What a patch of one choice can be found by. */
function foundBy(set: { axis: Axis; choice?: Choice }[]) {
  const one = set.length === 1 ? set[0]! : undefined
  const { choice, axis } = one ?? {}
  if (!choice?.group || !axis) return {}
  return { note: choice.note, says: choice.says, group: choice.group, tags: choice.tags, key: `${axis.kind}:${choice.id}` }
}

/** The patches that pass the filter. */
export function filtered({ patches, filter }: Pick<Strip, 'patches' | 'filter'>, favourites: string[]): Patch[] {
  const words = filter.words.toLowerCase().split(/\s+/).filter(Boolean)
  return patches.filter((p) => {
    if (!p.key) return true
    const text = [p.label, p.note, p.group, ...(p.tags ?? [])].join(' ').toLowerCase()
    return (
      words.every((w) => text.includes(w)) &&
      (!filter.group || p.group === filter.group) &&
      (!filter.tag || p.tags?.includes(filter.tag)) &&
      (!filter.kept || favourites.includes(p.key))
    )
  })
}

export function setFilter(change: Partial<Filter>) {
  testStrip.set({ filter: { ...testStrip.get().filter, ...change } })
}

/** Chooses how strong kept looks are taken. */
export function setStrength(strength: number) {
  testStrip.set({ strength })
  layOut()
}

/** Keeps something in reach, or no longer. */
export async function keepInReach(key: string, on: boolean) {
  const { desk } = studio.get()
  if (!desk) return
  const rest = desk.favourites.filter((k) => k !== key)
  studio.set({ desk: { ...desk, favourites: on ? [...rest, key] : rest } })
  try {
    await api.favourite(key, on)
  } catch (error) {
    studio.complain(error)
  }
}

/** Stands a patch beside the large one, or takes it away. */
export function standBeside(id: string) {
  const { patches, beside } = testStrip.get()
  const { frame, shotId } = studio.get()
  const patch = patches.find((p) => p.id === id)
  if (!patch || id === beside) return testStrip.set({ beside: '', second: null })
  testStrip.set({ beside: id, second: testStrip.get().pictures[id] ?? null })
  const dpr = studio.get().density
  studio.askPicture(
    'large:second',
    { shot: shotId, frame, ...studio.looks(patch.level, patch.look), width: Math.round(520 * dpr), height: Math.round(420 * dpr) },
    (second) => testStrip.set({ second }),
  )
}

/** Shows a patch large, '' for the shot as it is. */
export function enlarge(id: string) {
  const { patches } = testStrip.get()
  const { frame, shotId, docs } = studio.get()
  const patch = patches.find((p) => p.id === id)
  if (!docs.shot) return
  testStrip.set({ large: id })
  const dpr = studio.get().density
  studio.askPicture(
    'large',
    {
      shot: shotId,
      frame,
      ...(patch ? studio.looks(patch.level, patch.look) : studio.looks()),
      width: Math.round(760 * dpr),
      height: Math.round(560 * dpr),
    },
    (enlarged) => testStrip.set({ enlarged }),
  )
}

/** Takes a patch: one change, one undo. */
export function takePatch(id: string) {
  const patch = testStrip.get().patches.find((p) => p.id === id)
  if (!patch) return
  closeStrip()
  if (patch.taken) return void studio.takeLook(patch.taken, patch.level, testStrip.get().strength)
  if (patch.whole) return studio.edit({ op: 'look', look: patch.whole, name: patch.key ? patch.label : undefined }, false, patch.level)
  const gesture = newGesture()
  for (const v of patch.values) studio.edit({ op: 'set', ...v, gesture }, false, patch.level)
}

/** Whether a setting does something as it stands: one that is dialled or has a choice to make. */
export function variable(setting: Setting) {
  return !setting.points && (!setting.choices || setting.choices.length > 1)
}
