import { useSyncExternalStore } from 'react'
import { api, Refusal, send } from '../api/client'
import type { Added, Delivery, Desk, Edit, Kept, Look, Own, Reel, Shot } from '../api/types.gen'
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
  /** The chosen shots, the open one among them. */
  selection: number[]
  /** The sheet that compares encodings is open; its pictures by encoding. */
  declaring: boolean
  strip: Record<string, Picture>
  /** How far the sending of files is, 0…1. */
  /** The step whose contribution is shown in place of the picture, as station.kind. */
  adds: string
  sending: number | null
  /** Encodings and tables that a person has added. */
  kept: Kept[]
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
  selection: [],
  declaring: false,
  strip: {},
  adds: '',
  sending: null,
  kept: [],
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
    this.wire.listen('strip', (reply, image) => {
      if (image) this.set({ strip: { ...this.state.strip, [reply.channel.slice(6)]: { reply, image } } })
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
    const selection = this.state.selection.includes(id) ? this.state.selection : [id]
    this.set({ shotId: id, adds: '', selection, look: shot.look as Look, frame: shot.frame, picture: null, other: null, ribbon: null, pan: { x: 0.5, y: 0.5 } })
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

  /** Chooses a shot: alone, in or out of the selection, or all from the open one to it. */
  choose(id: number, how: 'one' | 'toggle' | 'range') {
    const { selection, shotId } = this.state
    const ids = this.state.reels.flatMap((r) => r.shots.map((s) => s.id))
    if (how === 'one') this.set({ selection: [id] })
    else if (how === 'range') {
      const [a, b] = [ids.indexOf(shotId), ids.indexOf(id)].sort((x, y) => x - y)
      this.set({ selection: ids.slice(a, b! + 1) })
    } else if (id !== shotId) return this.set({ selection: selection.includes(id) ? selection.filter((x) => x !== id) : [...selection, id] })
    if (how === 'one') this.openShot(id)
  }

  /** Declares the encoding of the open shot, or of all that are chosen with it. */
  async declare(id: string) {
    const { selection, shotId } = this.state
    try {
      for (const shot of await api.declare(selection.includes(shotId) ? selection : [shotId], id)) {
        this.replaceShot(shot, true)
        this.askThumb(shot)
      }
      this.set({ declaring: false })
      this.look(false)
    } catch (error) {
      this.complain(error)
    }
  }

  /** Shows what a step adds in place of the picture, or the picture again. */
  showAdds(step: string) {
    this.set({ adds: step === this.state.adds ? '' : step })
    this.look(false)
  }

  setDeclaring(declaring: boolean) {
    this.set({ declaring, strip: {} })
  }

  /** Asks for the open frame under every encoding. */
  askStrip() {
    const { desk, shotId, frame, look } = this.state
    const encodings = desk?.kinds.find((k) => k.station === 'intake' && k.id === 'encoding')?.settings[0]?.choices
    if (!look || !encodings) return
    for (const e of encodings) this.wire.ask({ channel: `strip:${e.id}`, view: { shot: shotId, frame, look, encoding: e.id, width: 320, height: 320, draft: true } })
  }

  async loadKept() {
    try {
      const [shelf, desk] = await Promise.all([api.shelf(), api.desk()])
      this.set({ kept: shelf.kept, desk })
    } catch (error) {
      this.complain(error)
    }
  }

  async keepEncoding(own: Own): Promise<boolean> {
    try {
      await api.keepEncoding(own)
      await this.loadKept()
      this.look(false)
      return true
    } catch (error) {
      this.complain(error)
      return false
    }
  }

  async keepFiles(files: File[], after: string) {
    try {
      const got = await api.keepFiles(files, after)
      if (got.problems.length > 0) this.set({ message: got.problems.join('\n') })
      await this.loadKept()
    } catch (error) {
      this.complain(error)
    }
  }

  async removeKept(id: number) {
    try {
      await api.removeKept(id)
    } catch (error) {
      this.complain(error)
    }
    await this.loadKept()
  }

  /** The reel that a person's own shots go to. */
  private get rushes() {
    return this.state.reels.find((r) => !r.demo) ?? this.state.reels[0]
  }

  async addShots(paths: string[]): Promise<boolean> {
    const reel = this.rushes
    if (!reel) return false
    try {
      return this.take(await api.addShots(reel.id, paths))
    } catch (error) {
      this.complain(error)
      return false
    }
  }

  private upload_: { stop: () => void } | null = null
  async upload(files: File[]) {
    const reel = this.rushes
    if (!reel || files.length === 0) return
    this.set({ sending: 0 })
    try {
      const job = send(reel.id, files, (sending) => this.set({ sending }))
      this.upload_ = job
      this.take(await job.done)
    } catch (error) {
      this.complain(error)
    } finally {
      this.set({ sending: null })
    }
  }
  stopUpload() {
    this.upload_?.stop()
  }

  /** Shows what came in, and tells what did not. */
  private take(added: Added): boolean {
    const reel = this.rushes!
    this.set({ reels: this.state.reels.map((r) => (r.id === reel.id ? { ...r, shots: [...r.shots, ...added.shots] } : r)) })
    for (const shot of added.shots) this.askThumb(shot)
    const first = added.shots[0]
    if (first) {
      this.set({ selection: added.shots.map((s) => s.id) })
      this.openShot(first.id)
    }
    if (added.problems.length > 0) this.set({ message: added.problems.slice(0, 3).join('\n') + (added.problems.length > 3 ? `\nand ${added.problems.length - 3} more` : '') })
    return added.shots.length > 0
  }

  async removeShot(id: number) {
    try {
      await api.removeShot(id)
      const reels = this.state.reels.map((r) => ({ ...r, shots: r.shots.filter((s) => s.id !== id) }))
      this.set({ reels, selection: [] })
      const next = reels.flatMap((r) => r.shots)[0]
      if (next) this.openShot(next.id)
      else this.set({ shotId: 0, look: null, picture: null, ribbon: null })
    } catch (error) {
      this.complain(error)
    }
  }

  /** Puts in or out at the open frame; where it is already, takes it away. */
  async mark(which: 'in' | 'out') {
    const shot = this.shot
    if (!shot || shot.frames < 2) return
    const { frame } = this.state
    const span = { in: shot.in, out: shot.out }
    if (which === 'in') span.in = shot.in === frame ? 0 : frame
    else span.out = shot.out === frame + 1 ? 0 : frame + 1
    if (span.out !== 0 && span.in >= span.out) span[which === 'in' ? 'out' : 'in'] = 0
    try {
      this.replaceShot(await api.span(shot.id, span))
    } catch (error) {
      this.complain(error)
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
    if (inGap(shot, frame)) return this.set(channel === 'picture' ? { picture: null } : { other: null })
    const adds = channel === 'picture' ? this.state.adds : ''
    const request = { shot: shotId, frame, look, compare, adds, width: view.width, height: view.height, draft }
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
      const shot = this.shot
      if (!look || band.width < 8 || !shot || inGap(shot, frame)) return
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
    this.wire.ask({ channel: `thumb:${shot.id}`, view: { shot: shot.id, frame: inGap(shot, shot.frame) ? 0 : shot.frame, look, width: 192, height: 192, draft: true } })
  }
}

export const studio = new Studio()

export function shotOf(state: State): Shot | undefined {
  for (const r of state.reels) for (const s of r.shots) if (s.id === state.shotId) return s
  return undefined
}

/** Tells whether a frame of a sequence is missing. */
export function inGap(shot: Shot, frame: number) {
  return shot.gaps.some((g) => frame >= g.first && frame <= g.last)
}

/** Reads the state in a part. */
export function useStudio<T>(pick: (state: State) => T): T {
  return useSyncExternalStore(studio.subscribe, () => pick(studio.get()))
}
