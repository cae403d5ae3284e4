import { api } from '../api/client'
import type { ChartPlace, FilmAsk, FilmPicture, Fitted, Reel } from '../api/types.gen'
import type { Picture } from '../api/window'
import { loadKept } from './assets'
import { Store } from './store'
import { studio } from './studio'

/** What a picture of a test shows. */
export type Shows = 'chart' | 'scene' | 'edge' | 'patches' | 'lamp'

/** A picture of a test as it is asked for: shots are 0 until they are chosen, numbers as they are typed. */
export interface Shot {
  shows: Shows
  digital: number
  film: number
  stops: string
  width: string
  /** Where a chart lies in the two, if it was placed by hand. */
  places: [ChartPlace, ChartPlace] | null
}

/** A stock that is being made of measurements. */
interface Fit {
  name: string
  /** The stock to start from, '' for one of the same sort. */
  like: string
  /** The bands of the densitometer that read the wedges. */
  status: string
  /** Log exposure of mid grey in them, as typed; '' places it by a chart, or by the film's speed. */
  grey: string
  wedges: { file: string; text: string }[]
  shots: Shot[]
  /** The chart whose two pictures are shown, by its place among the shots; −1 for none. */
  shown: number
  /** How its two pictures look. */
  pictures: Partial<Record<'digital' | 'film', Picture>>
  /** What is under way; '' while nothing is. */
  doing: string
  made: Fitted | null
  problem: string
  /** The reels whose shots can be chosen. */
  reels: Reel[]
}

const blank: Fit = {
  name: '',
  like: '',
  status: 'm',
  grey: '',
  wedges: [],
  shots: [],
  shown: -1,
  pictures: {},
  doing: '',
  made: null,
  problem: '',
  reels: [],
}

export const fit = new Store<Fit>(blank)

export function beginFit() {
  stopFit()
  fit.set(blank)
  void loadShots()
}

/** Finds out which shots there are, in all reels. */
async function loadShots() {
  try {
    const { reels } = await api.reels()
    fit.set({ reels: await Promise.all(reels.filter((r) => !r.archived).map((r) => api.reel(r.id))) })
  } catch (error) {
    studio.complain(error)
  }
}

/** Changes what is asked for; what was made of it before no longer holds. */
export function setFit(change: Partial<Fit>) {
  fit.set({ ...change, made: null, problem: '' })
}

/** Adds a picture of something, with the width on the film that the last one had. */
export function addShot(shows: Shows) {
  const { shots } = fit.get()
  const paired = shows === 'chart' || shows === 'scene'
  setFit({ shots: [...shots, { shows, digital: 0, film: 0, stops: paired ? '0' : '', width: '', places: null }] })
}

export function setShot(at: number, change: Partial<Shot>) {
  const { shots, shown } = fit.get()
  setFit({ shots: shots.map((s, i) => (i === at ? { ...s, ...change } : s)) })
  if (shown === at && ('digital' in change || 'film' in change)) showChart(at)
}

export function dropShot(at: number) {
  setFit({ shots: fit.get().shots.filter((_, i) => i !== at), shown: -1 })
}

/** Shows the two pictures of a chart, to place its corners. */
export function showChart(at: number) {
  const { shotId } = studio.get()
  const shot = fit.get().shots[at]
  fit.set({ shown: shot ? at : -1, pictures: {} })
  if (!shot) return
  for (const which of ['digital', 'film'] as const) {
    const of = fit
      .get()
      .reels.flatMap((r) => r.shots)
      .find((s) => s.id === shot[which])
    if (of)
      studio.askPicture(
        `chart:${which}`,
        { shot: of.id, frame: of.frame, ...(of.id === shotId ? studio.looks() : {}), width: 480, height: 480, draft: true },
        (picture) => fit.set({ pictures: { ...fit.get().pictures, [which]: picture } }),
      )
  }
}

const number = (text: string) => parseFloat(text.replace(',', '.').replace('−', '-'))

/** What is asked for, as the server takes it. */
function asked(): FilmAsk {
  const { name, like, status, grey, wedges, shots } = fit.get()
  const mid = number(grey)
  return {
    name: name.trim(),
    ...(like ? { like } : {}),
    ...(Number.isFinite(mid) ? { grey: mid } : {}),
    status,
    wedges,
    pictures: shots.map((s): FilmPicture => {
      const stops = number(s.stops)
      const width = number(s.width)
      return {
        shows: s.shows,
        film: s.film,
        ...(s.digital ? { digital: s.digital } : {}),
        ...(Number.isFinite(stops) ? { stops } : {}),
        ...(Number.isFinite(width) ? { width } : {}),
        ...(s.places ? { places: s.places } : {}),
      }
    }),
  }
}

/** Whether there is enough to measure: a name, and every picture chosen. */
export function ready({ name, wedges, shots }: Pick<Fit, 'name' | 'wedges' | 'shots'>): boolean {
  const whole = (s: Shot) => s.film > 0 && (s.shows === 'chart' || s.shows === 'scene' ? s.digital > 0 : s.width !== '')
  return name.trim() !== '' && wedges.length + shots.length > 0 && shots.every(whole)
}

/** Measures what there is; the card is not kept yet. */
export function makeFit() {
  fit.set({ doing: 'reading', problem: '', made: null })
  studio.ask(
    { type: 'measure', channel: 'measure', film: asked() },
    ({ doing, fitted }) => {
      if (!fitted) return fit.set({ doing: doing || 'measuring' })
      const shots = fit.get().shots.map((s, i): Shot => {
        const places = fitted.placed?.[i]?.places
        return places?.length === 2 && !s.places ? { ...s, places: places as [ChartPlace, ChartPlace] } : s
      })
      fit.set({ doing: '', made: fitted, shots })
    },
    (problem) => fit.set({ doing: '', problem }),
  )
}

/** Ends what is under way. */
export function stopFit() {
  if (fit.get().doing) studio.unask('measure')
  fit.set({ doing: '' })
}

/** Brings the stand-in set in, and asks for all of it. */
export async function takeStandIn() {
  setFit({ doing: 'drawing the stand-in set' })
  try {
    const ask = await api.standIn()
    await loadShots()
    const text = (v: number | undefined) => (v === undefined ? '' : String(v))
    setFit({
      name: ask.name,
      status: ask.status ?? 'm',
      grey: text(ask.grey),
      wedges: ask.wedges ?? [],
      shots: (ask.pictures ?? []).map((p) => ({
        shows: p.shows as Shows,
        digital: p.digital ?? 0,
        film: p.film,
        stops: text(p.stops),
        width: text(p.width && Number(p.width.toFixed(3))),
        places: null,
      })),
      doing: '',
    })
  } catch (error) {
    setFit({ doing: '', problem: error instanceof Error ? error.message : String(error) })
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
