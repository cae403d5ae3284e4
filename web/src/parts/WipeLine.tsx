import type { KeyboardEvent, PointerEvent } from 'react'
import { judge, moveWipe } from '../state/judge'
import { drag } from '../controls/drag'

/** The line of a wipe: drag its middle to move it, its knob to turn it. Arrows move, with Shift they turn. */
export function WipeLine() {
  const wipe = judge.use((s) => s.wipe)

  function place(event: PointerEvent<HTMLDivElement>) {
    event.stopPropagation()
    const frame = event.currentTarget.closest('[data-wipe]')!.parentElement!.getBoundingClientRect()
    drag(event, (e) => moveWipe({ x: (e.clientX - frame.left) / frame.width, y: (e.clientY - frame.top) / frame.height }))
  }

  function turn(event: PointerEvent<HTMLDivElement>) {
    event.stopPropagation()
    const frame = event.currentTarget.closest('[data-wipe]')!.parentElement!.getBoundingClientRect()
    const mid = { x: frame.left + wipe.x * frame.width, y: frame.top + wipe.y * frame.height }
    drag(event, (e) => {
      const degrees = (Math.atan2(e.clientY - mid.y, e.clientX - mid.x) * 180) / Math.PI + 90
      // upright and level are easy to find
      const near = Math.round(degrees / 90) * 90
      moveWipe({ turn: Math.abs(degrees - near) < 2 ? near : degrees })
    })
  }

  function keys(e: KeyboardEvent) {
    const sign = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -1, ArrowDown: 1 }[e.key]
    if (!sign) return
    e.preventDefault()
    e.stopPropagation()
    if (e.shiftKey) moveWipe({ turn: wipe.turn + 3 * sign })
    else if (e.key === 'ArrowLeft' || e.key === 'ArrowRight') moveWipe({ x: wipe.x + 0.02 * sign })
    else moveWipe({ y: wipe.y + 0.02 * sign })
  }

  return (
    <div
      data-wipe
      className="pointer-events-none absolute h-0 w-0"
      style={{ left: `${100 * wipe.x}%`, top: `${100 * wipe.y}%`, rotate: `${wipe.turn}deg` }}
    >
      <div className="absolute -top-[3000px] left-0 h-[6000px] w-px bg-white mix-blend-difference" />
      <div
        role="slider"
        tabIndex={0}
        aria-label="Wipe"
        aria-valuenow={Math.round(wipe.x * 100)}
        aria-valuetext={`${Math.round(wipe.x * 100)} % across, turned by ${Math.round(wipe.turn)}°`}
        className="pointer-events-auto absolute -left-2 -top-[2000px] flex h-[4000px] w-4 cursor-move items-center justify-center outline-none"
        onPointerDown={place}
        onKeyDown={keys}
      >
        <span className="h-5 w-1.5 rounded-sm border border-black/50 bg-white/80" />
      </div>
      <div
        aria-label="Turn the wipe"
        className="pointer-events-auto absolute -left-[7px] -top-[77px] h-3.5 w-3.5 cursor-crosshair rounded-full border border-black/50 bg-white/80"
        onPointerDown={turn}
        data-testid="wipe-turn"
      />
    </div>
  )
}
