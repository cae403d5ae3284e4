import { useRef } from 'react'
import { Dial } from '../../controls/Dial'
import { newGesture } from '../../api/gesture'
import { change, dialOf, numberOf, pathOf, restore, type EditorProps } from './editor'
import { follow, inside, Plot, placeOf, stopsAt } from './Plot'

const HEIGHT = 64
const GREY = 0.18
const WHITE = Math.log2(1 / GREY)

/** Black, mid and white as feet on the frame's own tones. */
export function Levels(p: EditorProps) {
  const svg = useRef<SVGSVGElement>(null)
  const black = numberOf(p, 'black') / 100
  const white = 2 ** numberOf(p, 'white')
  // where each foot stands: the tone that becomes black, mid grey or white, as the engine has it
  const power = 1 + (numberOf(p, 'mid') * Math.LN2) / Math.log(GREY)
  const middle = black + (white - black) * Math.pow(GREY, 1 / power)
  const toMid = (t: number) => {
    const u = Math.max(1e-4, Math.min(0.9999, (GREY * 2 ** t - black) / (white - black)))
    return ((Math.log(GREY) / Math.log(u) - 1) * Math.log(GREY)) / Math.LN2
  }
  const stops = (light: number) => Math.max(-8.8, Math.log2(Math.max(light, 1e-4) / GREY))
  const feet = [
    { id: 'black', at: stops(black), to: (t: number) => (t < -8.7 ? 0 : Math.min(20, 100 * GREY * 2 ** t)) },
    { id: 'mid', at: stops(middle), to: (t: number) => Math.max(-2, Math.min(2, toMid(t))) },
    { id: 'white', at: WHITE + numberOf(p, 'white'), to: (t: number) => Math.max(-4, Math.min(4, t - WHITE)) },
  ]
  function drag(e: React.PointerEvent<SVGElement>, foot: (typeof feet)[number]) {
    const gesture = newGesture()
    follow(e, (now, rest) =>
      change(p, { [foot.id]: Number(foot.to(stopsAt(inside(svg.current!, now, HEIGHT).x)).toFixed(2)) }, gesture, !rest),
    )
  }
  return (
    <>
      <Plot path={pathOf(p)} height={HEIGHT + 10} label="Levels over the tones of the frame" svg={svg}>
        {feet.map((f, i) => (
          <g
            key={f.id}
            className="cursor-ew-resize"
            onPointerDown={(e) => drag(e, f)}
            onDoubleClick={() => restore(p, [f.id], newGesture())}
            data-foot={f.id}
          >
            <line x1={placeOf(f.at)} x2={placeOf(f.at)} y1={0} y2={HEIGHT} stroke="#8e8e8e" />
            <rect x={placeOf(f.at) - 7} y={0} width={14} height={HEIGHT + 10} fill="transparent" />
            <rect x={placeOf(f.at) - 4} y={HEIGHT} width={8} height={8} fill={['#000000', '#808080', '#ffffff'][i]} stroke="#8e8e8e" />
          </g>
        ))}
      </Plot>
      <Dial {...dialOf(p, 'black')} />
      <Dial {...dialOf(p, 'mid')} />
      <Dial {...dialOf(p, 'white')} />
    </>
  )
}

export default Levels
