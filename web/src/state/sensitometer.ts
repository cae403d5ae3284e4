import { api } from '../api/client'
import type { FilmReading } from '../api/types.gen'
import type { Picture } from '../api/window'
import { Store } from './store'
import { studio } from './studio'

/** What the sensitometer is set to, and what it reads of the open shot's film. */
interface Sensitometer {
  open: boolean
  /** The id of a stock to compare with. */
  other: string
  /** A point of the frame whose colour is followed, 0 to 1 each way. */
  point: { x: number; y: number } | null
  /** The frame in which it is chosen. */
  picture: Picture | null
  reading: FilmReading | null
  /** Why there is no reading. */
  problem: string
}

export const sensitometer = new Store<Sensitometer>({ open: false, other: '', point: null, picture: null, reading: null, problem: '' })

let turn = 0
let rest = 0

/** The query under which the server reads, draws and writes down the film as it is now. */
export function queryOf(more: Record<string, string> = {}) {
  const { other, point } = sensitometer.get()
  const q = new URLSearchParams({ frame: String(studio.get().frame), ...more })
  if (other) q.set('with', other)
  if (point) {
    q.set('x', point.x.toFixed(5))
    q.set('y', point.y.toFixed(5))
  }
  return q.toString()
}

async function read() {
  const mine = ++turn
  try {
    const reading = await api.film(studio.get().shotId, queryOf())
    if (mine === turn) sensitometer.set({ reading, problem: '' })
  } catch (error) {
    if (mine === turn) sensitometer.set({ reading: null, problem: error instanceof Error ? error.message : String(error) })
  }
}

/** Reads again when changes have come to rest, and are saved. */
export function readSoon() {
  clearTimeout(rest)
  rest = window.setTimeout(() => void read(), 150)
}

export function openSensitometer(open: boolean) {
  sensitometer.set({ open, reading: null, problem: '' })
  if (!open) return
  const { shotId, frame, docs } = studio.get()
  if (docs.shot)
    studio.askPicture('sensitometer', { shot: shotId, frame, ...studio.looks(), width: 360, height: 240, draft: true }, (picture) =>
      sensitometer.set({ picture }),
    )
  void read()
}

export function setSensitometer(change: Partial<Pick<Sensitometer, 'other' | 'point'>>) {
  sensitometer.set(change)
  void read()
}
