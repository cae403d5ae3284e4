import { useEffect, useRef, type PointerEvent } from 'react'
import { nudgeOf } from '../model/number'
import { desk } from '../state/desk'
import { pickAt } from '../state/steps'

/** What is asked for, where it is not a colour to cover. */
const asks: Record<string, string> = {
  neutral: 'Press on something that should be neutral.',
  'a tone': 'Press on the tone to take.',
  'a hue': 'Press on the colour to take.',
}

/** While a step waits for a place on the picture: press there, or move the cross by arrows and take it with Enter. */
export function PickPoint() {
  const picking = desk.use((s) => s.picking)
  const layer = useRef<HTMLDivElement>(null)
  const waits = !!picking
  useEffect(() => {
    if (waits) layer.current?.focus()
  }, [waits])
  if (!picking) return null
  const share = (e: PointerEvent) => {
    const r = layer.current!.getBoundingClientRect()
    return { x: Math.max(0, Math.min(1, (e.clientX - r.left) / r.width)), y: Math.max(0, Math.min(1, (e.clientY - r.top) / r.height)) }
  }
  return (
    // an application in the sense of ARIA: arrows move the point and Enter takes it
    // eslint-disable-next-line jsx-a11y/no-noninteractive-element-interactions
    <div
      ref={layer}
      // eslint-disable-next-line jsx-a11y/no-noninteractive-tabindex
      tabIndex={0}
      role="application"
      aria-label={`Pick ${picking.what.startsWith('part') ? 'a colour' : picking.what}: arrows move, Enter takes, Escape leaves`}
      data-testid="pick"
      className="absolute inset-0 cursor-crosshair outline-none"
      onPointerMove={(e) => desk.set({ picking: { ...picking, ...share(e) } })}
      onPointerDown={(e) => {
        e.stopPropagation()
        const at = share(e)
        pickAt(at.x, at.y)
      }}
      onDoubleClick={(e) => e.stopPropagation()}
      onKeyDown={(e) => {
        e.stopPropagation()
        if (e.key === 'Escape') return desk.set({ picking: null })
        if (e.key === 'Enter' || e.key === ' ') return pickAt(picking.x, picking.y)
        const by = Math.abs(nudgeOf(e, 0.004))
        if (!by) return
        e.preventDefault()
        const hold = (v: number) => Math.max(0, Math.min(1, v))
        desk.set({
          picking: {
            ...picking,
            x: hold(picking.x + (e.key === 'ArrowRight' ? by : e.key === 'ArrowLeft' ? -by : 0)),
            y: hold(picking.y + (e.key === 'ArrowDown' ? by : e.key === 'ArrowUp' ? -by : 0)),
          },
        })
      }}
    >
      <span
        className="pointer-events-none absolute h-4 w-4 -translate-x-1/2 -translate-y-1/2 border border-white mix-blend-difference"
        style={{ left: `${100 * picking.x}%`, top: `${100 * picking.y}%` }}
      />
      <span className="pointer-events-none absolute left-2 top-2 rounded-sm bg-black/70 px-2 py-1 text-white">
        {asks[picking.what] ?? 'Press on the colour to cover.'} Escape leaves.
      </span>
    </div>
  )
}
