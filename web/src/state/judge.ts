import type { Band, Pin, ShotCard, Show, Side, StepPath, Trial, View } from '../api/types.gen'
import type { Picture } from '../api/window'
import { Store } from './store'

/** How two pictures are set against each other. */
export type Layout = 'one' | 'wipe' | 'beside' | 'difference'

export interface Judge {
  /** The other side, and what stands on this one while two are compared: '' for the shot as it is. */
  side: Side
  own: Side
  /** Held: the other side in place of the picture. */
  before: boolean
  /** The station that the picture is seen leaving, '' for the last. */
  tap: string
  layout: Layout
  /** The wipe's line: a point in shares of the picture, and its turn in degrees; 0 stands upright. */
  wipe: { x: number; y: number; turn: number }
  show: Show
  /** The step that is shown alone. */
  step: StepPath | ''
  gain: number
  black: boolean
  /** The movie whose remains are looked at. */
  codec: string
  megabits: number
  other: Picture | null
  bands: Band[]
  /** Steps that change nothing in this frame, and why. */
  noEffect: Record<string, string>
}

export const judge = new Store<Judge>({
  side: 'film',
  own: '',
  before: false,
  tap: '',
  layout: 'one',
  wipe: { x: 0.5, y: 0.5, turn: 0 },
  show: '',
  step: '',
  gain: 4,
  black: false,
  codec: 'h264',
  megabits: 10,
  other: null,
  bands: [],
  noEffect: {},
})

/** Tells whether the other side is needed. */
export function comparing(s = judge.get()) {
  return s.before || s.layout === 'wipe' || s.layout === 'beside'
}

/** What of the judging goes into a request for the picture. */
export function shown(s = judge.get()): Pick<View, 'side' | 'tap' | 'show' | 'step' | 'against' | 'gain' | 'black' | 'codec' | 'megabits'> {
  if (s.show === 'delivery') return { show: s.show, codec: s.codec, megabits: s.megabits }
  if (s.show) return { show: s.show, step: s.step || undefined, gain: s.gain, black: s.black }
  if (s.layout === 'difference') return { show: 'difference', side: s.own || undefined, against: s.side, gain: s.gain, black: s.black }
  if (comparing(s)) return s.own ? { side: s.own } : {}
  return s.tap ? { tap: s.tap } : {}
}

export function moveWipe(change: Partial<Judge['wipe']>) {
  const w = { ...judge.get().wipe, ...change }
  const share = (v: number) => Math.max(0, Math.min(1, v))
  judge.set({ wipe: { x: share(w.x), y: share(w.y), turn: ((((w.turn + 90) % 180) + 180) % 180) - 90 } })
}

/** The name of a side as it stands beside the picture. */
export function sideName(side: Side, shots: ShotCard[], pins: Pin[], trials: Trial[]): string {
  const [kind, id] = side.split(':')
  switch (kind) {
    case '':
      return 'as it is now'
    case 'trial':
      return trials.find((t) => t.id === Number(id))?.name ?? 'a trial that is gone'
    case 'film':
      return 'without film'
    case 'entered':
      return 'as it entered'
    case 'previous':
      return 'before the last change'
    case 'station':
      return `without ${id![0]!.toUpperCase()}${id!.slice(1)}`
    case 'shot':
      return shots.find((s) => s.id === Number(id))?.name ?? 'a shot that is gone'
    case 'onto':
      return `this look on ${shots.find((s) => s.id === Number(id))?.name ?? 'a shot that is gone'}`
    case 'pin':
      return pins.find((p) => p.id === Number(id))?.name ?? 'a pin that is gone'
  }
  return side
}
