import { useEffect } from 'react'
import { studio } from '../state/studio'

/** Keys that work anywhere on the page, but for fields that take text. */
export function useKeys() {
  useEffect(() => {
    const typing = (e: KeyboardEvent) => {
      const t = e.target as HTMLElement
      return t.closest('[role=dialog], [role=listbox]') !== null || (t instanceof HTMLInputElement && t.type === 'text') || t instanceof HTMLSelectElement
    }
    const down = (e: KeyboardEvent) => {
      if (typing(e)) return
      const command = e.ctrlKey || e.metaKey
      if (command && e.key.toLowerCase() === 'z') {
        e.preventDefault()
        void (e.shiftKey ? studio.redo() : studio.undo())
        return
      }
      if (command || e.altKey) return
      const { desk, zoom, surround } = studio.get()
      const station = desk?.stations[Number(e.key) - 1]
      if (station) return studio.chooseStation(station.id)
      switch (e.key) {
        case 'Escape':
          if (studio.get().adds) studio.showAdds('')
          return
        case 'i':
        case 'I':
          void studio.mark('in')
          return
        case 'o':
        case 'O':
          void studio.mark('out')
          return
        case ',':
          return studio.step(-1)
        case '.':
          return studio.step(1)
        case '\\':
          return studio.setBefore(true)
        case 'w':
        case 'W':
          return studio.toggleWipe()
        case 'z':
        case 'Z':
          return studio.setZoom(zoom === 'fit' ? 'full' : 'fit')
        case 'b':
        case 'B':
          return studio.setSurround((surround + 1) % 4)
        case 'f':
        case 'F':
          void (document.fullscreenElement ? document.exitFullscreen() : document.documentElement.requestFullscreen())
          return
        case '?':
          window.dispatchEvent(new Event('velours-help'))
          return
        case ' ':
          if (e.target instanceof HTMLButtonElement) return
          e.preventDefault()
          return studio.togglePlay()
      }
    }
    const up = (e: KeyboardEvent) => {
      if (e.key === '\\') studio.setBefore(false)
    }
    const away = () => studio.setBefore(false)
    window.addEventListener('keydown', down)
    window.addEventListener('keyup', up)
    window.addEventListener('blur', away)
    return () => {
      window.removeEventListener('keydown', down)
      window.removeEventListener('keyup', up)
      window.removeEventListener('blur', away)
    }
  }, [])
}
