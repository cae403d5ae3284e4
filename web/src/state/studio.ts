import { api, Refusal } from '../api/client'
import type { Delivery, Desk, Edit, Look, Probe, Reel, Shot, View } from '../api/types.gen'
import { Wire, type Ask, type Hear, type Picture } from '../api/window'
import { deactivate } from './desk'
import { comparing, judge, shown } from './judge'
import { applied, atOnce } from '../model/edits'
import { player } from './player'
import { EditQueue } from './queue'
import { asks, receiveTrace, scopes } from './scopes'
import { inGap } from './shots'
import { Store } from './store'

export type Zoom = 'fit' | 1 | 2 | 4

export interface State {
  desk: Desk | null
  reels: Reel[]
  shotId: number
  look: Look | null
  frame: number
  station: string
  connected: boolean
  saving: boolean
  message: string
  picture: Picture | null
  ribbon: Picture | null
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
  deliveries: Delivery[]
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
  reels: [],
  shotId: 0,
  look: null,
  frame: 0,
  station: 'negative',
  connected: true,
  saving: false,
  message: '',
  picture: null,
  ribbon: null,
  thumbs: {},
  zoom: 'fit',
  pan: { x: 0.5, y: 0.5 },
  view: { width: 0, height: 0 },
  band: { width: 0, height: 0 },
  surround: 1,
  alone: false,
  deliveries: [],
  selection: [],
  declaring: false,
  encodingPictures: {},
  sending: null,
  density: 1,
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
    const { reels, shotId } = this.get()
    return reels.find((r) => r.shots.some((s) => s.id === shotId))
  }

  complain(error: unknown) {
    this.tell(error instanceof Refusal ? error.message : String(error))
  }
  tell(message: string) {
    this.set({ message })
  }
  dismiss = () => this.tell('')

  openShot(id: number) {
    const shot = this.get()
      .reels.flatMap((r) => r.shots)
      .find((s) => s.id === id)
    if (!shot) return
    localStorage.setItem('shot', String(id))
    player.stop()
    const selection = this.get().selection.includes(id) ? this.get().selection : [id]
    judge.set({ show: '', step: '', other: null, noEffect: {}, bands: [] })
    scopes.set({ box: null, reading: null })
    deactivate()
    this.set({ shotId: id, selection, look: shot.look, frame: shot.frame, picture: null, ribbon: null, pan: { x: 0.5, y: 0.5 } })
    this.refresh(false)
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
    this.set({ station })
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

  /** Changes the look on the screen at once, and on the disk as fast as the server answers. */
  edit(edit: Edit, hurry = false) {
    const { look, desk, shotId } = this.get()
    if (!look || !desk) return
    player.stop()
    if (atOnce.includes(edit.op)) {
      this.set({ look: applied(look, edit, desk.kinds) })
      this.refresh(hurry)
    }
    this.queue.push(shotId, edit)
  }

  private async send(shot: number, edit: Edit, last: () => boolean) {
    try {
      const fresh = await api.edit(shot, whole.includes(edit.op) ? { ...edit, revision: this.revisionOf(shot) } : edit)
      this.replaceShot(fresh, last())
    } catch (error) {
      this.complain(error)
      await this.reload()
    }
  }

  private revisionOf(shot: number) {
    return (
      this.get()
        .reels.flatMap((r) => r.shots)
        .find((s) => s.id === shot)?.revision ?? 0
    )
  }

  /** Shows what another window has changed. What this one has under way is put on top of it. */
  meet(fresh: Shot) {
    const known = this.get()
      .reels.flatMap((r) => r.shots)
      .find((s) => s.id === fresh.id)
    if (!known || fresh.revision < known.revision) return
    this.replaceShot(fresh, this.queue.empty)
    if (fresh.id !== this.get().shotId) this.askThumb(fresh)
  }

  /** Takes over which shots there are, after another window has brought some in or out. */
  async meetReels() {
    const reels = await api.reels()
    this.set({ reels })
    const shots = reels.flatMap((r) => r.shots)
    for (const s of shots) if (!this.get().thumbs[s.id]) this.askThumb(s)
    if (!this.shot && shots[0]) this.openShot(shots[0].id)
  }

  /** Waits until every change is on the disk. */
  settled() {
    return this.queue.settled()
  }

  /** Takes the server's state of a shot over; the look only when nothing of ours is on its way. */
  replaceShot(fresh: Shot, withLook = false) {
    const reels = this.get().reels.map((r) => ({ ...r, shots: r.shots.map((s) => (s.id === fresh.id ? fresh : s)) }))
    this.set({ reels })
    if (withLook && fresh.id === this.get().shotId && JSON.stringify(fresh.look) !== JSON.stringify(this.get().look)) {
      this.set({ look: fresh.look })
      this.refresh(false)
    }
  }

  /** Shows a shot as the server has it now. */
  take(fresh: Shot) {
    this.replaceShot(fresh)
    this.set({ look: fresh.look })
    this.refresh(false)
  }

  private async reload() {
    try {
      this.set({ reels: await api.reels() })
      if (this.shot) this.set({ look: this.shot.look })
      this.refresh(false)
    } catch (error) {
      this.complain(error)
    }
  }

  async undo() {
    const shot = this.shot
    if (shot?.undo.label) await this.travel(() => api.undo(shot.id, this.revisionOf(shot.id)))
  }
  async redo() {
    const shot = this.shot
    if (shot?.redo.label) await this.travel(() => api.redo(shot.id, this.revisionOf(shot.id)))
  }
  private async travel(call: () => Promise<Shot>) {
    player.stop()
    try {
      await this.settled()
      this.take(await call())
    } catch (error) {
      this.complain(error)
      await this.reload()
    }
  }

  async deliver(format: string, placed: boolean) {
    const shot = this.shot
    if (!shot) return
    try {
      this.noteDelivery(await api.deliver(shot.id, format, this.get().frame, placed))
    } catch (error) {
      this.complain(error)
    }
  }
  async cancel(id: number) {
    await api.cancel(id).catch((e) => this.complain(e))
  }
  noteDelivery(d: Delivery) {
    const { deliveries } = this.get()
    const known = deliveries.find((x) => x.id === d.id)
    if (known && known.state !== 'running' && d.state === 'running') return
    this.set({ deliveries: known ? deliveries.map((x) => (x.id === d.id ? d : x)) : [d, ...deliveries] })
  }

  /** The player shows a frame, and comes to rest. */
  showFrame(frame: number) {
    this.set({ frame })
  }
  rest() {
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
    const { shotId, frame, look, zoom, pan } = this.get()
    const shot = this.shot
    const room = this.room()
    if (!shot || !look || room.width < 8) return null
    const view: View = { shot: shotId, frame, look, width: room.width, height: room.height }
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

  private askShot(draft: boolean) {
    const view = this.seen()
    const shot = this.shot
    if (!view || !shot) return
    if (inGap(shot, view.frame)) return this.set({ picture: null })
    this.ask(
      { type: 'picture', channel: 'picture', view: { ...view, ...shown(), draft }, scopes: asks() },
      (reply, image) => {
        if (reply.type === 'scope') receiveTrace('traces', reply, image)
        else if (image && !player.get().playing) {
          this.set({ picture: { reply, image } })
          if (reply.bands) judge.set({ bands: reply.bands })
        }
      },
      (problem) => this.tell(problem),
    )
  }

  askOther(draft: boolean) {
    const view = this.seen()
    const shot = this.shot
    const { dock } = scopes.get()
    if (!view || !shot || !(comparing() || (dock.open && dock.under))) return
    if (inGap(shot, view.frame)) return judge.set({ other: null })
    this.ask(
      { type: 'picture', channel: 'other', view: { ...view, side: judge.get().side, draft }, scopes: dock.under ? asks() : [] },
      (reply, image) => {
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
      const { shotId, frame, look, band } = this.get()
      const shot = this.shot
      if (!look || band.width < 8 || !shot || inGap(shot, frame)) return
      this.ask(
        {
          type: 'ribbon',
          channel: 'ribbon',
          view: { shot: shotId, frame, look, width: 0, height: 0 },
          bandWidth: band.width,
          bandHeight: band.height,
        },
        (reply, image) => image && this.set({ ribbon: { reply, image } }),
      )
    }, 60)
  }

  askThumb(shot: Shot) {
    const { shotId, look } = this.get()
    const now = shot.id === shotId && look ? look : shot.look
    this.askPicture(
      `thumb:${shot.id}`,
      { shot: shot.id, frame: inGap(shot, shot.frame) ? 0 : shot.frame, look: now, width: 192, height: 192, draft: true },
      (picture) => this.set({ thumbs: { ...this.get().thumbs, [shot.id]: picture } }),
    )
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

/** The room between two pictures side by side, in pixels of the screen. */
export const GAP = 8

export const studio = new Studio(start)
player.host = studio

export function shotOf(state: State): Shot | undefined {
  for (const r of state.reels) for (const s of r.shots) if (s.id === state.shotId) return s
  return undefined
}

/** Reads the state in a part. */
export function useStudio<T>(pick: (state: State) => T): T {
  return studio.use(pick)
}
