import { upwards } from '../model/levels'
import { nextMark } from '../state/carry'
import { useEffect } from 'react'
import type { StepPath } from '../api/types.gen'
import { desk } from '../state/desk'
import { setBox, setDock } from '../state/docking'
import { mark } from '../state/footage'
import { judge } from '../state/judge'
import { exaggerate, release, setBefore, setLayout, setShow, setTap } from '../state/judging'
import { commandOf, keysOf, written, type Command, type StationCommand } from '../state/keymap'
import { pinFrame } from '../state/pins'
import { player } from '../state/player'
import { scopes } from '../state/scopes'
import { pasteSteps } from '../state/steps'
import { treat, treatmentOf } from '../state/treatment'
import { nextTrial } from '../state/trials'
import { openStrip } from '../state/testStrip'
import { studio } from '../state/studio'
import { zoomBy } from '../state/zoom'

/** The card under the pointer, or the one that has focus. */
function cardOf(): StepPath | null {
  const card = document.querySelector('[data-kind]:hover') ?? document.activeElement?.closest('[data-kind]')
  return (card?.getAttribute('data-kind') as StepPath | undefined) ?? null
}

/** Goes back from whatever is shown in place of the picture. */
function back() {
  const { show, layout } = judge.get()
  if (desk.get().picking) return desk.set({ picking: null })
  if (show) return setShow('')
  if (judge.get().tap) return setTap('')
  if (scopes.get().box) return setBox(null)
  if (layout !== 'one') return setLayout(layout)
  if (studio.get().alone) leaveAlone()
}

function leaveAlone() {
  studio.setAlone(false)
  if (document.fullscreenElement) void document.exitFullscreen()
}

function nextLevel() {
  const { docs, level } = studio.get()
  const there = upwards.filter((l) => docs[l])
  studio.setLevel(there[(there.indexOf(level) + 1) % there.length] ?? 'shot')
}

function alone() {
  if (studio.get().alone) return leaveAlone()
  studio.setAlone(true)
  document.documentElement.requestFullscreen().catch(() => {})
}

function exaggerateCard() {
  const card = cardOf()
  if (card) exaggerate(card)
}

const stations: Record<StationCommand, () => void> = Object.fromEntries(
  [1, 2, 3, 4, 5, 6, 7].map((n) => [
    `station-${n}`,
    () => {
      const station = studio.get().desk?.stations[n - 1]
      if (station) studio.chooseStation(station.id)
    },
  ]),
) as Record<StationCommand, () => void>

/** What each command does; copying is the card's own. */
const does: Record<Exclude<Command, 'copy'>, () => void> = {
  ...stations,
  back,
  zoom: () => studio.setZoom(studio.get().zoom === 'fit' ? 1 : 'fit'),
  closer: () => zoomBy(1),
  farther: () => zoomBy(-1),
  alone,
  'hide-above': () => studio.setHide('above'),
  'hide-own': () => studio.setHide('own'),
  level: nextLevel,
  trial: () => nextTrial(1),
  'trial-back': () => nextTrial(-1),
  mark: nextMark,
  surround: () => studio.setSurround((studio.get().surround + 1) % 4),
  before: () => setBefore(true),
  wipe: () => setLayout('wipe'),
  beside: () => setLayout('beside'),
  difference: () => setLayout('difference'),
  pin: () => void pinFrame(),
  strip: () => openStrip(),
  tap: () => setTap(studio.get().station),
  treatment: () => treat(!treatmentOf(studio.get().docs, studio.get().level).on),
  scopes: () => setDock({ open: !scopes.get().dock.open }),
  'false-colour': () => setShow('false'),
  clipping: () => setShow('clip-display'),
  'clipping-film': () => setShow('clip-film'),
  far: exaggerateCard,
  play: () => player.toggle('shot'),
  'play-still': () => player.toggle('still'),
  'frame-back': () => studio.step(-1),
  'frame-on': () => studio.step(1),
  in: () => void mark('in'),
  out: () => void mark('out'),
  undo: () => void studio.undo(),
  redo: () => void studio.redo(),
  paste: () => {
    if (desk.get().copied) pasteSteps(studio.get().station)
  },
  keys: () => window.dispatchEvent(new Event('velours-help')),
}

/** Commands that act again and again while their key is down. */
const repeats: Command[] = ['frame-back', 'frame-on', 'closer', 'farther', 'undo', 'redo']

/** Whether a closed list has left a letter to the page (Choice). */
function leftByList(e: KeyboardEvent) {
  return e.key.length === 1 && e.target instanceof Element && e.target.matches('[role=combobox][aria-expanded=false]')
}

/** Keys that work anywhere on the page, but for fields that take text. */
export function useKeys() {
  useEffect(() => {
    const typing = (e: KeyboardEvent) => {
      const t = e.target as HTMLElement
      return t.closest('[role=dialog], [role=listbox], [role=menu]') !== null || (t instanceof HTMLInputElement && t.type === 'text')
    }
    const down = (e: KeyboardEvent) => {
      if (typing(e) || (e.defaultPrevented && !leftByList(e))) return
      const command = commandOf(written(e))
      if (!command || command === 'copy' || (command === 'paste' && !desk.get().copied)) return
      if (e.key === ' ' && e.target instanceof HTMLButtonElement) return
      if (e.repeat && !repeats.includes(command)) return
      e.preventDefault()
      does[command]()
    }
    /** A key that was held is up; which modifiers are still down does not matter. */
    const up = (e: KeyboardEvent) => {
      const key = written({ key: e.key, ctrlKey: false, metaKey: false, altKey: false, shiftKey: false })
      const held = (id: Command) => keysOf(id).some((k) => k === key || k.endsWith(`+${key}`))
      if (held('before')) setBefore(false)
      if (held('far')) release()
    }
    const away = () => {
      setBefore(false)
      release()
    }
    // the browser leaves full screen by itself on Escape
    const screen = () => document.fullscreenElement || studio.setAlone(false)
    window.addEventListener('keydown', down)
    window.addEventListener('keyup', up)
    window.addEventListener('blur', away)
    document.addEventListener('fullscreenchange', screen)
    return () => {
      window.removeEventListener('keydown', down)
      window.removeEventListener('keyup', up)
      window.removeEventListener('blur', away)
      document.removeEventListener('fullscreenchange', screen)
    }
  }, [])
}
