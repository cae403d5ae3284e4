import { drag } from '../controls/drag'
import { useEffect, useRef, type ReactNode, type PointerEvent, type WheelEvent } from 'react'
import type { Picture } from '../api/window'
import { setDeclaring } from '../state/footage'
import { judge, type Judge } from '../state/judge'
import { player } from '../state/player'
import { probe, setBox } from '../state/docking'
import { scopes } from '../state/scopes'
import { inGap } from '../state/shots'
import { GAP, shotOf, studio, useStudio } from '../state/studio'
import { zoomBy, zoomTo } from '../state/zoom'
import { Captions } from './Captions'
import { GrainBoxes } from './GrainBoxes'
import { Handles } from './Handles'
import { Legend } from './Legend'
import { Navigator } from './Navigator'
import { PickPoint } from './PickPoint'
import { ReadOut } from './ReadOut'
import { WipeLine } from './WipeLine'

const surrounds = ['#000000', '#171717', '#757575', '#ffffff']
const MARGIN = 12

/** The picture on its neutral surround, with the other side over it or beside it while compared. */
export function PictureView() {
  const shot = useStudio(shotOf)
  const zoom = useStudio((s) => s.zoom)
  const surround = useStudio((s) => s.surround)
  const alone = useStudio((s) => s.alone)
  const view = useStudio((s) => s.view)
  const frame = useStudio((s) => s.frame)
  const picture = useStudio((s) => s.picture)
  const other = judge.use((s) => s.other)
  const before = judge.use((s) => s.before)
  const layout = judge.use((s) => s.layout)
  const box = useRef<HTMLDivElement>(null)
  const margin = alone ? 0 : MARGIN

  useEffect(() => {
    const element = box.current!
    const measure = () => {
      const dpr = window.devicePixelRatio
      studio.setView(Math.round((element.clientWidth - 2 * margin) * dpr), Math.round((element.clientHeight - 2 * margin) * dpr))
    }
    const watch = new ResizeObserver(measure)
    watch.observe(element)
    measure()
    return () => watch.disconnect()
  }, [margin])

  // the size on screen never depends on whether a draft or the exact picture is there
  const dpr = window.devicePixelRatio
  const beside = layout === 'beside'
  const room = beside ? { width: Math.floor((view.width - GAP) / 2), height: view.height } : view
  let width = 0
  let height = 0
  if (shot && room.width > 0) {
    if (zoom === 'fit') {
      const k = Math.min(1, room.width / shot.width, room.height / shot.height)
      width = Math.round(shot.width * k) / dpr
      height = Math.round(shot.height * k) / dpr
    } else {
      width = (Math.min(Math.ceil(room.width / zoom), shot.width) * zoom) / dpr
      height = (Math.min(Math.ceil(room.height / zoom), shot.height) * zoom) / dpr
    }
  }
  const main = before && other ? other : picture
  return (
    <main
      ref={box}
      aria-label="Picture"
      className="relative flex h-full items-center justify-center overflow-hidden"
      style={{ background: surrounds[surround], gap: GAP / dpr }}
    >
      {beside && (
        <OtherHand width={width} height={height}>
          <Screen picture={other} label="other" />
          <BoxFrame other />
          <Captions side="other" />
        </OtherHand>
      )}
      <Hand width={width} height={height}>
        <Screen picture={main} over={layout === 'wipe' && !before ? other : null} label="picture" held={before && other !== null} />
        {layout === 'wipe' && !before && <WipeLine />}
        <BoxFrame />
        <Handles width={width} height={height} />
        <GrainBoxes width={width} />
        <Captions side="own" />
        <PickPoint />
        {shot && !shot.encoding && (
          <button
            type="button"
            className="absolute left-2 top-2 rounded-sm bg-black/70 px-2 py-1 text-amber"
            onClick={() => setDeclaring(true)}
          >
            Undeclared: shown as if it were BT.709 video. Press to say how the camera recorded it.
          </button>
        )}
        {shot && inGap(shot, frame) && (
          <div className="absolute inset-0 flex items-center justify-center bg-card text-amber" data-testid="gap">
            Frame {shot.first + frame} is missing from the sequence.
          </div>
        )}
      </Hand>
      <Legend />
      <Navigator />
      <ReadOut />
      {!shot && <p className="absolute text-dim">Add a shot to begin.</p>}
    </main>
  )
}

/** A canvas with a picture, and perhaps another over it up to the wipe's line. The open shot's takes what is played, unless the other side is held. */
function Screen({
  picture,
  over = null,
  label,
  held = false,
}: {
  picture: Picture | null
  over?: Picture | null
  label: 'picture' | 'other'
  held?: boolean
}) {
  const canvas = useRef<HTMLCanvasElement>(null)
  const played = useRef<Picture | null>(null)
  const shown = useRef<Picture | null>(null)
  const wipe = judge.use((s) => s.wipe)
  const playing = player.use((s) => s.playing)
  const share = player.use((s) => s.share)
  const stage = playing && !held ? (share < 1 ? 'draft' : 'exact') : picture?.reply.stage

  useEffect(() => {
    const c = canvas.current!
    // what was played last stays until the picture at rest is there
    if (!playing && picture !== shown.current) played.current = null
    shown.current = picture
    const now = !held && played.current ? played.current : picture
    if (!now) {
      c.width = 1
      c.height = 1
      return
    }
    put(c, now)
    if (over) putOver(c, over, wipe)
  }, [picture, over, wipe, playing, held])

  useEffect(() => {
    if (label !== 'picture') return
    const c = canvas.current!
    player.paint = (p) => {
      played.current = p
      Object.assign(c.dataset, { presented: player.presented, exact: player.exact, late: player.late, share: p.reply.share })
      if (held) return
      put(c, p)
      if (over) putOver(c, over, wipe)
    }
    return () => {
      player.paint = null
    }
  }, [label, over, wipe, held])

  return (
    <canvas
      ref={canvas}
      data-testid={label}
      data-stage={stage}
      data-seq={picture?.reply.seq}
      className="h-full w-full"
      style={{ imageRendering: stage === 'draft' ? 'auto' : 'pixelated' }}
    />
  )
}

function put(c: HTMLCanvasElement, p: Picture) {
  if (c.width !== p.image.width || c.height !== p.image.height) {
    c.width = p.image.width
    c.height = p.image.height
  }
  c.getContext('2d')!.putImageData(p.image, 0, 0)
}

/** Draws a picture over what is there, on the far side of the wipe's line. */
function putOver(c: HTMLCanvasElement, over: Picture, wipe: Judge['wipe']) {
  const ink = c.getContext('2d')!
  const scratch = new OffscreenCanvas(over.image.width, over.image.height)
  scratch.getContext('2d')!.putImageData(over.image, 0, 0)
  ink.save()
  // the line stands upright at 0°
  ink.translate(wipe.x * c.width, wipe.y * c.height)
  ink.rotate((wipe.turn * Math.PI) / 180)
  const far = 2 * (c.width + c.height)
  ink.beginPath()
  ink.rect(-far, -far, far, 2 * far)
  ink.clip()
  ink.setTransform(1, 0, 0, 1, 0, 0)
  ink.imageSmoothingEnabled = over.image.width !== c.width
  ink.drawImage(scratch, 0, 0, c.width, c.height)
  ink.restore()
}

/** Draws a box from where a press was; share tells where in the picture a point of the page is. */
function drawBox(share: (e: { clientX: number; clientY: number }) => { x: number; y: number }, press: PointerEvent, other = false) {
  const from = share(press)
  return (e: { clientX: number; clientY: number }, rest: boolean) => {
    const to = share(e)
    const b = { x0: Math.min(from.x, to.x), y0: Math.min(from.y, to.y), x1: Math.max(from.x, to.x), y1: Math.max(from.y, to.y) }
    if (b.x1 - b.x0 > 0.005 && b.y1 - b.y0 > 0.005) {
      if (rest) setBox(b, other)
      else scopes.set(other ? { otherBox: b } : { box: b })
    } else if (rest) setBox(null, other)
  }
}

/** Where in an element a point of the page is, in shares. */
function shareOf(box: HTMLElement, e: { clientX: number; clientY: number }) {
  const r = box.getBoundingClientRect()
  const hold = (v: number) => Math.max(0, Math.min(1, v))
  return { x: hold((e.clientX - r.left) / r.width), y: hold((e.clientY - r.top) / r.height) }
}

/** What a hand does on the other side, beside the picture: draw a box of its own, with Shift. */
function OtherHand({ width, height, children }: { width: number; height: number; children: ReactNode }) {
  const box = useRef<HTMLDivElement>(null)
  return (
    <div
      ref={box}
      className="relative shrink-0 overflow-hidden"
      style={{ width, height }}
      onPointerDown={(e) => {
        if (e.button === 0 && e.shiftKey)
          drag(
            e,
            drawBox((at) => shareOf(box.current!, at), e, true),
          )
      }}
    >
      {children}
    </div>
  )
}

/** What a hand does on the picture: pan, zoom, read a pixel, draw a box. */
function Hand({ width, height, children }: { width: number; height: number; children: ReactNode }) {
  const zoom = useStudio((s) => s.zoom)
  const box = useRef<HTMLDivElement>(null)
  const turned = useRef(0)

  const share = (e: { clientX: number; clientY: number }) => shareOf(box.current!, e)

  function down(event: PointerEvent<HTMLDivElement>) {
    if (event.button !== 0) return
    if (event.shiftKey) return drag(event, drawBox(share, event))
    const shot = studio.shot
    if (zoom === 'fit' || !shot) return
    const start = { x: event.clientX, y: event.clientY, pan: studio.get().pan }
    const dpr = window.devicePixelRatio
    drag(event, (e, rest) => {
      const seen = studio.seen()!
      const fx = ((shot.width - seen.cropWidth!) * zoom) / dpr
      const fy = ((shot.height - seen.cropHeight!) * zoom) / dpr
      studio.setPan(fx > 0 ? start.pan.x - (e.clientX - start.x) / fx : 0.5, fy > 0 ? start.pan.y - (e.clientY - start.y) / fy : 0.5, !rest)
    })
  }

  function wheel(e: WheelEvent) {
    turned.current += e.deltaY
    if (Math.abs(turned.current) < 40) return
    zoomBy(turned.current < 0 ? 1 : -1, share(e))
    turned.current = 0
  }

  return (
    <div
      ref={box}
      className="relative shrink-0 overflow-hidden"
      style={{ width, height, cursor: zoom === 'fit' ? 'crosshair' : 'grab' }}
      onPointerDown={down}
      onPointerMove={(e) => probe(share(e))}
      onPointerLeave={() => probe(null)}
      onWheel={wheel}
      onDoubleClick={(e) => (zoom === 'fit' ? zoomTo(1, share(e)) : studio.setZoom('fit'))}
    >
      {children}
    </div>
  )
}

/** The box that the scopes are restricted to. */
function BoxFrame({ other = false }: { other?: boolean }) {
  const box = scopes.use((s) => (other ? (s.otherBox ?? s.box) : s.box))
  if (!box) return null
  const percent = (v: number) => `${100 * v}%`
  return (
    <div
      className="pointer-events-none absolute border border-white mix-blend-difference"
      style={{ left: percent(box.x0), top: percent(box.y0), width: percent(box.x1 - box.x0), height: percent(box.y1 - box.y0) }}
      data-testid={other ? 'other-box' : 'box'}
    />
  )
}
