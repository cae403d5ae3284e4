import { useSyncExternalStore } from 'react'
import { api, Refusal } from '../api/client'
import type { Delivery, Desk, Edit, Look, Reel, Shot } from '../api/types.gen'
import { Wire, type Picture } from '../api/window'
import { applied } from './look'

/** What the other side of a comparison shows. */
export type Other = 'film' | 'entered'

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
  other: Picture | null
  ribbon: Picture | null
  thumbs: Record<number, Picture>
  /** Held: the other side in place of the picture. Wipe: a line between them, 0…1, or null. */
  before: boolean
  wipe: number | null
  otherSide: Other
  zoom: 'fit' | 'full'
  pan: { x: number; y: number }
  view: { width: number; height: number }
  band: { width: number; height: number }
  surround: number
  deliveries: Delivery[]
  playing: boolean
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
  other: null,
  ribbon: null,
  thumbs: {},
  before: false,
  wipe: null,
  otherSide: 'film',
  zoom: 'fit',
  pan: { x: 0.5, y: 0.5 },
  view: { width: 0, height: 0 },
  band: { width: 0, height: 0 },
  surround: 1,
  deliveries: [],
  playing: false,
}

/** The page's state and everything a hand can do to it. Looks live in the parts; behaviour lives here. */
class Studio {
  private state = start
  private listeners = new Set<() => void>()
  private wire = new Wire()
  private queue: { shot: number; edit: Edit }[] = []
  private sending = false
  private rest = 0
  private ribbonRest = 0
  private frameRest = 0
  private playTimer = 0

  subscribe = (listener: () => void) => {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }
  get = () => this.state

  private set(change: Partial<State>) {
    this.state = { ...this.state, ...change }
    for (const listener of this.listeners) listener()
  }

  get shot(): Shot | undefined {
    return shotOf(this.state)
  }

  async begin() {
    this.wire.onState = (connected) => this.set({ connected })
    this.wire.listen('picture', (reply, image) => {
      if (reply.problem) this.set({ message: reply.problem })
      else if (image) this.set({ picture: { reply, image } })
    })
    this.wire.listen('other', (reply, image) => image && this.set({ other: { reply, image } }))
    this.wire.listen('ribbon', (reply, image) => image && this.set({ ribbon: { reply, image } }))
    this.wire.listen('thumb', (reply, image) => {
      if (image) this.set({ thumbs: { ...this.state.thumbs, [Number(reply.channel.slice(6))]: { reply, image } } })
    })
    this.wire.listen('delivery', (reply) => reply.delivery && this.noteDelivery(reply.delivery))
    this.wire.open()
    try {
      const [desk, reels, deliveries] = await Promise.all([api.desk(), api.reels(), api.deliveries()])
      this.set({ desk, reels, deliveries })
      const remembered = Number(localStorage.getItem('shot'))
      const shots = reels.flatMap((r) => r.shots)
      const shot = shots.find((s) => s.id === remembered) ?? shots[0]
      if (shot) this.openShot(shot.id)
      for (const s of shots) this.askThumb(s)
    } catch (error) {
      this.complain(error)
    }
  }

  complain(error: unknown) {
    this.set({ message: error instanceof Refusal ? error.message : String(error) })
  }
  dismiss = () => this.set({ message: '' })

  openShot(id: number) {
    const shot = this.state.reels.flatMap((r) => r.shots).find((s) => s.id === id)
    if (!shot) return
    localStorage.setItem('shot', String(id))
    this.stop()
    this.set({ shotId: id, look: shot.look as Look, frame: shot.frame, picture: null, other: null, ribbon: null, pan: { x: 0.5, y: 0.5 } })
    this.look(false)
  }

  step(by: number) {
    const shot = this.shot
    if (shot) this.seek((this.state.frame + by + shot.frames) % shot.frames)
  }

  seek(frame: number, hurry = false) {
    const shot = this.shot
    if (!shot) return
    frame = Math.max(0, Math.min(shot.frames - 1, frame))
    this.set({ frame })
    this.look(hurry)
    clearTimeout(this.frameRest)
    this.frameRest = window.setTimeout(() => {
      api.frame(shot.id, frame).catch((e) => this.complain(e))
      this.replaceShot({ ...shotOf(this.state)!, frame })
    }, 400)
  }

  togglePlay() {
    if (this.state.playing) return this.stop()
    const shot = this.shot
    if (!shot || shot.frames < 2) return
    this.set({ playing: true })
    const began = performance.now()
    const from = this.state.frame
    this.playTimer = window.setInterval(() => {
      const at = (from + Math.floor(((performance.now() - began) / 1000) * (shot.rate || 24))) % shot.frames
      if (at !== this.state.frame) {
        this.set({ frame: at })
        this.ask('picture', true, '')
      }
    }, 20)
  }
  stop() {
    clearInterval(this.playTimer)
    if (this.state.playing) {
      this.set({ playing: false })
      this.look(false)
    }
  }

  chooseStation(station: string) {
    this.set({ station })
  }

  setView(width: number, height: number) {
    if (width === this.state.view.width && height === this.state.view.height) return
    this.set({ view: { width, height } })
    this.look(false)
  }
  setBand(width: number, height: number) {
    if (width === this.state.band.width && height === this.state.band.height) return
    this.set({ band: { width, height } })
    this.askRibbon()
  }
  setZoom(zoom: State['zoom'], pan = this.state.pan) {
    this.set({ zoom, pan })
    this.look(false)
  }
  setPan(x: number, y: number, hurry: boolean) {
    const clamp = (v: number) => Math.max(0, Math.min(1, v))
    this.set({ pan: { x: clamp(x), y: clamp(y) } })
    this.look(hurry)
  }
  setSurround(surround: number) {
    this.set({ surround })
  }

  setBefore(before: boolean) {
    if (before === this.state.before) return
    this.set({ before })
    if (before) this.ask('other', false, this.state.otherSide)
  }
  toggleWipe() {
    this.set({ wipe: this.state.wipe === null ? 0.5 : null })
    if (this.state.wipe !== null) this.ask('other', false, this.state.otherSide)
  }
  moveWipe(wipe: number) {
    this.set({ wipe: Math.max(0, Math.min(1, wipe)) })
  }
  setOther(otherSide: Other) {
    this.set({ otherSide, other: null })
    this.ask('other', false, otherSide)
  }

  /** Changes the look on the screen at once, and on the disk as fast as the server answers. */
  edit(edit: Edit, hurry = false) {
    const { look, desk, shotId } = this.state
    if (!look || !desk) return
    if (['set', 'reset', 'clear', 'on', 'off', 'strength'].includes(edit.op)) {
      this.set({ look: applied(look, edit, desk.kinds) })
      this.look(hurry)
    }
    // while one edit is on its way, later ones of the same gesture replace each other
    const last = this.queue[this.queue.length - 1]
    if (this.queue.length > (this.sending ? 1 : 0) && last && edit.gesture && last.shot === shotId && last.edit.gesture === edit.gesture && last.edit.setting === edit.setting)
      last.edit = edit
    else this.queue.push({ shot: shotId, edit })
    void this.send()
  }

  private async send() {
    if (this.sending) return
    this.sending = true
    this.set({ saving: true })
    while (this.queue.length > 0) {
      const { shot, edit } = this.queue[0]!
      try {
        const fresh = await api.edit(shot, edit)
        this.queue.shift()
        this.replaceShot(fresh, this.queue.length === 0)
      } catch (error) {
        this.queue.shift()
        this.complain(error)
        await this.reload()
      }
    }
    this.sending = false
    this.set({ saving: false })
  }

  /** Takes the server's state of a shot over; the look only when nothing of ours is on its way. */
  private replaceShot(fresh: Shot, withLook = false) {
    const reels = this.state.reels.map((r) => ({ ...r, shots: r.shots.map((s) => (s.id === fresh.id ? fresh : s)) }))
    this.set({ reels })
    if (withLook && fresh.id === this.state.shotId && JSON.stringify(fresh.look) !== JSON.stringify(this.state.look)) {
      this.set({ look: fresh.look as Look })
      this.look(false)
    }
  }

  private async reload() {
    try {
      const reels = await api.reels()
      this.set({ reels })
      const shot = this.shot
      if (shot) this.set({ look: shot.look as Look })
      this.look(false)
    } catch (error) {
      this.complain(error)
    }
  }

  async undo() {
    const shot = this.shot
    if (!shot?.undo) return
    await this.travel(() => api.undo(shot.id))
  }
  async redo() {
    const shot = this.shot
    if (!shot?.redo) return
    await this.travel(() => api.redo(shot.id))
  }
  private async travel(call: () => Promise<Shot>) {
    try {
      const fresh = await call()
      this.replaceShot(fresh)
      this.set({ look: fresh.look as Look })
      this.look(false)
    } catch (error) {
      this.complain(error)
    }
  }

  async declare(id: string) {
    const shot = this.shot
    if (!shot) return
    try {
      this.replaceShot(await api.edit(shot.id, { op: 'declare', value: id }))
      this.look(false)
      this.askThumb(this.shot!)
    } catch (error) {
      this.complain(error)
    }
  }

  async addShot(path: string): Promise<boolean> {
    const reel = this.state.reels[0]
    if (!reel) return false
    try {
      const shot = await api.addShot(reel.id, path)
      this.set({ reels: this.state.reels.map((r) => (r.id === reel.id ? { ...r, shots: [...r.shots, shot] } : r)) })
      this.openShot(shot.id)
      this.askThumb(shot)
      return true
    } catch (error) {
      this.complain(error)
      return false
    }
  }

  async deliver(format: string) {
    const shot = this.shot
    if (!shot) return
    try {
      this.noteDelivery(await api.deliver(shot.id, format, this.state.frame))
    } catch (error) {
      this.complain(error)
    }
  }
  async cancel(id: number) {
    await api.cancel(id).catch((e) => this.complain(e))
  }
  private noteDelivery(d: Delivery) {
    const known = this.state.deliveries.find((x) => x.id === d.id)
    if (known && known.state !== 'running' && d.state === 'running') return
    this.set({ deliveries: known ? this.state.deliveries.map((x) => (x.id === d.id ? d : x)) : [d, ...this.state.deliveries] })
  }

  /** Asks for the picture: a draft while a hand moves, the exact one when it rests. */
  private look(hurry: boolean) {
    clearTimeout(this.rest)
    this.ask('picture', hurry, '')
    if (this.state.before || this.state.wipe !== null) this.ask('other', hurry, this.state.otherSide)
    if (hurry) this.rest = window.setTimeout(() => this.look(false), 160)
    this.askRibbon()
    if (!hurry && this.shot) this.askThumb(this.shot)
  }

  private ask(channel: string, draft: boolean, compare: string) {
    const { shotId, frame, look, view, zoom, pan } = this.state
    const shot = this.shot
    if (!shot || !look || view.width < 8) return
    const request = { shot: shotId, frame, look, compare, width: view.width, height: view.height, draft }
    if (zoom === 'full') {
      const w = Math.min(view.width, shot.width)
      const h = Math.min(view.height, shot.height)
      const crop = { x: Math.round((shot.width - w) * pan.x), y: Math.round((shot.height - h) * pan.y), cropWidth: w, cropHeight: h }
      this.wire.ask({ channel, view: { ...request, ...crop } })
    } else this.wire.ask({ channel, view: request })
  }

  private askRibbon() {
    clearTimeout(this.ribbonRest)
    this.ribbonRest = window.setTimeout(() => {
      const { shotId, frame, look, band } = this.state
      if (!look || band.width < 8) return
      this.wire.ask({
        channel: 'ribbon',
        view: { shot: shotId, frame, look, width: 0, height: 0 },
        bandWidth: band.width,
        bandHeight: band.height,
      })
    }, 60)
  }

  private askThumb(shot: Shot) {
    const look = shot.id === this.state.shotId && this.state.look ? this.state.look : (shot.look as Look)
    this.wire.ask({ channel: `thumb-${shot.id}`, view: { shot: shot.id, frame: shot.frame, look, width: 192, height: 192, draft: true } })
  }
}

export const studio = new Studio()

export function shotOf(state: State): Shot | undefined {
  for (const r of state.reels) for (const s of r.shots) if (s.id === state.shotId) return s
  return undefined
}

/** Reads the state in a part. */
export function useStudio<T>(pick: (state: State) => T): T {
  return useSyncExternalStore(studio.subscribe, () => pick(studio.get()))
}
