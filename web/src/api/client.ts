import { windowId } from './gesture'
import type {
  Added,
  Card,
  CarryAsk,
  Delivery,
  Desk,
  Edit,
  FilmReading,
  FilmAsk,
  KeepLook,
  Kept,
  KeptFiles,
  Listing,
  LookWords,
  MatchTo,
  MatchedGrain,
  MeasuredGrain,
  Met,
  Own,
  OwnReady,
  Pin,
  Pins,
  Plot,
  Problem,
  ReadyFilm,
  ReadyLook,
  Reel,
  ReelChange,
  ReelHead,
  ReelPage,
  AssetList,
  Shot,
  ShotCard,
  ShotsChange,
  Span,
  Standing,
  TakenLook,
  VersusRow,
} from './types.gen'

/** What can be changed of the facts of reels, scenes and shots. */
export type Facts = Omit<ReelChange & Omit<ShotsChange, 'shots'>, 'window' | 'revision' | 'change'>

/** A refusal in the server's own words. */
export class Refusal extends Error {}

async function call<T>(method: string, path: string, body?: unknown): Promise<T> {
  let response: Response
  try {
    response = await fetch('/api/v1' + path, {
      method,
      headers: body === undefined ? undefined : { 'Content-Type': 'application/json' },
      body: body === undefined ? undefined : JSON.stringify(body),
    })
  } catch {
    throw new Refusal('Velours does not answer. Every change up to here is saved; start it again and reload.')
  }
  if (response.status === 204) return undefined as T
  if (!response.ok) {
    const problem = (await response.json().catch(() => null)) as Problem | null
    throw new Refusal(problem?.detail ?? response.statusText)
  }
  return (await response.json()) as T
}

/** Sends files to a reel, telling how far it is; the returned function breaks off. */
export function send(reel: number, files: File[], progress: (share: number) => void): { done: Promise<Added>; stop: () => void } {
  const request = new XMLHttpRequest()
  const form = new FormData()
  for (const f of files) form.append('file', f, f.name)
  const done = new Promise<Added>((resolve, reject) => {
    request.upload.onprogress = (e) => progress(e.total > 0 ? e.loaded / e.total : 0)
    request.onerror = () => reject(new Refusal('The sending broke off. Nothing was brought in; send the files again.'))
    request.onabort = () => reject(new Refusal('The sending was cancelled; nothing was brought in.'))
    request.onload = () => {
      const answer = JSON.parse(request.responseText || '{}') as Added & Problem
      if (request.status < 300) resolve(answer)
      else reject(new Refusal(answer.detail ?? request.statusText))
    }
  })
  request.open('POST', `/api/v1/reels/${reel}/uploads`)
  request.send(form)
  return { done, stop: () => request.abort() }
}

/** Sends files in one request. */
async function post<T>(path: string, files: File[]): Promise<T> {
  const form = new FormData()
  for (const f of files) form.append('file', f, f.name)
  const response = await fetch('/api/v1' + path, { method: 'POST', body: form })
  const answer = (await response.json()) as T & Problem
  if (!response.ok) throw new Refusal(answer.detail)
  return answer
}

export const api = {
  desk: () => call<Desk>('GET', '/desk'),
  reels: () => call<ReelPage>('GET', '/reels'),
  reel: (id: number) => call<Reel>('GET', `/reels/${id}`),
  addReel: (name: string) => call<ReelHead>('POST', '/reels', { name, window: windowId }),
  copyReel: (id: number) => call<ReelHead>('POST', `/reels/${id}/copy`),
  changeReel: (id: number, change: Facts) => call<void>('PUT', `/reels/${id}`, { ...change, window: windowId }),
  placeReel: (id: number, before: number) => call<void>('POST', `/reels/${id}/place`, { before, window: windowId }),
  travelReels: (way: 'undo' | 'redo', change: number) => call<ReelPage>('POST', `/reels/${way}`, { change, window: windowId }),
  travelReel: (id: number, way: 'undo' | 'redo', change: number) => call<Reel>('POST', `/reels/${id}/${way}`, { change, window: windowId }),
  addScene: (reel: number, name: string, shots: number[]) => call<Reel>('POST', `/reels/${reel}/scenes`, { name, shots, window: windowId }),
  changeScene: (id: number, change: Facts) => call<void>('PUT', `/scenes/${id}`, { ...change, window: windowId }),
  placeScene: (id: number, before: number) => call<void>('POST', `/scenes/${id}/place`, { before, window: windowId }),
  placeShots: (reel: number, shots: number[], scene: number, before: number) =>
    call<Reel>('POST', `/reels/${reel}/order`, { shots, scene, before, window: windowId }),
  changeShots: (shots: number[], change: Facts) => call<void>('PUT', '/shots', { shots, ...change, window: windowId }),
  match: (shot: number, ask: Omit<MatchTo, 'window' | 'revision' | 'change'>) =>
    call<Met>('POST', `/shots/${shot}/match`, { ...ask, window: windowId }),
  split: (shot: number, at: number[]) => call<ShotCard[]>('POST', `/shots/${shot}/split`, { at, window: windowId }),
  addProgramme: (reel: number, path: string, rate: string, handles: number) =>
    call<Added>('POST', `/reels/${reel}/programme`, { path, rate, handles, window: windowId }),
  keepLook: (ask: Omit<KeepLook, 'add'>) => call<Kept>('POST', '/looks', ask),
  describeLook: (id: number, words: LookWords) => call<void>('PUT', `/looks/${id}`, words),
  takeLook: (shot: number, ask: Omit<TakenLook, 'window' | 'revision' | 'change'>) =>
    call<Standing>('POST', `/shots/${shot}/look`, { ...ask, window: windowId }),
  carry: (ask: Omit<CarryAsk, 'window' | 'revision' | 'change'>) => call<ShotCard[]>('POST', '/carry', { ...ask, window: windowId }),
  shot: (id: number) => call<Shot>('GET', `/shots/${id}`),
  browse: (folder: string) => call<Listing>('GET', `/media?folder=${encodeURIComponent(folder)}`),
  addShots: (reel: number, paths: string[]) => call<Added>('POST', `/reels/${reel}/shots`, { paths }),
  assets: () => call<AssetList>('GET', '/library'),
  plot: (own: Own) => call<Plot>('POST', '/library/plot', own),
  keepEncoding: (own: Own) => call<Kept>('POST', '/library/encodings', own),
  removeKept: (id: number) => call<void>('DELETE', `/library/${id}`),
  keepFiles: (files: File[], after: string, reel = 0) =>
    post<KeptFiles>(`/library/files?after=${encodeURIComponent(after)}&reel=${reel}`, files),
  standIn: () => call<FilmAsk>('POST', '/library/stand-in'),
  keepReady: (ready: OwnReady) => call<Kept>('POST', '/library/ready', ready),
  keepStock: (card: unknown) => call<Kept>('POST', '/library/stocks', { card }),
  keepGrain: (card: Card) => call<Kept>('POST', '/library/grain', card),
  grainCard: (id: number) => call<MeasuredGrain>('GET', `/library/${id}/grain`),
  matchGrain: (shot: number, revision: number, card: string) =>
    call<MatchedGrain>('POST', `/shots/${shot}/grain`, { card, revision, window: windowId }),
  regrain: (shot: number, revision: number) => call<MatchedGrain>('POST', `/shots/${shot}/regrain`, { revision, window: windowId }),
  film: (shot: number, query: string) => call<FilmReading>('GET', `/shots/${shot}/film?${query}`),
  versus: (id: string, other: string) => call<VersusRow[]>('GET', `/stocks/${id}/versus/${other}`),
  recipes: () => call<ReadyFilm[]>('GET', '/recipes'),
  favourite: (key: string, on: boolean) => call<void>('PUT', '/favourites', { key, on }),
  looks: () => call<ReadyLook[]>('GET', '/looks'),
  pins: () => call<Pins>('GET', '/pins'),
  addPin: (shot: number, frame: number) => call<Pin>('POST', `/shots/${shot}/pins`, { frame }),
  addReferences: (reel: number, files: File[]) => post<Pins>(`/reels/${reel}/references`, files),
  renamePin: (id: number, name: string) => call<Pin>('PUT', `/pins/${id}`, { name }),
  removePin: (id: number) => call<void>('DELETE', `/pins/${id}`),
  takePin: (shot: number, revision: number, pin: number) => call<Shot>('POST', `/shots/${shot}/take`, { pin, revision, window: windowId }),
  removeShot: (shot: number) => call<void>('DELETE', `/shots/${shot}`),
  declare: (shots: number[], encoding: string) => call<Shot[]>('POST', '/declarations', { shots, encoding, window: windowId }),
  span: (shot: number, span: Span) => call<Shot>('PUT', `/shots/${shot}/span`, { ...span, window: windowId }),
  edit: (shot: number, edit: Edit) => call<Standing>('POST', `/shots/${shot}/edits`, { ...edit, window: windowId }),
  undo: (shot: number, change: number) => call<Standing>('POST', `/shots/${shot}/undo`, { change, window: windowId }),
  redo: (shot: number, change: number) => call<Standing>('POST', `/shots/${shot}/redo`, { change, window: windowId }),
  addTrial: (shot: number, level: string) => call<Standing>('POST', `/shots/${shot}/trials`, { level, window: windowId }),
  useTrial: (shot: number, trial: number) => call<Standing>('POST', `/shots/${shot}/trial`, { trial, window: windowId }),
  changeTrial: (shot: number, trial: number, change: { name?: string; answer?: boolean; removed?: boolean }) =>
    call<Standing>('PUT', `/shots/${shot}/trial`, { trial, ...change, window: windowId }),
  frame: (shot: number, frame: number) => call<void>('PUT', `/shots/${shot}/frame`, { frame }),
  deliver: (shot: number, format: string, frame: number, placed: boolean) =>
    call<Delivery>('POST', `/shots/${shot}/deliveries`, { format, frame, placed }),
  deliverSheet: (shots: number[], format: string) => call<Delivery>('POST', `/shots/${shots[0]}/deliveries`, { format, frame: 0, shots }),
  deliveries: () => call<Delivery[]>('GET', '/deliveries'),
  cancel: (id: number) => call<void>('DELETE', `/deliveries/${id}`),
}
