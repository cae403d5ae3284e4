import { useRef, type KeyboardEvent, type PointerEvent } from 'react'
import type { Setting } from '../api/types.gen'
import { nudgeOf } from '../model/number'
import { drag } from '../controls/drag'
import { newGesture } from '../api/gesture'
import { desk, matteOf, split } from '../state/desk'
import { judge } from '../state/judge'
import { stepNamed, valueOf } from '../model/look'
import { partAt, stepAt } from '../model/parts'
import { change } from './editors/editor'
import { setPart } from '../state/mattes'
import { player } from '../state/player'
import { shotOf, studio, useStudio } from '../state/studio'
import { nearestSide, outline, ownAxes, type Place } from '../model/outline'
import { readPoints, writePoints } from '../model/spline'

type Values = Record<string, number | string>
type Set = (values: Values, gesture: string, hurry: boolean) => void

/** The handles of the active step's shape. */
export function Handles({ width, height }: { width: number; height: number }) {
  const look = useStudio((s) => s.look)
  const shot = useStudio(shotOf)
  const info = useStudio((s) => s.desk)
  const station = useStudio((s) => s.station)
  const frame = useStudio((s) => s.frame)
  const active = desk.use((s) => s.activeStep)
  const index = desk.use((s) => s.part)
  const picking = desk.use((s) => s.picking)
  const before = judge.use((s) => s.before)
  const playing = player.use((s) => s.playing)
  useStudio((s) => s.zoom)
  useStudio((s) => s.pan)
  const svg = useRef<SVGSVGElement>(null)
  if (!look || !shot || !info || !active || !active.startsWith(`${station}.`) || picking || before || playing || width < 8) return null

  const seen = studio.seen()
  const box = seen?.cropWidth
    ? { x: seen.x!, y: seen.y!, w: seen.cropWidth, h: seen.cropHeight! }
    : { x: 0, y: 0, w: shot.width, h: shot.height }
  const unit = box.w / width // shot pixels for one of the screen
  let shape: { kind: string; values: Values; settings: Setting[]; set: Set } | null = null
  const [st, name] = split(active)
  const kind = info.kinds.find((k) => k.station === st && k.id === (stepNamed(look, st, name)?.kind ?? name))
  const own = matteOf(look, active)
  const part = own?.matte.parts[index]
  if (part) {
    const k = info.mattes.find((m) => m.id === part.kind)!
    if (k.shape)
      shape = {
        kind: k.id,
        values: partAt(part, k.settings, frame),
        settings: k.settings,
        set: (v, g, h) => setPart(own.name, index, k.settings, v, g, h),
      }
  } else if (kind && (kind.editor === 'vignette' || kind.editor === 'place') && stepNamed(look, st, name)?.on) {
    const own = stepNamed(look, st, name)
    const step = stepAt(own, kind, frame)
    shape = {
      kind: kind.editor,
      values: Object.fromEntries(kind.settings.map((s) => [s.id, valueOf(step, s)])),
      settings: kind.settings,
      set: (v, g, h) => change({ kind, name, step: own, dim: false }, v, g, h),
    }
    // a lamp that is not lit has no place
    if (kind.settings.some((s) => s.id === 'lamp') && !shape.values['lamp']) shape = null
  }
  if (!shape) return null
  const common = { unit, w: shot.width, h: shot.height, set: shape.set, values: shape.values, settings: shape.settings, svg }
  return (
    <svg
      ref={svg}
      className="pointer-events-none absolute inset-0 overflow-visible"
      width={width}
      height={height}
      viewBox={`${box.x} ${box.y} ${box.w} ${box.h}`}
      preserveAspectRatio="none"
      role="group"
      aria-label="Handles of the shape"
      data-testid="handles"
      data-shape={shape.kind}
    >
      {shape.kind === 'polygon' ? <Outline {...common} /> : <Figure kind={shape.kind} {...common} />}
    </svg>
  )
}

interface ShapeProps {
  unit: number
  w: number
  h: number
  values: Values
  settings: Setting[]
  set: Set
  svg: React.RefObject<SVGSVGElement | null>
}

/** The place of the pointer in pixels of the shot. */
function placeIn(svg: SVGSVGElement, e: { clientX: number; clientY: number }) {
  const r = svg.getBoundingClientRect()
  const v = svg.viewBox.baseVal
  return { x: v.x + ((e.clientX - r.left) / r.width) * v.width, y: v.y + ((e.clientY - r.top) / r.height) * v.height }
}

/** A shape about a centre, with half axes, a turn and a feather. */
function Figure({ kind, unit, w, h, values, settings, set, svg }: ShapeProps & { kind: string }) {
  const n = (id: string) => values[id] as number
  const cx = (n('x') / 100) * w
  const cy = (n('y') / 100) * h
  const turn = kind === 'place' ? 0 : n('angle')
  const hold = (id: string, v: number) => {
    const s = settings.find((x) => x.id === id)!
    return Math.max(s.min, Math.min(s.max, Number(v.toFixed(3))))
  }
  /** From pixels to the shape's own axes. */
  const own = (p: Place) => ownAxes({ x: cx, y: cy }, turn, p)
  const move = (p: Place) => ({ x: hold('x', (p.x / w) * 100), y: hold('y', (p.y / h) * 100) })
  const turned = (p: Place, from: number) => {
    const a = (Math.atan2(p.y - cy, p.x - cx) * 180) / Math.PI - from
    return { angle: hold('angle', ((((a + 180) % 360) + 360) % 360) - 180) }
  }
  const handle = (label: string, x: number, y: number, to: (p: Place) => Values, round = false) => (
    <Handle
      key={label}
      label={label}
      x={x}
      y={y}
      unit={unit}
      svg={svg}
      turn={turn}
      origin={{ x: cx, y: cy }}
      round={round}
      onMove={(p, g, hurry) => set(to(p), g, hurry)}
    />
  )
  const line = {
    fill: 'none',
    stroke: '#ffffff',
    strokeWidth: unit,
    vectorEffect: undefined,
    style: { mixBlendMode: 'difference' as const },
  }

  if (kind === 'place') {
    const rings = ['size', 'radius'].filter((id) => settings.some((s) => s.id === id && s.unit === '% width'))
    const ring = rings[0]
    const r = ring ? (n(ring) / 100) * w : 0
    const beside = Math.max(0, 18 * unit - r) // a small ring has its handle where it can be taken
    return (
      <>
        {ring && <circle cx={cx} cy={cy} r={r} {...line} strokeDasharray={`${4 * unit} ${4 * unit}`} />}
        {ring &&
          handle('Size', cx + r + beside, cy, (p) => ({ [ring]: hold(ring, (100 * (Math.hypot(p.x - cx, p.y - cy) - beside)) / w) }))}
        {handle('Centre', cx, cy, move)}
      </>
    )
  }
  if (kind === 'gradient') {
    const half = (n('length') / 200) * w
    const far = 2 * w
    return (
      <>
        <g transform={`rotate(${turn} ${cx} ${cy})`}>
          {[-half, 0, half].map((d) => (
            <line
              key={d}
              x1={cx - far}
              x2={cx + far}
              y1={cy + d}
              y2={cy + d}
              {...line}
              strokeDasharray={d ? `${4 * unit} ${4 * unit}` : undefined}
            />
          ))}
          <line x1={cx} x2={cx} y1={cy - half} y2={cy + half} {...line} />
          {handle('Fade', cx, cy + half, (p) => ({ length: hold('length', (Math.abs(own(p).y) / w) * 200) }))}
          {handle('Turn', cx + 70 * unit, cy, (p) => turned(p, 0), true)}
        </g>
        {handle('Centre', cx, cy, move)}
      </>
    )
  }
  if (kind === 'vignette') {
    const corner = Math.hypot(w / 2, h / 2) / Math.SQRT2
    const round = n('round') / 100
    const rx = (w / 2) * Math.pow(corner / (w / 2), round) * Math.SQRT2
    const ry = (h / 2) * Math.pow(corner / (h / 2), round) * Math.SQRT2
    const size = n('size') / 100
    const half = n('feather') / 200
    return (
      <>
        <g transform={`rotate(${turn} ${cx} ${cy})`}>
          {[size, Math.max(0, size - half)].map((k, i) => (
            <ellipse
              key={i}
              cx={cx}
              cy={cy}
              rx={rx * k}
              ry={ry * k}
              {...line}
              strokeDasharray={i ? `${4 * unit} ${4 * unit}` : undefined}
            />
          ))}
          {handle('Size', cx + rx * size, cy, (p) => ({ size: hold('size', (100 * own(p).x) / rx) }))}
        </g>
        {handle('Centre', cx, cy, move)}
      </>
    )
  }
  const a = (n('a') / 100) * w
  const b = (n('b') / 100) * w
  const out = (n('out') / 100) * w
  const inward = (n('in') / 100) * w
  const ring = (by: number, dashed: boolean) =>
    kind === 'ellipse' ? (
      <ellipse
        cx={cx}
        cy={cy}
        rx={Math.max(a + by, 0)}
        ry={Math.max(b + by, 0)}
        {...line}
        strokeDasharray={dashed ? `${4 * unit} ${4 * unit}` : undefined}
      />
    ) : (
      <rect
        x={cx - Math.max(a + by, 0)}
        y={cy - Math.max(b + by, 0)}
        width={2 * Math.max(a + by, 0)}
        height={2 * Math.max(b + by, 0)}
        {...line}
        strokeDasharray={dashed ? `${4 * unit} ${4 * unit}` : undefined}
      />
    )
  return (
    <>
      <g transform={`rotate(${turn} ${cx} ${cy})`}>
        {ring(0, false)}
        {out > 0 && ring(out, true)}
        {inward > 0 && ring(-inward, true)}
        {handle('Width', cx + a, cy, (p) => ({ a: hold('a', (Math.abs(own(p).x) / w) * 100) }))}
        {handle('Height', cx, cy + b, (p) => ({ b: hold('b', (Math.abs(own(p).y) / w) * 100) }))}
        {handle('Feather out', cx - a - out, cy, (p) => ({ out: hold('out', Math.max(0, (-own(p).x - a) / w) * 100) }), true)}
        {handle('Feather in', cx, cy - b + inward, (p) => ({ in: hold('in', Math.max(0, (own(p).y + b) / w) * 100) }), true)}
        {handle('Turn', cx + a + 26 * unit, cy, (p) => turned(p, 0), true)}
      </g>
      {handle('Centre', cx, cy, move)}
    </>
  )
}

/** A drawn shape: its points, and its sides, on which a double-click adds one. */
function Outline({ unit, w, h, values, set, svg }: ShapeProps) {
  const points = readPoints(String(values['points']))
  const curved = values['sides'] === 'curved'
  const px = points.map(([x, y]) => ({ x: x * w, y: y * h }))
  const d = `M${outline(px, curved)
    .map((q) => `${q.x.toFixed(2)},${q.y.toFixed(2)}`)
    .join(' L')} Z`
  const write = (list: Place[], g: string, hurry: boolean) =>
    set({ points: writePoints(list.map((p) => [Math.max(-1, Math.min(2, p.x / w)), Math.max(-1, Math.min(2, p.y / h))])) }, g, hurry)
  function add(e: { clientX: number; clientY: number }) {
    const at = placeIn(svg.current!, e)
    const after = nearestSide(px, at) + 1
    write([...px.slice(0, after), at, ...px.slice(after)], newGesture(), false)
  }
  const middle = { x: px.reduce((s, p) => s + p.x, 0) / px.length, y: px.reduce((s, p) => s + p.y, 0) / px.length }
  return (
    <>
      <path
        d={d}
        fill="transparent"
        stroke="transparent"
        strokeWidth={10 * unit}
        className="pointer-events-[stroke] cursor-copy"
        style={{ pointerEvents: 'stroke' }}
        onDoubleClick={(e) => {
          e.stopPropagation()
          add(e)
        }}
      />
      <path d={d} fill="none" stroke="#ffffff" strokeWidth={unit} className="pointer-events-none" style={{ mixBlendMode: 'difference' }} />
      {px.map((p, i) => (
        <Handle
          key={i}
          label={`Point ${i + 1}`}
          x={p.x}
          y={p.y}
          unit={unit}
          svg={svg}
          onMove={(q, g, hurry) =>
            write(
              px.map((r, k) => (k === i ? q : r)),
              g,
              hurry,
            )
          }
          onAdd={() => write([...px.slice(0, i + 1), half(p, px[(i + 1) % px.length]!), ...px.slice(i + 1)], newGesture(), false)}
          onRemove={
            px.length > 3
              ? () =>
                  write(
                    px.filter((_, k) => k !== i),
                    newGesture(),
                    false,
                  )
              : undefined
          }
        />
      ))}
      <Handle
        label="Centre"
        x={middle.x}
        y={middle.y}
        unit={unit}
        svg={svg}
        round
        onMove={(q, g, hurry) =>
          write(
            px.map((p) => ({ x: p.x + q.x - middle.x, y: p.y + q.y - middle.y })),
            g,
            hurry,
          )
        }
      />
    </>
  )
}

const half = (p: Place, q: Place) => ({ x: (p.x + q.x) / 2, y: (p.y + q.y) / 2 })

/** One handle: dragged, or moved by arrows. It counts in pixels of the shot, turned with its shape. */
function Handle({
  label,
  x,
  y,
  unit,
  svg,
  turn = 0,
  origin,
  round,
  onMove,
  onRemove,
  onAdd,
}: {
  onAdd?: () => void
  label: string
  x: number
  y: number
  unit: number
  svg: React.RefObject<SVGSVGElement | null>
  turn?: number
  origin?: Place
  round?: boolean
  onMove: (p: Place, gesture: string, hurry: boolean) => void
  onRemove?: () => void
}) {
  function press(e: PointerEvent<SVGElement>) {
    e.stopPropagation()
    e.preventDefault()
    e.currentTarget.focus()
    const gesture = newGesture()
    drag(e, (now, rest) => onMove(placeIn(svg.current!, now), gesture, !rest))
  }
  function key(e: KeyboardEvent) {
    if ((e.key === 'Delete' || e.key === 'Backspace') && onRemove) return onRemove()
    if ((e.key === '+' || e.key === 'Insert') && onAdd) {
      e.stopPropagation()
      return onAdd()
    }
    const by = Math.abs(nudgeOf(e, 2 * unit))
    if (!by) return
    e.preventDefault()
    e.stopPropagation()
    const dx = e.key === 'ArrowRight' ? by : e.key === 'ArrowLeft' ? -by : 0
    const dy = e.key === 'ArrowDown' ? by : e.key === 'ArrowUp' ? -by : 0
    // where the handle really stands
    const a = label === 'Centre' || !origin ? 0 : (turn * Math.PI) / 180
    const o = origin ?? { x, y }
    const at = { x: o.x + (x - o.x) * Math.cos(a) - (y - o.y) * Math.sin(a), y: o.y + (x - o.x) * Math.sin(a) + (y - o.y) * Math.cos(a) }
    onMove({ x: at.x + dx, y: at.y + dy }, newGesture(), false)
  }
  const r = 4 * unit
  const looks = { fill: '#ffffff', stroke: '#000000', strokeWidth: unit }
  return (
    <g
      role="slider"
      tabIndex={0}
      aria-label={label}
      aria-valuenow={Math.round(x)}
      aria-valuetext={`${Math.round(x)}, ${Math.round(y)}`}
      className="pointer-events-auto cursor-move"
      onPointerDown={press}
      onKeyDown={key}
      onDoubleClick={(e) => {
        e.stopPropagation()
        onRemove?.()
      }}
    >
      <title>{label}</title>
      <rect x={x - 2.4 * r} y={y - 2.4 * r} width={4.8 * r} height={4.8 * r} fill="transparent" />
      {round ? <circle cx={x} cy={y} r={r * 0.9} {...looks} /> : <rect x={x - r} y={y - r} width={2 * r} height={2 * r} {...looks} />}
    </g>
  )
}
