import type { Shot, View } from '../api/types.gen'
import type { Ask, Hear, Picture } from '../api/window'
import { judge } from './judge'
import { inGap } from './shots'
import { Store } from './store'

/** How many frames are asked for ahead of the one that is shown. */
const AHEAD = 8
/** How many frames of a still frame go round. */
const STILL = 48

interface Playing {
  /** The shot's frames go by, or the numbers of a frame that stands still; '' stands still. */
  playing: '' | 'shot' | 'still'
  /** Frames a second as they were shown over the last second; 0 before there is a figure. */
  rate: number
  /** Stretches that can be played without work. */
  kept: [number, number][]
}

/** What plays: the page, as far as the player needs it. */
export interface Host {
  readonly shot: Shot | undefined
  seen(): View | null
  shown(): Partial<View>
  ask<R extends Ask>(request: R, hear: Hear<R['type']>, problem?: (text: string) => void): void
  unask(channel: string): void
  tell(message: string): void
  /** The frame that is shown while it plays, and that it has come to rest. */
  showFrame(frame: number): void
  rest(): void
}

/** Plays from frames that the server has finished. No frame is left out: where the machine cannot keep up, it is slower, and says so. */
class Player extends Store<Playing> {
  /** The page, once it is there. */
  host!: Host
  /** Where frames are painted; the picture's canvas takes it while it is there. */
  paint: ((picture: Picture) => void) | null = null
  /** How many frames have been shown since the page was opened. */
  presented = 0

  private at = 0
  private base: View | null = null
  private span = { from: 0, to: 0 }
  private ready = new Map<number, Picture>()
  private asked = new Set<number>()
  private due = 0
  private beats: number[] = []
  private loop = 0
  private fillRest = 0
  private filling = false
  private run = 0

  /** Frames from in to out of the shot. */
  stretch() {
    const shot = this.host.shot
    return shot ? { from: shot.in, to: shot.out || shot.frames } : { from: 0, to: 0 }
  }

  toggle(what: 'shot' | 'still') {
    const { playing } = this.get()
    if (playing) this.stop()
    if (playing !== what) this.start(what)
  }

  private start(what: 'shot' | 'still') {
    const shot = this.host.shot
    const view = this.host.seen()
    if (!shot || !view || (what === 'shot' && shot.frames < 2) || inGap(shot, view.frame)) return
    this.unfill()
    this.run++
    this.span = what === 'still' ? { from: 0, to: STILL } : this.stretch()
    this.at = what === 'still' || view.frame < this.span.from || view.frame >= this.span.to ? this.span.from : view.frame
    this.base = { ...view, ...this.host.shown() }
    this.ready.clear()
    this.asked.clear()
    this.beats = []
    this.due = 0
    this.set({ playing: what, rate: 0 })
    this.loop = requestAnimationFrame(this.tick)
  }

  stop() {
    if (!this.get().playing) return
    cancelAnimationFrame(this.loop)
    this.run++
    this.host.unask('play:')
    this.ready.clear()
    this.asked.clear()
    this.set({ playing: '' })
    this.host.rest()
    this.fillSoon()
  }

  /** What is played, or would be, is seen otherwise now. */
  refit() {
    const { playing } = this.get()
    if (playing) {
      this.stop()
      this.start(playing)
    } else this.fillSoon()
  }

  private next(n: number) {
    const shot = this.host.shot
    let m = n + 1
    // a gap has nothing to show
    while (m < this.span.to && shot && this.get().playing === 'shot' && inGap(shot, m)) m++
    return m >= this.span.to ? this.span.from : m
  }

  private tick = (now: number) => {
    this.loop = requestAnimationFrame(this.tick)
    const { playing } = this.get()
    let n = this.at
    for (let k = 0; k < AHEAD; k++) {
      if (!this.ready.has(n) && !this.asked.has(n)) {
        this.asked.add(n)
        const view = playing === 'still' ? { ...this.base!, number: n } : { ...this.base!, frame: n }
        this.askFrame(n, view)
      }
      n = this.next(n)
      if (n === this.at) break
    }
    const picture = this.ready.get(this.at)
    // a screen's tick is never quite on time: half a tick early is nearer than a whole one late
    if (!picture || now < this.due - 8) return
    const step = 1000 / (this.host.shot?.rate || 24)
    this.due = now - this.due > 2 * step ? now + step : this.due + step
    this.show(picture, now)
  }

  private askFrame(n: number, view: View) {
    const run = this.run
    this.host.ask(
      { type: 'play', channel: `play:${n}`, view },
      (reply, image) => {
        this.asked.delete(n)
        if (image && run === this.run) this.ready.set(n, { reply, image })
      },
      (problem) => {
        if (run !== this.run) return
        this.host.tell(problem)
        this.stop()
      },
    )
  }

  private show(picture: Picture, now: number) {
    const shot = this.get().playing === 'shot'
    this.paint?.(picture)
    this.presented++
    this.ready.delete(this.at)
    if (shot) this.host.showFrame(this.at)
    this.at = this.next(this.at)
    this.beats.push(now)
    while (this.beats[0]! < now - 1000) this.beats.shift()
    if (this.beats.length > 6) this.set({ rate: Math.round(((this.beats.length - 1) / (now - this.beats[0]!)) * 10000) / 10 })
  }

  /** Makes the shot's frames ready when the hands have rested for a while. */
  fillSoon() {
    this.unfill()
    this.set({ kept: [] })
    this.fillRest = window.setTimeout(() => {
      const shot = this.host.shot
      const view = this.host.seen()
      if (!shot || !view || shot.frames < 2 || this.get().playing || judge.get().before) return
      this.filling = true
      this.host.ask({ type: 'fill', channel: 'fill', view: { ...view, ...this.host.shown() }, stretch: this.stretch() }, ({ kept }) =>
        this.set({ kept }),
      )
    }, 1200)
  }
  private unfill() {
    clearTimeout(this.fillRest)
    if (this.filling) this.host.unask('fill')
    this.filling = false
  }
}

export const player = new Player({ playing: '', rate: 0, kept: [] })
