import type { KeyboardEvent, PointerEvent } from 'react'
import type { Area } from '../api/types.gen'
import { drag } from '../controls/drag'
import { grain, inside, setBoxes } from '../state/grain'
import { shotOf, studio, useStudio } from '../state/studio'

/** The parts of the picture in which grain is measured, to be moved and sized; width is that of the picture on the screen. */
export function GrainBoxes({ width }: { width: number }) {
  const open = grain.use((s) => s.open)
  const boxes = grain.use((s) => s.boxes)
  const shot = useStudio(shotOf)
  useStudio((s) => s.zoom)
  useStudio((s) => s.pan)
  const seen = studio.seen()
  if (!open || !shot || !seen || width < 8) return null
  const part = seen.cropWidth
    ? { x: seen.x!, y: seen.y!, w: seen.cropWidth, h: seen.cropHeight! }
    : { x: 0, y: 0, w: shot.width, h: shot.height }
  const unit = part.w / width // shot pixels for one of the screen
  const put = (i: number, b: Area) => setBoxes(grain.get().boxes.map((was, k) => (k === i ? inside(b) : was)))

  function hold(e: PointerEvent<HTMLElement>, i: number, size: boolean) {
    e.stopPropagation()
    const from = { x: e.clientX, y: e.clientY, box: boxes[i]! }
    drag(e, (to) => {
      const dx = (to.clientX - from.x) * unit
      const dy = (to.clientY - from.y) * unit
      const { box } = from
      put(i, size ? { ...box, width: box.width + dx, height: box.height + dy } : { ...box, x: box.x + dx, y: box.y + dy })
    })
  }

  function key(e: KeyboardEvent, i: number) {
    const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key]
    const box = boxes[i]!
    if (e.key === 'Delete' || e.key === 'Backspace') setBoxes(boxes.filter((_, k) => k !== i))
    else if (way) {
      const [dx, dy] = way.map((v) => v * (e.shiftKey ? 40 : 4)) as [number, number]
      put(i, e.altKey ? { ...box, width: box.width + dx, height: box.height + dy } : { ...box, x: box.x + dx, y: box.y + dy })
    } else return
    e.preventDefault()
    e.stopPropagation()
  }

  return (
    <div className="pointer-events-none absolute inset-0" data-testid="grain-boxes">
      {boxes.map((b, i) => (
        <div
          key={i}
          className="absolute"
          style={{
            left: `${((b.x - part.x) / part.w) * 100}%`,
            top: `${((b.y - part.y) / part.h) * 100}%`,
            width: `${(b.width / part.w) * 100}%`,
            height: `${(b.height / part.h) * 100}%`,
          }}
        >
          <button
            type="button"
            aria-label={`Box ${i + 1}: drag or arrow keys to move, Alt and arrows to size, Delete to remove`}
            className="pointer-events-auto absolute inset-0 cursor-move touch-none border border-white outline outline-1 outline-black/60"
            onPointerDown={(e) => hold(e, i, false)}
            onDoubleClick={(e) => e.stopPropagation()}
            onKeyDown={(e) => key(e, i)}
          >
            <span className="absolute left-0.5 top-0 text-xs text-white [text-shadow:0_0_2px_black]">{i + 1}</span>
          </button>
          <span
            role="presentation"
            className="pointer-events-auto absolute -bottom-1 -right-1 h-2.5 w-2.5 cursor-nwse-resize touch-none border border-black bg-white"
            onPointerDown={(e) => hold(e, i, true)}
          />
        </div>
      ))}
    </div>
  )
}
