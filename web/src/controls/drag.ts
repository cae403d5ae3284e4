import type { PointerEvent } from 'react'

/**
 * Follows a pointer from where it went down until it is let go: move is called on every way, and once more with rest when
 * it ends. The element keeps the pointer, so that it may leave it.
 */
export function drag(event: PointerEvent<Element>, move: (e: globalThis.PointerEvent, rest: boolean) => void) {
  const target = event.currentTarget as HTMLElement
  target.setPointerCapture(event.pointerId)
  const go = (e: globalThis.PointerEvent) => move(e, false)
  const up = (e: globalThis.PointerEvent) => {
    target.removeEventListener('pointermove', go)
    target.removeEventListener('pointerup', up)
    target.removeEventListener('pointercancel', up)
    move(e, true)
  }
  target.addEventListener('pointermove', go)
  target.addEventListener('pointerup', up)
  target.addEventListener('pointercancel', up)
}
