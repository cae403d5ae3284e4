import { api, Refusal } from '../api/client'
import type { Change, Desk, Edit, Levels, Look, Probe, Reel, Shot, ShotCard, Standing, StepPath, View } from '../api/types.gen'
import { Wire, type Ask, type Hear, type Picture } from '../api/window'
import { deactivate } from './desk'
import { comparing, judge, shown, type Judge } from './judge'
import { applied, atOnce } from '../model/edits'
import { landing, pathAt, type Docs, type Level } from '../model/levels'
import { player } from './player'
import { EditQueue } from './queue'
import { asks, receiveTrace, scopes } from './scopes'
import { inGap } from './shots'
import { Store } from './store'

export type Zoom = 'fit' | 1 | 2 | 4

export interface State {
  desk: Desk | null
  /** The open reel, and the open shot of it. */
  reel: Reel | null
  open: Shot | null
  shotId: number
  /** The level that is worked at, and the looks of all levels of the open shot, with what is not on the disk yet. */
  level: Level
  docs: Docs
  /** Of them the one in which changes of the open station land. */
  look: Look | null
  /** What is hidden while the rest is judged. */
  hide: '' | 'above' | 'own'
  frame: number
  station: string
  connected: boolean
  saving: boolean
  message: string
  picture: Picture | null
  ribbon: Picture | null
  /** The place in the line for memory in which the picture waits, 0 for none. */
  waits: number
  thumbs: Record<number, Picture>
  zoom: Zoom
  /** Where the seen part lies in what does not fit, in shares. */
  pan: { x: number; y: number }
  /** The room for the picture in pixels of the screen. */
  view: { width: number; height: number }
  band: { width: number; height: number }
  surround: number
  /** Nothing but the picture. */
  alone: boolean
  /** The chosen shots, the open one among them. */
  selection: number[]
  /** Encodings are compared; the frame under each. */
  declaring: boolean
  encodingPictures: Record<string, Picture>
  /** How far the sending of files is, 0…1. */
  sending: number | null
  /** Pixels of the screen for one of the page. */
  density: number
}

const start: State = {
  desk: null,
  reel: null,
  open: null,
  shotId: 0,
  level: 'shot',
  docs: { shot: null, scene: null, reel: null },
  look: null,
  hide: '',
  frame: 0,
  station: 'negative',
  connected: true,
  saving: false,
  message: '',
  picture: null,
  ribbon: null,
  waits: 0,
  thumbs: {},
  zoom: 'fit',
  pan: { x: 0.5, y: 0.5 },
  view: { width: 0, height: 0 },
  band: { width: 0, height: 0 },
  surround: 1,
  alone: false,
  selection: [],
  declaring: false,
  encodingPictures: {},
  sending: null,
  density: 1,
}

/** Sides that are of one shot alone give way when another is opened. */
function away(j: Judge): Partial<Judge> {
  const goes = (side: string) => /^(trial|onto):/.test(side)
  return { ...(goes(j.side) ? { side: 'film' } : {}), ...(goes(j.own) ? { own: '' } : {}) }
}

/** Edits that put a whole look in place of another, and so must not meet one that has changed. */
const whole = ['look', 'restart']

/** The page's state and what a hand does to the open shot. Looks live in the parts; behaviour lives here and beside. */
class Studio extends Store<State> {
  readonly wire = new Wire()
  private queue = new EditQueue(
    (shot, edit, last) => this.send(shot, edit, last),
    (saving) => this.set({ saving }),
  )
  private restTimer = 0
  private ribbonRest = 0
  private frameRest = 0
  private noEffectSoon = 0
  private soon = 0

  get shot(): Shot | undefined {
    return shotOf(this.get())
  }
  get reel(): Reel | undefined {
    return this.get().reel ?? undefined
  }

  /** Sets what there is of levels, and with it the look in which changes of the open station land. */
  private place(change: Partial<State>) {
    const next = { ...this.get(), ...change }
    this.set({ ...change, look: next.docs[landing(next.docs, next.level, next.station)] })
  }

  /** Where a change of a station lands. */
  landing(station = this.get().station): Level {
    const { docs, level } = this.get()
    return landing(docs, level, station)
  }

  /** Works at a level of the open shot. */
  setLevel(level: Level) {
    if (level === this.get().level) return
    deactivate()
    this.place({ level })
  }

  /** Leaves out of the picture what comes from above, or what is the shot's own. */
  setHide(hide: State['hide']) {
    this.set({ hide: hide === this.get().hide ? '' : hide })
    this.refresh(false)
  }

  /** What of a view says under which looks the picture is made, with another in a level's place. */
  looks(level: Level = 'shot', look: Look | null = this.get().docs[level]): Pick<View, 'look' | 'above' | 'hide'> {
    const { docs, hide } = this.get()
    const now = { ...docs, [level]: look }
    const at = this.get().level
    const above = Object.fromEntries(
      (['scene', 'reel'] as const).flatMap((l) => (now[l] && (l === at || l === level || this.ahead[l]) ? [[l, now[l]]] : [])),
    )
    return { look: now.shot ?? undefined, ...(Object.keys(above).length > 0 ? { above } : {}), ...(hide ? { hide } : {}) }
  }

  /** What is to be done where values of another picture have come in: the first of them is gone to. */
  onMarks: () => void = () => {}

  /** Levels of which changes are on their way to the disk. */
  private ahead: Partial<Record<Level, boolean>> = {}

  /** A path as requests name it: with the level in which changes of its station land. */
  pathOf(path: StepPath): StepPath {
    return pathAt(this.landing(path.slice(0, path.indexOf('.'))), path)
  }

  complain(error: unknown) {
    this.tell(error instanceof Refusal ? error.message : String(error))
  }
  tell(message: string) {
    this.set({ message })
  }
  dismiss = () => this.tell('')

  /** Opens a reel, at the shot where it was left, or at its first. */
  async openReel(id: number, shotId = 0) {
    const reel = await api.reel(id)
    localStorage.setItem('reel', String(id))
    this.set({ reel, thumbs: {}, selection: [] })
    const left = Number(localStorage.getItem(`shot of ${id}`))
    const shot = reel.shots.find((s) => s.id === shotId) ?? reel.shots.find((s) => s.id === left) ?? reel.shots[0]
    if (shot) await this.openShot(shot.id)
    else this.noShot()
  }

  /** Nothing is open: the reel is empty. */
  private noShot() {
    player.stop()
    this.place({
      shotId: 0,
      open: null,
      docs: { shot: null, scene: null, reel: this.reel?.look ?? null },
      picture: null,
      ribbon: null,
      selection: [],
    })
  }

  async openShot(id: number) {
    const card = this.reel?.shots.find((s) => s.id === id)
    if (!card) return
    localStorage.setItem(`shot of ${card.reel}`, String(id))
    player.stop()
    const selection = this.get().selection.includes(id) ? this.get().selection : [id]
    judge.set({ show: '', step: '', other: null, noEffect: {}, bands: [], ...away(judge.get()) })
    scopes.set({ box: null, otherBox: null, reading: null })
    deactivate()
    this.set({ shotId: id, selection, frame: card.frame, picture: null, waits: 0, ribbon: null, pan: { x: 0.5, y: 0.5 } })
    try {
      await this.settled()
      const open = await api.shot(id)
      if (this.get().shotId !== id) return // another was opened meanwhile
      this.replaceCard(open)
      this.place({ open, docs: this.docsOf(open) })
      this.refresh(false)
    } catch (error) {
      this.complain(error)
    }
  }

  /** The looks of a shot's levels as the server has them. */
  private docsOf(shot: Shot): Docs {
    const reel = this.reel
    return { shot: shot.look, scene: reel?.scenes.find((c) => c.id === shot.sceneId)?.look ?? null, reel: reel?.look ?? null }
  }

  step(by: number) {
    const shot = this.shot
    if (!shot) return
    player.stop()
    this.seek((this.get().frame + by + shot.frames) % shot.frames)
  }

  seek(frame: number, hurry = false) {
    const shot = this.shot
    if (!shot) return
    frame = Math.max(0, Math.min(shot.frames - 1, frame))
    this.set({ frame })
    this.refresh(hurry)
    this.rememberFrame()
  }

  /** Tells the server where the shot is looked at, when the hand rests. */
  rememberFrame() {
    const shot = this.shot
    clearTimeout(this.frameRest)
    if (!shot) return
    this.frameRest = window.setTimeout(() => {
      const { frame } = this.get()
      if (this.shot?.id !== shot.id || shot.frame === frame) return
      api.frame(shot.id, frame).catch((e) => this.complain(e))
      this.replaceShot({ ...this.shot, frame })
    }, 400)
  }

  chooseStation(station: string) {
    if (station !== this.get().station) deactivate()
    this.place({ station })
  }

  setView(width: number, height: number) {
    const { view } = this.get()
    if (width === view.width && height === view.height) return
    this.set({ view: { width, height } })
    this.refreshView()
  }
  setBand(width: number, height: number) {
    const { band } = this.get()
    if (width === band.width && height === band.height) return
    this.set({ band: { width, height } })
    this.askRibbon()
  }
  setZoom(zoom: Zoom, pan = this.get().pan) {
    this.set({ zoom, pan })
    this.refreshView()
  }
  setPan(x: number, y: number, hurry: boolean) {
    const clamp = (v: number) => Math.max(0, Math.min(1, v))
    this.set({ pan: { x: clamp(x), y: clamp(y) } })
    this.refresh(hurry)
  }
  setSurround(surround: number) {
    this.set({ surround })
  }
  setAlone(alone: boolean) {
    this.set({ alone })
  }

  /** Changes a look on the screen at once, and on the disk as fast as the server answers: where a change of its station lands, or at a level that is named. */
  edit(edit: Edit, hurry = false, at?: Level) {
    const { docs, desk, shotId } = this.get()
    const level = at ?? (['declare', 'restart'].includes(edit.op) ? 'shot' : this.landing(edit.station))
    const look = docs[level]
    if (!look || !desk || !shotId) return
    player.stop()
    if (atOnce.includes(edit.op)) {
      this.place({ docs: { ...docs, [level]: applied(look, edit, desk.kinds) } })
      this.refresh(hurry)
    }
    this.ahead[level] = true
    this.queue.push(shotId, { ...edit, level })
  }

  private async send(shot: number, edit: Edit, last: () => boolean) {
    const level = (edit.level ?? 'shot') as Level
    try {
      this.meetStanding(await api.edit(shot, whole.includes(edit.op) ? { ...edit, revision: this.revisionOf(shot, level) } : edit), last())
    } catch (error) {
      this.complain(error)
      await this.reload()
    }
    if (last()) this.ahead = {}
  }

  private revisionOf(shot: number, level: Level) {
    const { open, reel } = this.get()
    if (level === 'reel') return reel?.revision ?? 0
    if (level === 'scene') return reel?.scenes.find((c) => c.id === open?.sceneId)?.revision ?? 0
    return open?.id === shot ? open.revision : (reel?.shots.find((s) => s.id === shot)?.revision ?? 0)
  }

  meetStanding({ shot, levels }: Standing, withLooks: boolean) {
    this.replaceShot(shot, withLooks)
    if (levels) this.meetLevels(levels, withLooks)
  }

  /** Takes the looks above shots over; on the screen only when nothing of ours is on its way. */
  meetLevels(levels: Levels, withLooks = this.queue.empty) {
    const { reel, open, docs } = this.get()
    if (!reel || reel.id !== levels.id || (levels.revision < reel.revision && withLooks)) return
    this.set({ reel: { ...reel, ...levels } })
    if (!withLooks || !open) return
    const now = { ...this.docsOf(open), shot: docs.shot }
    if (JSON.stringify(now) === JSON.stringify(docs)) return
    this.place({ docs: now })
    this.refresh(false)
    this.askThumbsSoon()
  }

  /** Shows what another window has changed. What this one has under way is put on top of it. */
  meet(fresh: Shot) {
    const known = this.reel?.shots.find((s) => s.id === fresh.id)
    if (!known || fresh.revision < known.revision) return
    this.replaceShot(fresh, this.queue.empty)
    if (fresh.id !== this.get().shotId) this.askThumb(fresh)
  }

  /** Takes over which scenes and shots there are, after some have come, gone or changed their facts. */
  async meetReel() {
    const { reel, open } = this.get()
    if (!reel) return
    const fresh = await api.reel(reel.id)
    if (this.get().reel?.id !== reel.id) return
    this.takeReel(fresh)
    if (open && !fresh.shots.some((s) => s.id === open.id)) {
      const at = reel.shots.findIndex((s) => s.id === open.id)
      const next = fresh.shots[Math.min(Math.max(at, 0), fresh.shots.length - 1)]
      if (next) await this.openShot(next.id)
      else this.noShot()
    } else if (open) {
      const now = await api.shot(open.id)
      if (this.get().shotId === now.id) this.meetStanding({ shot: now }, this.queue.empty)
    } else if (fresh.shots[0]) await this.openShot(fresh.shots[0].id)
  }

  /** Shows a reel as it is now. */
  takeReel(fresh: Reel) {
    const { selection, open, reel, thumbs } = this.get()
    const known = new Map(reel?.shots.map((s) => [s.id, s.revision]))
    for (const s of fresh.shots) if (thumbs[s.id] && known.get(s.id) !== s.revision) this.askThumb(s)
    this.set({ reel: fresh, selection: selection.filter((id) => fresh.shots.some((s) => s.id === id)) })
    const card = fresh.shots.find((s) => s.id === open?.id)
    if (open && card) {
      const now = { ...open, ...card, undo: open.undo, redo: open.redo, look: open.look }
      this.place({ open: now, ...(this.queue.empty ? { docs: this.docsOf(now) } : {}) })
    }
  }

  /** Waits until every change is on the disk. */
  settled() {
    return this.queue.settled()
  }

  private replaceCard(fresh: ShotCard) {
    const { reel } = this.get()
    if (reel) this.set({ reel: { ...reel, shots: reel.shots.map((s) => (s.id === fresh.id ? { ...s, ...fresh } : s)) } })
  }

  /** Takes the server's state of a shot over; the look only when nothing of ours is on its way. */
  replaceShot(fresh: Shot, withLook = false) {
    this.replaceCard(fresh)
    const { shotId, docs } = this.get()
    if (fresh.id !== shotId) return
    this.set({ open: fresh })
    if (withLook && JSON.stringify(fresh.look) !== JSON.stringify(docs.shot)) {
      this.place({ docs: { ...docs, shot: fresh.look } })
      this.refresh(false)
    }
  }

  /** Shows a shot as the server has it now. */
  take(fresh: Shot) {
    this.replaceShot(fresh)
    if (fresh.id === this.get().shotId) this.place({ docs: { ...this.get().docs, shot: fresh.look } })
    this.refresh(false)
  }

  private async reload() {
    try {
      await this.meetReel()
      const { open } = this.get()
      if (open) this.place({ docs: this.docsOf(open) })
      this.refresh(false)
    } catch (error) {
      this.complain(error)
    }
  }

  /** What undo and redo would touch: of the open shot and all it hangs on, or of an empty reel. */
  past(): { undo: Change | undefined; redo: Change | undefined } {
    const { open, reel } = this.get()
    return { undo: (open ?? reel)?.undo, redo: (open ?? reel)?.redo }
  }

  async undo() {
    await this.travel('undo')
  }
  async redo() {
    await this.travel('redo')
  }
  private async travel(way: 'undo' | 'redo') {
    if (!this.past()[way]?.label) return
    player.stop()
    try {
      await this.settled()
      const { open, reel } = this.get()
      const change = this.past()[way]?.id ?? 0
      if (open) {
        this.meetStanding(await api[way](open.id, change), true)
        await this.meetReel() // it may have reached other shots, and facts
      } else if (reel) {
        this.takeReel(await api.travelReel(reel.id, way, change))
        await this.meetReel()
      }
    } catch (error) {
      this.complain(error)
      await this.reload()
    }
  }

  /** Gives the open shot, or a level above it, a look at a strength; then goes to what of it depends on the picture. */
  async takeLook(id: string, level: Level, strength: number) {
    const { shotId } = this.get()
    try {
      await this.settled()
      this.meetStanding(await api.takeLook(shotId, { look: id, level, strength }), true)
      if (level === 'shot') this.onMarks()
      this.askThumbsSoon()
    } catch (error) {
      this.complain(error)
    }
  }

  /** The player shows a frame, and comes to rest. */
  showFrame(frame: number) {
    this.set({ frame })
  }
  /** While it plays, the scopes and the other side are drafts of a frame now and then; the next is asked for when the last is there. */
  follow() {
    const now = performance.now()
    if (now > this.following.own && asks().length > 0) {
      this.following.own = now + FOLLOWED
      this.askShot(true, () => (this.following.own = 0))
    }
    if (now > this.following.other) {
      this.following.other = now + FOLLOWED
      this.askOther(true, () => (this.following.other = 0))
    }
  }
  /** Until when an answer is waited for: it may never come, where something else was asked for in its place. */
  private following = { own: 0, other: 0 }
  rest() {
    this.following = { own: 0, other: 0 }
    this.refresh(false)
    this.rememberFrame()
  }

  /** Asks for the picture: a draft while a hand moves, the exact one when it rests. */
  refresh(hurry: boolean) {
    clearTimeout(this.restTimer)
    if (player.get().playing) return
    this.askShot(hurry)
    this.askOther(hurry)
    if (hurry) this.restTimer = window.setTimeout(() => this.refresh(false), 160)
    this.askRibbon()
    if (!hurry) {
      if (this.shot) this.askThumb(this.shot)
      this.askNoEffect()
      player.fillSoon()
    }
  }

  /** Asks again when a few changes of size have come to rest. */
  refreshSoon() {
    clearTimeout(this.soon)
    this.soon = window.setTimeout(() => this.refresh(false), 60)
  }

  /** Asks for everything that depends on how the picture is seen. */
  refreshView() {
    if (player.get().playing) player.refit()
    else this.refresh(false)
  }

  /** The view of the open shot: what of it is seen, and how large. */
  seen(): View | null {
    const { shotId, frame, docs, zoom, pan } = this.get()
    const shot = this.shot
    const room = this.room()
    if (!shot || !docs.shot || room.width < 8) return null
    const view: View = { shot: shotId, frame, ...this.looks(), width: room.width, height: room.height }
    if (zoom === 'fit') return view
    const w = Math.min(Math.ceil(room.width / zoom), shot.width)
    const h = Math.min(Math.ceil(room.height / zoom), shot.height)
    return { ...view, x: Math.round((shot.width - w) * pan.x), y: Math.round((shot.height - h) * pan.y), cropWidth: w, cropHeight: h }
  }

  /** The room for one picture: half of it when two stand side by side. */
  room() {
    const { view } = this.get()
    return judge.get().layout === 'beside' ? { width: Math.floor((view.width - GAP) / 2), height: view.height } : view
  }

  /** Asks for the picture with its scopes; done is told when all of a draft are there. */
  private askShot(draft: boolean, done = () => {}) {
    const view = this.seen()
    const shot = this.shot
    if (!view || !shot) return
    if (inGap(shot, view.frame)) return this.set({ picture: null })
    const measured = asks()
    let left = 1 + measured.length
    this.ask(
      { type: 'picture', channel: 'picture', view: { ...view, ...this.shown(), draft }, scopes: measured },
      (reply, image) => {
        if (--left === 0) done()
        if (reply.type === 'scope') receiveTrace('traces', reply, image)
        else if (image && !player.get().playing) {
          this.set({ picture: { reply, image }, waits: 0 })
          if (reply.bands) judge.set({ bands: reply.bands })
        }
      },
      (problem) => this.tell(problem),
    )
  }

  /** What of the judging goes into a request for the picture. */
  shown(): Partial<View> {
    const of = shown()
    return of.step ? { ...of, step: this.pathOf(of.step) } : of
  }

  askOther(draft: boolean, done = () => {}) {
    const view = this.seen()
    const shot = this.shot
    const { dock } = scopes.get()
    if (!view || !shot || !(comparing() || (dock.open && dock.under))) return done()
    if (inGap(shot, view.frame)) return judge.set({ other: null })
    const measured = dock.under ? asks(true) : []
    let left = 1 + measured.length
    this.ask(
      { type: 'picture', channel: 'other', view: { ...view, side: judge.get().side, draft }, scopes: measured },
      (reply, image) => {
        if (--left === 0) done()
        if (reply.type === 'scope') receiveTrace('unders', reply, image)
        else if (image) judge.set({ other: { reply, image } })
      },
      (problem) => this.tell(problem),
    )
  }

  askProbe(probe: Probe) {
    const view = this.seen()
    if (view) this.ask({ type: 'probe', channel: 'probe', view, probe }, (reply) => scopes.set({ reading: reply.reading }))
  }

  private askNoEffect() {
    clearTimeout(this.noEffectSoon)
    this.noEffectSoon = window.setTimeout(() => {
      const view = this.seen()
      if (view && this.shot && !inGap(this.shot, view.frame))
        this.ask({ type: 'no-effect', channel: 'no-effect', view }, (reply) => judge.set({ noEffect: reply.reasons }))
    }, 500)
  }

  private askRibbon() {
    clearTimeout(this.ribbonRest)
    this.ribbonRest = window.setTimeout(() => {
      const { shotId, frame, docs, band } = this.get()
      const shot = this.shot
      if (!docs.shot || band.width < 8 || !shot || inGap(shot, frame)) return
      this.ask(
        {
          type: 'ribbon',
          channel: 'ribbon',
          view: { shot: shotId, frame, ...this.looks(), width: 0, height: 0 },
          bandWidth: band.width,
          bandHeight: band.height,
        },
        (reply, image) => image && this.set({ ribbon: { reply, image } }),
      )
    }, 60)
  }

  askThumb(shot: ShotCard) {
    const now = shot.id === this.get().shotId && !this.queue.empty ? { ...this.looks(), hide: undefined } : { keep: true }
    this.askPicture(
      `thumb:${shot.id}`,
      { shot: shot.id, frame: inGap(shot, shot.frame) ? 0 : shot.frame, ...now, width: 192, height: 192, draft: true },
      (picture) => this.set({ thumbs: { ...this.get().thumbs, [shot.id]: picture } }),
    )
  }

  private thumbsSoon = 0
  /** Asks anew for the frames of the column that have been seen, when a look above them has come to rest. */
  private askThumbsSoon() {
    clearTimeout(this.thumbsSoon)
    this.thumbsSoon = window.setTimeout(() => {
      const { thumbs, reel } = this.get()
      for (const s of reel?.shots ?? []) if (thumbs[s.id]) this.askThumb(s)
    }, 700)
  }

  ask<R extends Ask>(request: R, hear: Hear<R['type']>, problem?: (text: string) => void) {
    this.wire.ask(request, hear, problem)
  }
  /** Asks for a picture alone, on a channel of its own; those in turn come one after the other. */
  askPicture(channel: string, view: View, hear: (picture: Picture) => void, inTurn = false) {
    this.ask({ type: 'picture', channel, view, inTurn }, (reply, image) => {
      if (reply.type === 'picture' && image) hear({ reply, image })
    })
  }
  unask(channel: string) {
    this.wire.stop(channel)
  }
}

/** How long a draft of what plays is waited for before it is asked for again, in milliseconds. */
const FOLLOWED = 2000

/** The room between two pictures side by side, in pixels of the screen. */
export const GAP = 8

export const studio = new Studio(start)
player.host = studio

export function shotOf(state: State): Shot | undefined {
  return state.open && state.open.id === state.shotId ? state.open : undefined
}

/** Reads the state in a part. */
export function useStudio<T>(pick: (state: State) => T): T {
  return studio.use(pick)
}

const noShots: ShotCard[] = []

/** The shots of the open reel. */
export const shotsOf = (state: State) => state.reel?.shots ?? noShots
