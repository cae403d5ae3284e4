import type { PointerEvent } from 'react'
import { Canvas } from '../controls/Canvas'
import { shotOf, studio, useStudio } from '../state/studio'
import { drag } from '../controls/drag'

const WIDTH = 132

/** Where the seen part lies in the frame, while it is enlarged: drag to go elsewhere. */
export function Navigator() {
  const shot = useStudio(shotOf)
  const zoom = useStudio((s) => s.zoom)
  const pan = useStudio((s) => s.pan)
  const view = useStudio((s) => s.view)
  const thumb = useStudio((s) => s.thumbs[s.shotId])
  const seen = studio.seen()
  const part =
    shot && seen?.cropWidth && seen.cropHeight && view.width > 0
      ? { w: seen.cropWidth / shot.width, h: seen.cropHeight / shot.height }
      : null
  const needed = zoom !== 'fit' && part !== null && (part.w < 1 || part.h < 1)

  if (!needed || !shot) return null
  const height = (WIDTH * shot.height) / shot.width

  function go(event: PointerEvent<HTMLDivElement>) {
    const r = event.currentTarget.getBoundingClientRect()
    const to = (e: { clientX: number; clientY: number }, rest: boolean) => {
      const x = (e.clientX - r.left) / r.width - part!.w / 2
      const y = (e.clientY - r.top) / r.height - part!.h / 2
      studio.setPan(part!.w < 1 ? x / (1 - part!.w) : 0.5, part!.h < 1 ? y / (1 - part!.h) : 0.5, !rest)
    }
    to(event, false)
    drag(event, to)
  }

  return (
    <div
      className="absolute bottom-3 right-3 cursor-pointer border border-line bg-black"
      style={{ width: WIDTH, height }}
      onPointerDown={go}
      data-testid="navigator"
      aria-label="Navigator"
    >
      <Canvas picture={thumb} className="h-full w-full opacity-80" />
      <div
        className="pointer-events-none absolute border border-white"
        style={{
          left: `${100 * pan.x * (1 - part.w)}%`,
          top: `${100 * pan.y * (1 - part.h)}%`,
          width: `${100 * part.w}%`,
          height: `${100 * part.h}%`,
        }}
      />
    </div>
  )
}
