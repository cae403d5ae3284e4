import { api } from '../api/client'
import type { ChartPlace, Fitted } from '../api/types.gen'
import type { Picture } from '../api/window'
import { loadKept } from './assets'
import { Store } from './store'
import { studio } from './studio'

/** A stock that is being made of measurements. */
interface Fit {
  /** Of a step wedge, or of two shots of a chart. */
  kind: 'wedge' | 'pair'
  name: string
  /** The stock to start from, '' for one of the same sort. */
  like: string
  /** The wedge's file, as text. */
  file: string
  text: string
  /** Log exposure of mid grey in it, as typed; '' places it by the film's speed. */
  grey: string
  /** The two shots, 0 for none, and where the chart lies in them if it was placed by hand. */
  scene: number
  scan: number
  places: [ChartPlace, ChartPlace] | null
  /** How the two shots look. */
  pictures: Partial<Record<'scene' | 'scan', Picture>>
  busy: boolean
  made: Fitted | null
  problem: string
}

const blank: Fit = {
  kind: 'wedge',
  name: '',
  like: '',
  file: '',
  text: '',
  grey: '',
  scene: 0,
  scan: 0,
  places: null,
  pictures: {},
  busy: false,
  made: null,
  problem: '',
}

export const fit = new Store<Fit>(blank)

export function beginFit() {
  fit.set(blank)
}

let turn = 0

/** Changes what is asked for, and fits anew if all is there. */
export function setFit(change: Partial<Fit>) {
  fit.set({ ...change, made: null, problem: '' })
  const { scene, scan } = fit.get()
  const { look, shotId, reels } = studio.get()
  if (look && ('scene' in change || 'scan' in change))
    for (const [which, id] of [
      ['scene', scene],
      ['scan', scan],
    ] as const) {
      const shot = reels.flatMap((r) => r.shots).find((s) => s.id === id)
      if (shot)
        studio.askPicture(
          `chart:${which}`,
          { shot: id, frame: shot.frame, look: id === shotId ? look : shot.look, width: 480, height: 480, draft: true },
          (picture) => fit.set({ pictures: { ...fit.get().pictures, [which]: picture } }),
        )
    }
}

/** Fits what there is; the card is not kept yet. */
export async function makeFit() {
  const mine = ++turn
  const { kind, name, like, file, text, grey, scene, scan, places } = fit.get()
  fit.set({ busy: true, problem: '', made: null })
  const ask = { name: name.trim(), ...(like ? { like } : {}) }
  const number = parseFloat(grey.replace(',', '.').replace('−', '-'))
  try {
    const made =
      kind === 'wedge'
        ? await api.fitWedge({ ...ask, file, text, ...(Number.isFinite(number) ? { grey: number } : {}) })
        : await api.fitPair({ ...ask, scene, scan, ...(places ? { places } : {}) })
    if (mine !== turn) return
    fit.set({ made, busy: false })
    if (made.grids?.length === 2 && !fit.get().places) fit.set({ places: made.grids as [ChartPlace, ChartPlace] })
  } catch (error) {
    if (mine === turn) fit.set({ busy: false, problem: error instanceof Error ? error.message : String(error) })
  }
}

/** Keeps the card that was made, and takes it if it is to be used at once. */
export async function keepFit(use: boolean): Promise<boolean> {
  const { made } = fit.get()
  if (!made) return false
  try {
    const kept = await api.keepStock(made.card)
    await loadKept()
    if (use) studio.edit({ op: 'set', station: 'negative', kind: 'stock', setting: 'id', value: kept.key })
    return true
  } catch (error) {
    studio.complain(error)
    return false
  }
}

/** A chart placed well inside the picture, to be moved by hand. */
export const somewhere = (columns = 6, rows = 4): ChartPlace => ({
  columns,
  rows,
  corners: [
    [0.2, 0.25],
    [0.8, 0.25],
    [0.8, 0.75],
    [0.2, 0.75],
  ],
})
