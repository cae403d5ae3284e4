import { useState, type PointerEvent } from 'react'
import { Canvas } from '../controls/Canvas'
import { NameField } from '../controls/TextField'
import { fit, setShot, somewhere, type Shot } from '../state/fit'

/** The two pictures of a chart, with the middles of its corner patches to be moved by hand. */
export function ChartPlaces({ at, shot }: { at: number; shot: Shot }) {
  const place = shot.places?.[0]
  const size = (columns: number, rows: number) =>
    setShot(at, { places: [0, 1].map((i) => ({ ...(shot.places?.[i] ?? somewhere()), columns, rows })) as Shot['places'] })
  return (
    <div className="mb-3">
      <div className="grid grid-cols-2 gap-2">
        <Chart at={at} shot={shot} which={0} title="The chart" />
        <Chart at={at} shot={shot} which={1} title="The chart on the film" />
      </div>
      <div className="mt-1 flex items-center gap-1 text-dim">
        {place ? (
          <>
            <Count label="Columns" value={place.columns} onChange={(v) => size(v, place.rows)} /> by{' '}
            <Count label="Rows" value={place.rows} onChange={(v) => size(place.columns, v)} /> patches
            <button type="button" className="px-1 text-soft hover:text-text" onClick={() => setShot(at, { places: null })}>
              find them
            </button>
          </>
        ) : (
          <>
            Its patches are found.
            <button type="button" className="px-1 text-soft hover:text-text" onClick={() => size(8, 6)}>
              place by hand
            </button>
          </>
        )}
      </div>
    </div>
  )
}

function Count({ label, value, onChange }: { label: string; value: number; onChange: (v: number) => void }) {
  return (
    <NameField
      label={label}
      value={String(value)}
      className="h-6 w-12 rounded-sm border border-line bg-room px-1 text-text"
      onName={(text) => onChange(Math.max(2, Math.min(40, Math.round(Number(text)) || 2)))}
    />
  )
}

const corners = ['top left', 'top right', 'bottom right', 'bottom left']

function Chart({ at, shot, which, title }: { at: number; shot: Shot; which: 0 | 1; title: string }) {
  const picture = fit.use((s) => s.pictures[which === 0 ? 'digital' : 'film'])
  const places = shot.places
  const shown = (which === 0 ? shot.digital : shot.film) > 0
  const [dragged, setDragged] = useState(-1)
  const place = places?.[which]
  function put(e: PointerEvent<HTMLElement>, i: number) {
    const r = e.currentTarget.closest('figure')!.querySelector('canvas')!.getBoundingClientRect()
    move(i, (e.clientX - r.left) / r.width, (e.clientY - r.top) / r.height)
  }
  function move(i: number, x: number, y: number) {
    if (!places || !place) return
    const clip = (v: number) => Math.max(0.002, Math.min(0.998, v))
    const next = structuredClone(places)
    next[which].corners[i] = [clip(x), clip(y)]
    setShot(at, { places: next })
  }
  return (
    <figure className="m-0">
      <div className="relative min-h-24 bg-room">
        {shown && <Canvas picture={picture} className="block w-full" />}
        {shown && place && (
          <svg className="pointer-events-none absolute inset-0 h-full w-full" viewBox="0 0 1 1" preserveAspectRatio="none" aria-hidden>
            <polygon
              points={place.corners.map((c) => c.join(',')).join(' ')}
              fill="none"
              stroke="white"
              strokeWidth="1"
              vectorEffect="non-scaling-stroke"
            />
          </svg>
        )}
        {shown &&
          place?.corners.map((c, i) => (
            <button
              key={i}
              type="button"
              aria-label={`${title}, ${corners[i]} patch`}
              className="absolute h-3 w-3 -translate-x-1/2 -translate-y-1/2 cursor-move touch-none border border-white bg-black/40"
              style={{ left: `${c[0] * 100}%`, top: `${c[1] * 100}%` }}
              onPointerDown={(e) => {
                e.currentTarget.setPointerCapture(e.pointerId)
                setDragged(i)
              }}
              onPointerMove={(e) => dragged === i && put(e, i)}
              onPointerUp={() => setDragged(-1)}
              onKeyDown={(e) => {
                const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key]
                if (!by) return
                e.preventDefault()
                e.stopPropagation()
                const step = e.shiftKey ? 0.02 : 0.002
                move(i, c[0] + by[0]! * step, c[1] + by[1]! * step)
              }}
            />
          ))}
      </div>
      <figcaption className="text-xs text-dim">{title}</figcaption>
    </figure>
  )
}
