import { useRef } from 'react'
import { Cell } from '../../controls/Cell'
import { Dial } from '../../controls/Dial'
import { nudgeOf } from '../../model/number'
import { newGesture } from '../../api/gesture'
import { Tip } from '../../controls/Tip'
import { judge } from '../../state/judge'
import { setShow } from '../../state/judging'
import { change, dialOf, numberOf, pathOf, restore, settingOf, type EditorProps } from './editor'
import { follow, FROM, inside, Plot, placeOf, stopsAt, TO } from './Plot'
import { zoneWeights } from '../../model/zones'

const zones = ['black', 'shadow', 'mid', 'light', 'white']
const HEIGHT = 64

/** Five zones over the frame's own tones: borders to draw, a level and a tint for each. */
export function Zones(p: EditorProps) {
  const path = pathOf(p)
  const svg = useRef<SVGSVGElement>(null)
  const shown = judge.use((s) => s.show === 'zones' && s.step === path)
  const borders = [1, 2, 3, 4].map((i) => numberOf(p, `border-${i}`))
  const softness = numberOf(p, 'softness')
  const lines = zones.map((_, z) =>
    Array.from({ length: 74 }, (_, i) => {
      const t = FROM + ((TO - FROM) * i) / 73
      return `${placeOf(t).toFixed(1)},${(HEIGHT - 4 - 52 * zoneWeights(t, borders, softness)[z]!).toFixed(1)}`
    }).join(' '),
  )
  function draw(e: React.PointerEvent<SVGElement>, i: number) {
    const gesture = newGesture()
    follow(e, (now, rest) => {
      const lo = i > 0 ? borders[i - 1]! + 0.2 : -10
      const hi = i < 3 ? borders[i + 1]! - 0.2 : 8
      const t = Math.max(lo, Math.min(hi, stopsAt(inside(svg.current!, now, HEIGHT).x)))
      change(p, { [`border-${i + 1}`]: Math.round(t * 20) / 20 }, gesture, !rest)
    })
  }
  return (
    <>
      <Plot path={path} height={HEIGHT} label="Zones over the tones of the frame" svg={svg}>
        {lines.map((points, z) => (
          <polyline key={z} points={points} fill="none" stroke="#8e8e8e" strokeWidth={1} />
        ))}
        {borders.map((b, i) => (
          <g
            key={i}
            role="slider"
            tabIndex={0}
            aria-label={settingOf(p.kind, `border-${i + 1}`).label}
            aria-valuenow={b}
            aria-valuetext={`${b} stops`}
            className="cursor-ew-resize"
            onPointerDown={(e) => draw(e, i)}
            onDoubleClick={() => restore(p, [`border-${i + 1}`], newGesture())}
            onKeyDown={(e) => {
              const by = nudgeOf(e, 0.05)
              if (e.key === 'Backspace') restore(p, [`border-${i + 1}`], newGesture())
              if (!by) return
              e.preventDefault()
              change(p, { [`border-${i + 1}`]: Math.max(-10, Math.min(8, Number((b + by).toFixed(3)))) }, newGesture())
            }}
          >
            <rect x={placeOf(b) - 5} y={0} width={10} height={HEIGHT} fill="transparent" />
            <line x1={placeOf(b)} x2={placeOf(b)} y1={0} y2={HEIGHT} stroke="#e6e6e6" strokeDasharray="2 2" />
          </g>
        ))}
      </Plot>
      <div className="mt-1 grid grid-cols-5 gap-1.5">
        {zones.map((z) => (
          <div key={z} className="text-center" role="group" aria-label={settingOf(p.kind, `${z}-level`).group}>
            <div className="mb-0.5 text-xs text-soft">{settingOf(p.kind, `${z}-level`).group}</div>
            <Cell {...dialOf(p, `${z}-level`)} />
            <Pad p={p} zone={z} />
          </div>
        ))}
      </div>
      <Dial {...dialOf(p, 'softness')} />
      <Tip help="The picture in five greys: where each zone lies. Escape returns." side="left">
        <button
          type="button"
          aria-pressed={shown}
          className={`justify-self-start rounded-sm text-xs ${shown ? 'text-plum' : 'text-dim hover:text-text'}`}
          onClick={() => setShow('zones', path)}
        >
          show the zones on the picture
        </button>
      </Tip>
    </>
  )
}

/** The tint pad: warm to the right, cool to the left, green up, magenta down. */
function Pad({ p, zone }: { p: EditorProps; zone: string }) {
  const warm = numberOf(p, `${zone}-warm`)
  const green = numberOf(p, `${zone}-green`)
  const box = useRef<SVGSVGElement>(null)
  const both = [`${zone}-warm`, `${zone}-green`]
  const hold = (v: number) => Math.max(-1, Math.min(1, Math.round(v * 200) / 200))
  const set = (w: number, g: number, gesture: string, hurry: boolean) =>
    change(p, { [both[0]!]: hold(w), [both[1]!]: hold(g) }, gesture, hurry)
  // the middle has most of the room: a cube root would be too steep, a square is right for the hand
  const out = (v: number) => 25 + 22 * Math.sign(v) * Math.sqrt(Math.abs(v))
  const back = (v: number) => Math.sign(v) * v * v
  function press(e: React.PointerEvent<SVGElement>) {
    const gesture = newGesture()
    follow(e, (now, rest) => {
      const r = box.current!.getBoundingClientRect()
      const at = (v: number) => Math.max(-1, Math.min(1, v))
      set(
        back(at((((now.clientX - r.left) / r.width) * 50 - 25) / 22)),
        back(at((25 - ((now.clientY - r.top) / r.height) * 50) / 22)),
        gesture,
        !rest,
      )
    })
  }
  return (
    <Tip
      help={`The tint of ${zone}: right warm, left cool, up green, down magenta. Now warm ${warm.toFixed(2)}, green ${green.toFixed(2)} stops. Arrows move it, double-click brings it back.`}
      side="left"
    >
      <svg
        ref={box}
        viewBox="0 0 50 50"
        className="mt-1 block aspect-square w-full cursor-crosshair touch-none rounded-sm border border-line bg-room"
        role="slider"
        tabIndex={0}
        aria-label={`Tint of ${zone}`}
        aria-valuenow={warm}
        aria-valuetext={`warm ${warm}, green ${green} stops`}
        onPointerDown={press}
        onDoubleClick={() => restore(p, both, newGesture())}
        onKeyDown={(e) => {
          if (e.key === 'Backspace') return restore(p, both, newGesture())
          const by = Math.abs(nudgeOf(e, 0.02))
          if (!by) return
          e.preventDefault()
          set(
            warm + (e.key === 'ArrowRight' ? by : e.key === 'ArrowLeft' ? -by : 0),
            green + (e.key === 'ArrowUp' ? by : e.key === 'ArrowDown' ? -by : 0),
            newGesture(),
            false,
          )
        }}
      >
        <path d="M25 3V47M3 25H47" stroke="#303030" />
        <rect x={out(warm) - 2.5} y={50 - out(green) - 2.5} width="5" height="5" fill={warm || green ? '#e6e6e6' : '#8e8e8e'} />
      </svg>
    </Tip>
  )
}

export default Zones
