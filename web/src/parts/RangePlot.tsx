import { useRef } from 'react'
import type { Range } from '../api/types.gen'
import { newGesture } from '../api/gesture'
import { share } from '../model/range'
import { change, numberOf, pathOf, restore, settingOf, type EditorProps } from './editors/editor'
import { follow, FROM, inside, Plot, placeOf, stopsAt, TO } from './editors/Plot'

const HEIGHT = 56

/** A part of the tone scale over the tones of the frame: what it takes is drawn as a line, and its ends can be dragged. */
export function RangePlot(p: EditorProps & { range: Range }) {
  const svg = useRef<SVGSVGElement>(null)
  const { low, high, knee } = p.range
  const lowest = settingOf(p.kind, low)
  const highest = high ? settingOf(p.kind, high) : undefined
  const range = {
    // at its end a limit is none
    low: numberOf(p, low) === lowest.default ? -Infinity : numberOf(p, low),
    high: high && highest && numberOf(p, high) !== highest.default ? numberOf(p, high) : Infinity,
    knee: numberOf(p, knee),
  }
  const points = Array.from({ length: 97 }, (_, i) => FROM + ((TO - FROM) * i) / 96)
  const line = points.map((t) => `${placeOf(t).toFixed(1)},${(HEIGHT - 3 - share(range, t) * (HEIGHT - 8)).toFixed(1)}`).join(' L')
  const place = (v: number) => placeOf(Math.max(FROM + 0.1, Math.min(TO - 0.1, v)))
  const feet = [
    { id: low, at: place(range.low), setting: lowest },
    ...(high && highest ? [{ id: high, at: place(range.high), setting: highest }] : []),
  ]
  function drag(e: React.PointerEvent<SVGElement>, foot: (typeof feet)[number]) {
    const gesture = newGesture()
    const { min, max, default: none } = foot.setting
    follow(e, (now, rest) => {
      const t = stopsAt(inside(svg.current!, now, HEIGHT).x)
      // beyond the plot there is no limit
      const v = foot.id === low ? (t < FROM + 0.3 ? none : t) : t > TO - 0.3 ? none : t
      change(p, { [foot.id]: Math.max(min, Math.min(max, Number(v.toFixed(2)))) }, gesture, !rest)
    })
  }
  return (
    <Plot path={pathOf(p)} height={HEIGHT + 8} label="What feeds it, over the tones of the frame" svg={svg}>
      <path d={`M${line}`} fill="none" stroke="#c9c9c9" />
      {feet.map((f) => (
        <g
          key={f.id}
          className="cursor-ew-resize"
          onPointerDown={(e) => drag(e, f)}
          onDoubleClick={() => restore(p, [f.id], newGesture())}
          data-foot={f.id}
        >
          <rect x={f.at - 7} y={0} width={14} height={HEIGHT + 8} fill="transparent" />
          <path d={f.id === low ? `M${f.at - 4},${HEIGHT} h8 l-4,7 z` : `M${f.at - 4},${HEIGHT + 7} h8 l-4,-7 z`} fill="#8e8e8e" />
        </g>
      ))}
    </Plot>
  )
}
