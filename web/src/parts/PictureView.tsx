import { useEffect, useRef, type PointerEvent } from 'react'
import { inGap, shotOf, studio, useStudio } from '../state/studio'

const surrounds = ['#000000', '#171717', '#757575', '#ffffff']
const MARGIN = 12

/** The picture on its neutral surround, with the other side over it while compared. */
export function PictureView() {
  const picture = useStudio((s) => s.picture)
  const other = useStudio((s) => s.other)
  const before = useStudio((s) => s.before)
  const wipe = useStudio((s) => s.wipe)
  const zoom = useStudio((s) => s.zoom)
  const surround = useStudio((s) => s.surround)
  const shot = useStudio(shotOf)
  const side = useStudio((s) => s.otherSide)
  const box = useRef<HTMLDivElement>(null)
  const canvas = useRef<HTMLCanvasElement>(null)
  const view = useStudio((s) => s.view)
  const frame = useStudio((s) => s.frame)
  const adds = useStudio((s) => s.desk?.kinds.find((k) => `${k.station}.${k.id}` === s.adds)?.label)

  useEffect(() => {
    const element = box.current!
    const watch = new ResizeObserver(() => {
      const dpr = window.devicePixelRatio
      studio.setView(Math.round((element.clientWidth - 2 * MARGIN) * dpr), Math.round((element.clientHeight - 2 * MARGIN) * dpr))
    })
    watch.observe(element)
    return () => watch.disconnect()
  }, [])

  // the size on screen never depends on whether a draft or the exact picture is there
  let width = 0
  let height = 0
  if (shot && view.width > 0) {
    const dpr = window.devicePixelRatio
    const k = zoom === 'full' ? 1 : Math.min(1, view.width / shot.width, view.height / shot.height)
    width = Math.min(Math.round(shot.width * k), view.width) / dpr
    height = Math.min(Math.round(shot.height * k), view.height) / dpr
  }

  useEffect(() => {
    const c = canvas.current
    if (!c) return
    if (!picture) {
      c.width = 1
      return
    }
    const shown = before && other ? other : picture
    c.width = shown.image.width
    c.height = shown.image.height
    const ink = c.getContext('2d')!
    ink.putImageData(shown.image, 0, 0)
    if (wipe !== null && !before && other) {
      // the other side, at its own size, up to the line
      const scratch = new OffscreenCanvas(other.image.width, other.image.height)
      scratch.getContext('2d')!.putImageData(other.image, 0, 0)
      ink.imageSmoothingEnabled = other.image.width !== c.width
      ink.drawImage(scratch, 0, 0, other.image.width * wipe, other.image.height, 0, 0, c.width * wipe, c.height)
    }
  }, [picture, other, before, wipe])

  function drag(event: PointerEvent<HTMLDivElement>) {
    if (zoom !== 'full' || !shot || event.button !== 0) return
    const start = { x: event.clientX, y: event.clientY, pan: studio.get().pan }
    const target = event.currentTarget
    target.setPointerCapture(event.pointerId)
    const dpr = window.devicePixelRatio
    const move = (e: globalThis.PointerEvent) => {
      const fx = (shot.width - view.width) / dpr
      const fy = (shot.height - view.height) / dpr
      studio.setPan(fx > 0 ? start.pan.x - (e.clientX - start.x) / fx : 0.5, fy > 0 ? start.pan.y - (e.clientY - start.y) / fy : 0.5, true)
    }
    const up = () => {
      target.removeEventListener('pointermove', move)
      target.removeEventListener('pointerup', up)
    }
    target.addEventListener('pointermove', move)
    target.addEventListener('pointerup', up)
  }

  function dragWipe(event: PointerEvent<HTMLDivElement>) {
    event.stopPropagation()
    const frame = canvas.current!.getBoundingClientRect()
    const target = event.currentTarget
    target.setPointerCapture(event.pointerId)
    const move = (e: globalThis.PointerEvent) => studio.moveWipe((e.clientX - frame.left) / frame.width)
    const up = () => {
      target.removeEventListener('pointermove', move)
      target.removeEventListener('pointerup', up)
    }
    target.addEventListener('pointermove', move)
    target.addEventListener('pointerup', up)
  }

  const sideName = side === 'film' ? 'without film' : 'as it entered'
  return (
    <main ref={box} aria-label="Picture" className="relative flex h-full items-center justify-center overflow-hidden" style={{ background: surrounds[surround] }}>
      <div className="relative" style={{ width, height, cursor: zoom === 'full' ? 'grab' : 'default' }} onPointerDown={drag} onDoubleClick={(e) => toggleZoom(e.nativeEvent, canvas.current!)}>
        <canvas ref={canvas} data-testid="picture" data-stage={picture?.reply.stage} data-seq={picture?.reply.seq} className="h-full w-full" style={{ imageRendering: picture?.reply.stage === 'exact' ? 'pixelated' : 'auto' }} />
        {wipe !== null && !before && (
          <div
            role="slider"
            tabIndex={0}
            aria-label="Wipe"
            aria-valuenow={Math.round(wipe * 100)}
            className="absolute -bottom-1 -top-1 w-4 -translate-x-1/2 cursor-ew-resize"
            style={{ left: `${100 * wipe}%` }}
            onPointerDown={dragWipe}
            onKeyDown={(e) => {
              if (e.key === 'ArrowLeft') studio.moveWipe(wipe - 0.02)
              if (e.key === 'ArrowRight') studio.moveWipe(wipe + 0.02)
            }}
          >
            <div className="mx-auto h-full w-px bg-white mix-blend-difference" />
            <span className="absolute bottom-3 right-3 whitespace-nowrap rounded-sm bg-black/60 px-1.5 text-xs text-white">{sideName}</span>
          </div>
        )}
        {adds && !before && <span className="absolute bottom-2 left-2 rounded-sm bg-black/60 px-1.5 text-xs text-white">what {adds} adds, four times over, on mid grey</span>}
        {before && <span className="absolute bottom-2 left-2 rounded-sm bg-black/60 px-1.5 text-xs text-white">{sideName}</span>}
        {shot && !shot.encoding && (
          <button type="button" className="absolute left-2 top-2 rounded-sm bg-black/70 px-2 py-1 text-amber" onClick={() => studio.setDeclaring(true)}>
            Undeclared: shown as if it were BT.709 video. Press to say how the camera recorded it.
          </button>
        )}
        {shot && inGap(shot, frame) && (
          <div className="absolute inset-0 flex items-center justify-center bg-card text-amber" data-testid="gap">
            Frame {shot.first + frame} is missing from the sequence.
          </div>
        )}
      </div>
      {!shot && <p className="absolute text-dim">Add a shot to begin.</p>}
    </main>
  )
}

function toggleZoom(event: MouseEvent, canvas: HTMLCanvasElement) {
  const { zoom } = studio.get()
  if (zoom === 'full') return studio.setZoom('fit')
  const r = canvas.getBoundingClientRect()
  studio.setZoom('full', { x: (event.clientX - r.left) / r.width, y: (event.clientY - r.top) / r.height })
}
