import { useRef } from 'react'
import type { ToneGains } from '../api/types.gen'
import { newGesture } from '../api/gesture'
import { nudgeOf } from '../model/number'
import { gainAt } from '../model/gains'
import { change, numberOf, pathOf, restore, settingOf, type EditorProps } from './editors/editor'
import { follow, FROM, inside, Plot, placeOf, stopsAt, TO } from './editors/Plot'

const HEIGHT = 64

/** Gains by tone over the tones of the frame: a line whose shadows, middle and highlights can be dragged up and down, the middle along it too. */
export function GainPlot(p: EditorProps & { gains: ToneGains }) {
  const svg = useRef<SVGSVGElement>(null)
  const ids = p.gains
  const gains = {
    low: numberOf(p, ids.low),
    mids: numberOf(p, ids.mids),
    high: numberOf(p, ids.high),
    middle: numberOf(p, ids.middle),
    reach: numberOf(p, ids.reach),
  }
  const top = settingOf(p.kind, ids.mids).max
  const levelOf = (gain: number) => HEIGHT - 4 - Math.sqrt(gain / top) * (HEIGHT - 8)
  const gainOf = (y: number) => top * Math.max(0, Math.min(1, (HEIGHT - 4 - y) / (HEIGHT - 8))) ** 2
  const points = Array.from({ length: 97 }, (_, i) => FROM + ((TO - FROM) * i) / 96)
  const line = points.map((t) => `${placeOf(t).toFixed(1)},${levelOf(gainAt(gains, t)).toFixed(1)}`).join(' L')
  const within = (t: number) => Math.max(FROM + 0.2, Math.min(TO - 0.2, t))
  const handles = [
    { id: ids.low, at: within(gains.middle - gains.reach), gain: gains.low },
    { id: ids.mids, at: within(gains.middle), gain: gains.mids },
    { id: ids.high, at: within(gains.middle + gains.reach), gain: gains.high },
  ]
  function drag(e: React.PointerEvent<SVGElement>, id: string) {
    const gesture = newGesture()
    const { min, max } = settingOf(p.kind, ids.middle)
    follow(e, (now, rest) => {
      const to = inside(svg.current!, now, HEIGHT)
      const values: Record<string, number> = { [id]: Math.round(gainOf(to.y)) }
      if (id === ids.mids) values[ids.middle] = Math.round(Math.max(min, Math.min(max, stopsAt(to.x))) * 10) / 10
      change(p, values, gesture, !rest)
    })
  }
  return (
    <Plot path={pathOf(p)} height={HEIGHT} label="Gains over the tones of the frame" svg={svg}>
      <line x1={0} x2={placeOf(TO)} y1={levelOf(100)} y2={levelOf(100)} stroke="#4a4a4a" strokeDasharray="2 3" />
      <path d={`M${line}`} fill="none" stroke="#c9c9c9" />
      {handles.map((h) => (
        <g
          key={h.id}
          role="slider"
          tabIndex={0}
          aria-label={`${settingOf(p.kind, h.id).label} on the line`}
          aria-valuenow={h.gain}
          aria-valuetext={`${h.gain} %`}
          className="cursor-move"
          onKeyDown={(e) => {
            if (e.key === 'Backspace') restore(p, [h.id], newGesture())
            const by = nudgeOf(e, 1)
            if (!by) return
            e.preventDefault()
            change(p, { [h.id]: Math.max(0, Math.min(top, h.gain + by)) }, newGesture())
          }}
          onPointerDown={(e) => drag(e, h.id)}
          onDoubleClick={() => restore(p, h.id === ids.mids ? [h.id, ids.middle] : [h.id], newGesture())}
          data-gain={h.id}
        >
          <circle cx={placeOf(h.at)} cy={levelOf(h.gain)} r={9} fill="transparent" />
          <circle cx={placeOf(h.at)} cy={levelOf(h.gain)} r={3.5} fill="#e6e6e6" />
        </g>
      ))}
    </Plot>
  )
}
