import type { Shot, Stretch, View } from '../api/types.gen'
import type { Ask, Hear, Picture } from '../api/window'
import { judge } from './judge'
import { inGap } from './shots'
import { remember, remembered, Store } from './store'

/** How many frames are asked for ahead of the one that is shown. Where they come quickly, they are asked for anew when no more than half of them are left, so that there is time
 *  between for the exact ones; where they do not, at once. Quickly is in this part of the time that a frame is shown. */
const AHEAD = 24
const QUICKLY = 0.6
/** How many of them are there before time begins to run, at least, and the longest that is waited for more, in milliseconds. */
const FIRST = 8
const LONGEST = 2500
/** How much longer a frame is expected to take once frames are painted as well, which takes the same processor's time. */
const PAINTED = 1.4
/** How many frames of a still frame go round. */
const STILL = 48
/** How often the other side and the scopes follow what plays, in milliseconds, where there is the time. */
const FOLLOW = 400

/** In time: at a lower raster where the exact picture would not be there; or every frame, exact, as long as it takes. */
export type Pace = 'time' | 'every'

interface Playing {
  /** The shot's frames go by, or the numbers of a frame that stands still; '' stands still. */
  playing: '' | 'shot' | 'still'
  pace: Pace
  /** Frames a second as they were shown over the last second; 0 before there is a figure. */
  rate: number
  /** At which share of its raster the frame was made that was shown last. */
  share: number
  /** Stretches that can be played without work, and those that are at least decoded, of a movie that is slow to decode. */
  kept: [number, number][]
  decoded: [number, number][]
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
  /** The scopes and the other side are to be of the frame that is shown. */
  follow(): void
  rest(): void
}

/** Plays from frames that the server has finished. In time, none is late: where the machine cannot keep up, they come at a lower raster, and where even that is
 *  too slow, some are left out. Every frame exact, it is slower instead. Either is told. */
class Player extends Store<Playing> {
  /** The page, once it is there. */
  host!: Host
  /** Where frames are painted; the picture's canvas takes it while it is there. */
  paint: ((picture: Picture) => void) | null = null
  /** How many frames have been shown since the page was opened. */
  presented = 0

  /** How many were left out because they were not there in time, or soon after, and how many of those that were shown were exact. */
  late = 0
  exact = 0

  /** How long a frame takes to come, in milliseconds, the newest counting most, and when the newest came. */
  private takes = 0
  private came = 0

  private at = 0
  private base: View | null = null
  private span = { from: 0, to: 0 }
  private ready = new Map<number, Picture>()
  private asked = new Set<number>()
  private began = 0
  private due = 0
  private passed: number[] = []
  private followed = 0
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
    this.began = this.came = performance.now()
    this.takes = Infinity
    this.due = 0
    this.passed = []
    this.set({ playing: what, rate: 0, share: 1 })
    this.loop = requestAnimationFrame(this.tick)
  }

  stop() {
    if (!this.get().playing) return
    cancelAnimationFrame(this.loop)
    this.unfill()
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

  setPace(pace: Pace) {
    if (pace === this.get().pace) return
    remember('playing', { pace })
    this.set({ pace })
    this.refit()
  }

  private tick = (now: number) => {
    this.loop = requestAnimationFrame(this.tick)
    const step = 1000 / (this.host.shot?.rate || 24)
    // grain that moves on a still frame is judged, so that is always exact
    if (this.get().pace === 'time' && this.get().playing === 'shot') this.keepTime(now, step)
    else {
      this.askAhead(0)
      const picture = this.ready.get(this.at)
      // a screen's tick is never quite on time: half a tick early is nearer than a whole one late
      if (!picture || now < this.due - 8) return
      this.due = now - this.due > 2 * step ? now + step : this.due + step
      this.show(this.at, picture, now)
      this.at = this.next(this.at)
    }
  }

  /** Shows what is due, or, where it is not there, the newest of those that were. */
  private keepTime(now: number, step: number) {
    if (this.due && now - this.due > 1000) this.due = now // the page was asleep
    while (this.due && now - this.due > step) {
      this.pass()
      this.due += step
    }
    this.askAhead(step)
    if (!this.due) {
      if (!this.enough(now, step)) return
      const first = this.ready.get(this.at)
      if (first) {
        this.show(this.at, first, now)
        this.at = this.next(this.at)
      }
      // the first to be painted takes longest, in a canvas of another size: time runs from when it is there
      this.due = Infinity
      const run = this.run
      requestAnimationFrame((then) => {
        if (run !== this.run) return // it was stopped, or begun anew
        this.due = then + step
        this.fill(this.base!, this.span, true)
      })
      return
    }
    const there = now >= this.due - 8 && this.ready.has(this.at)
    const n = there ? this.at : this.passed.findLast((m) => this.ready.has(m))
    if (n === undefined) return
    this.show(n, this.ready.get(n)!, now)
    const upTo = there ? this.passed.length : this.passed.indexOf(n)
    this.late += upTo
    for (const m of this.passed.splice(0, there ? upTo : upTo + 1)) {
      this.ready.delete(m)
      if (this.asked.delete(m)) this.host.unask(channelOf(m))
    }
    if (!there) return
    this.at = this.next(this.at)
    this.due += step
  }

  /** Tells that time can begin to run: the first round, at the pace at which frames are going to come, needs no more than are there. */
  private enough(now: number, step: number) {
    const there = this.ready.size
    if (now - this.began > LONGEST) return there > 0
    const round = this.span.to - this.span.from
    if (there < Math.min(FIRST, round)) return false
    const pace = (PAINTED * (now - this.began)) / there // ms a frame, the first of which take longest
    return there >= Math.min(AHEAD, round * (1 - step / pace))
  }

  /** The time of a frame is over. The first of such is being made, and is shown as soon as it is there; what waits behind it need not be made. */
  private pass() {
    if (this.asked.has(this.at) && this.passed.some((m) => this.asked.has(m))) {
      this.asked.delete(this.at)
      this.host.unask(channelOf(this.at))
    }
    this.passed.push(this.at)
    this.at = this.next(this.at)
  }

  /** Asks for the frames that come next. */
  private askAhead(within: number) {
    const { playing } = this.get()
    if (within && this.takes < QUICKLY * within && this.ready.size + this.asked.size > AHEAD / 2) return
    let n = this.at
    for (let k = 0; k < AHEAD; k++) {
      if (!this.ready.has(n) && !this.asked.has(n)) {
        this.asked.add(n)
        const view = playing === 'still' ? { ...this.base!, number: n } : { ...this.base!, frame: n }
        this.askFrame(n, view, within)
      }
      n = this.next(n)
      if (n === this.at) break
    }
  }

  private askFrame(n: number, view: View, within: number) {
    const run = this.run
    const askedAt = performance.now()
    this.host.ask(
      { type: 'play', channel: channelOf(n), view, within },
      (reply, image) => {
        this.asked.delete(n)
        const now = performance.now()
        const took = now - Math.max(askedAt, this.came) // what came before it was made first
        this.takes = this.takes === Infinity ? took : this.takes + (took - this.takes) / 8
        this.came = now
        if (image && run === this.run) this.ready.set(n, { reply, image })
      },
      (problem) => {
        if (run !== this.run) return
        this.host.tell(problem)
        this.stop()
      },
    )
  }

  private show(n: number, picture: Picture, now: number) {
    const shot = this.get().playing === 'shot'
    const share = picture.reply.share ?? 1
    this.presented++
    if (share === 1) this.exact++
    this.paint?.(picture)
    this.ready.delete(n)
    if (shot) this.host.showFrame(n)
    this.beats.push(now)
    while (this.beats[0]! < now - 1000) this.beats.shift()
    if (share !== this.get().share) this.set({ share })
    if (now - this.followed > FOLLOW && this.ready.size >= AHEAD / 4) {
      this.followed = now
      this.host.follow()
    }
    if (this.beats.length > 6) this.set({ rate: Math.round(((this.beats.length - 1) / (now - this.beats[0]!)) * 10000) / 10 })
  }

  /** Makes the shot's frames ready when the hands have rested for a while. */
  fillSoon() {
    this.unfill()
    this.set({ kept: [], decoded: [] })
    this.fillRest = window.setTimeout(() => {
      const shot = this.host.shot
      const view = this.host.seen()
      if (!shot || !view || shot.frames < 2 || this.get().playing || judge.get().before) return
      this.fill({ ...view, ...this.host.shown() }, this.stretch(), false)
    }, 1200)
  }
  private fill(view: View, stretch: Stretch, playing: boolean) {
    this.filling = true
    this.host.ask({ type: 'fill', channel: 'fill', view, stretch, playing }, ({ kept, decoded }) => {
      if (!stretch.still) this.set({ kept, decoded })
    })
  }
  private unfill() {
    clearTimeout(this.fillRest)
    if (this.filling) this.host.unask('fill')
    this.filling = false
  }
}

/** The channel of a frame; none is the beginning of another's name. */
const channelOf = (n: number) => `play:${n}.`

export const player = new Player({
  playing: '',
  ...remembered<{ pace: Pace }>('playing', { pace: 'time' }),
  rate: 0,
  share: 1,
  kept: [],
  decoded: [],
})
