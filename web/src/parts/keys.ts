import { useEffect } from 'react'
import { desk } from '../state/desk'
import { pasteSteps } from '../state/steps'
import { mark } from '../state/footage'
import { judge } from '../state/judge'
import { exaggerate, release, setBefore, setLayout, setShow } from '../state/judging'
import { pinFrame } from '../state/pins'
import { player } from '../state/player'
import { setBox, setDock } from '../state/docking'
import { scopes } from '../state/scopes'
import { openStrip } from '../state/strip'
import { studio } from '../state/studio'
import { zoomBy } from '../state/zoom'

/** The card under the pointer, or the one that has focus. */
function cardOf(): string | null {
  const card = document.querySelector('[data-kind]:hover') ?? document.activeElement?.closest('[data-kind]')
  return card?.getAttribute('data-kind') ?? null
}

/** Goes back from whatever is shown in place of the picture. */
function back() {
  const { show, layout } = judge.get()
  if (desk.get().picking) return desk.set({ picking: null })
  if (show) return setShow('')
  if (scopes.get().box) return setBox(null)
  if (layout !== 'one') return setLayout(layout)
  if (studio.get().alone) leaveAlone()
}

function leaveAlone() {
  studio.setAlone(false)
  if (document.fullscreenElement) void document.exitFullscreen()
}

const presses: Record<string, (e: KeyboardEvent) => void> = {
  Escape: back,
  i: () => void mark('in'),
  o: () => void mark('out'),
  ',': () => studio.step(-1),
  '.': () => studio.step(1),
  '\\': () => setBefore(true),
  w: (e) => setLayout(e.shiftKey ? 'beside' : 'wipe'),
  d: () => setLayout('difference'),
  p: () => void pinFrame(),
  t: () => openStrip(),
  g: () => setDock({ open: !scopes.get().dock.open }),
  c: (e) => setShow(e.shiftKey ? 'clip-film' : 'clip-display'),
  x: () => setShow('false'),
  e: () => {
    const card = cardOf()
    if (card) exaggerate(card)
  },
  z: () => studio.setZoom(studio.get().zoom === 'fit' ? 1 : 'fit'),
  '+': () => zoomBy(1),
  '=': () => zoomBy(1),
  '-': () => zoomBy(-1),
  b: () => studio.setSurround((studio.get().surround + 1) % 4),
  f: () => {
    if (studio.get().alone) return leaveAlone()
    studio.setAlone(true)
    document.documentElement.requestFullscreen().catch(() => {})
  },
  h: () => player.toggle('held'),
  '?': () => window.dispatchEvent(new Event('velours-help')),
}

/** Keys that work anywhere on the page, but for fields that take text. */
export function useKeys() {
  useEffect(() => {
    const typing = (e: KeyboardEvent) => {
      const t = e.target as HTMLElement
      return (
        t.closest('[role=dialog], [role=listbox], [role=menu]') !== null ||
        (t instanceof HTMLInputElement && t.type === 'text') ||
        t instanceof HTMLSelectElement
      )
    }
    const down = (e: KeyboardEvent) => {
      if (typing(e)) return
      const command = e.ctrlKey || e.metaKey
      if (command && e.key.toLowerCase() === 'z') {
        e.preventDefault()
        void (e.shiftKey ? studio.redo() : studio.undo())
        return
      }
      if (command && e.key.toLowerCase() === 'v' && desk.get().copied) {
        e.preventDefault()
        return pasteSteps(studio.get().station)
      }
      if (command || e.altKey || e.defaultPrevented) return
      const station = studio.get().desk?.stations[Number(e.key) - 1]
      if (station) return studio.chooseStation(station.id)
      if (e.key === ' ') {
        if (e.target instanceof HTMLButtonElement) return
        e.preventDefault()
        return player.toggle('shot')
      }
      const press = presses[e.key.length === 1 ? e.key.toLowerCase() : e.key]
      if (press && !(e.repeat && !',.+-='.includes(e.key))) press(e)
    }
    const up = (e: KeyboardEvent) => {
      if (e.key === '\\') setBefore(false)
      if (e.key.toLowerCase() === 'e') release()
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
