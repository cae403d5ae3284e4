import { api } from '../api/client'
import type { Area, Kept, MatchedGrain, MeasuredGrain } from '../api/types.gen'
import { loadKept } from './assets'
import { Store } from './store'
import { studio } from './studio'

/** The panel of grain cards: what is measured, and where. */
interface Grain {
  open: boolean
  /** The step from which it was opened. */
  from: string
  /** Finished pictures are measured, otherwise frames as they were recorded. */
  shown: boolean
  frames: number
  /** Parts of the picture, in pixels of the shot; none is all of it. */
  boxes: Area[]
  /** What is under way. */
  busy: '' | 'measure' | 'match'
  /** How far a measurement is, 0…1. */
  done: number
  measured: MeasuredGrain | null
  /** The card's place in the library, 0 while it is not kept. */
  keptAs: number
  matched: MatchedGrain | null
  problem: string
}

export const grain = new Store<Grain>({
  open: false,
  from: '',
  shown: true,
  frames: 4,
  boxes: [],
  busy: '',
  done: 0,
  measured: null,
  keptAs: 0,
  matched: null,
  problem: '',
})

export function openGrain(from: string) {
  grain.set({ open: true, from, problem: '', shown: !from.startsWith('intake') })
  void loadKept()
}

export const closeGrain = () => grain.set({ open: false })

/** The least a box is wide and high, in pixels of the shot (noise.LeastBox). */
export const LEAST_BOX = 32

/** Puts another box beside those there are, in the middle of what is seen. */
export function addBox() {
  const shot = studio.shot
  const seen = studio.seen()
  if (!shot || !seen) return
  const part = seen.cropWidth
    ? { x: seen.x!, y: seen.y!, w: seen.cropWidth, h: seen.cropHeight! }
    : { x: 0, y: 0, w: shot.width, h: shot.height }
  const { boxes } = grain.get()
  const width = Math.max(LEAST_BOX, Math.round(part.w / 6))
  const height = Math.max(LEAST_BOX, Math.round(part.h / 6))
  const aside = (boxes.length % 4) * 0.18
  const x = Math.round(part.x + part.w * (0.2 + aside))
  setBoxes([...boxes, inside({ x, y: Math.round(part.y + part.h * 0.4), width, height })])
}

export const setBoxes = (boxes: Area[]) => grain.set({ boxes })

/** A box that lies inside the shot. */
export function inside(b: Area): Area {
  const shot = studio.shot
  if (!shot) return b
  const width = Math.round(Math.max(LEAST_BOX, Math.min(b.width, shot.width)))
  const height = Math.round(Math.max(LEAST_BOX, Math.min(b.height, shot.height)))
  const hold = (v: number, most: number) => Math.round(Math.max(0, Math.min(v, most)))
  return { x: hold(b.x, shot.width - width), y: hold(b.y, shot.height - height), width, height }
}

async function during(busy: Grain['busy'], work: () => Promise<Partial<Grain>>) {
  grain.set({ busy, problem: '' })
  try {
    await studio.settled()
    grain.set({ busy: '', ...(await work()) })
  } catch (error) {
    grain.set({ busy: '', problem: error instanceof Error ? error.message : String(error) })
  }
}

/** Measures the open shot from its frame on. */
export function measureGrain() {
  const { shown, frames, boxes } = grain.get()
  const { shotId, frame } = studio.get()
  const shot = studio.shot
  if (!shot) return
  const ask = { shot: shotId, frame, frames: Math.min(frames, shot.frames), shown, boxes: boxes.map(inside) }
  grain.set({ busy: 'measure', done: 0, problem: '' })
  const fail = (problem: string) => grain.set({ busy: '', problem })
  const begin = () => {
    if (grain.get().busy !== 'measure') return // stopped meanwhile
    studio.ask(
      { type: 'grain', channel: 'grain:measure', grain: ask },
      ({ done, measured }) => {
        if (grain.get().busy !== 'measure') return
        grain.set(measured ? { busy: '', measured, keptAs: 0, matched: null } : { done })
      },
      fail,
    )
  }
  studio.settled().then(begin, (error: unknown) => fail(error instanceof Error ? error.message : String(error)))
}

/** Ends a measurement that is under way. */
export function stopMeasuring() {
  studio.unask('grain')
  grain.set({ busy: '' })
}

/** Keeps what was measured in the library, under a name. */
export function keepGrain(name: string) {
  const card = grain.get().measured?.card
  if (!card) return
  void during('', async () => {
    const kept = await api.keepGrain({ ...card, label: name || card.label })
    await loadKept()
    return { keptAs: kept.id }
  })
}

/** Shows a card of the library. */
export function showGrain(kept: Kept) {
  void during('', async () => ({ measured: await api.grainCard(kept.id), keptAs: kept.id, matched: null }))
}

/** Lets grain on top of the open shot follow a card. */
export const followGrain = (key: string) =>
  studio.edit({ op: 'set', station: 'finish', kind: 'grain', values: { card: key, amount: 100, size: 100 } })

/** Gives the open shot, whose noise is taken out, its own grain again. */
export function regrain() {
  const shot = studio.shot
  if (!shot) return
  grain.set({ open: true, from: 'finish' })
  void during('match', async () => {
    const matched = await api.regrain(shot.id, studio.shot?.revision ?? shot.revision)
    studio.take(matched.shot)
    await loadKept()
    return { matched, measured: null }
  })
}

/** Gives the open shot the grain of its stock. */
export const grainOfStock = () => studio.edit({ op: 'on', station: 'negative', kind: 'grain' })

/** Gives the open shot so much grain on top that it has that of a card. */
export function matchGrain(key: string) {
  const shot = studio.shot
  if (!shot) return
  void during('match', async () => {
    const matched = await api.matchGrain(shot.id, studio.shot?.revision ?? shot.revision, key)
    studio.take(matched.shot)
    return { matched }
  })
}
