import { useRef, useState } from 'react'
import { nudgeOf } from '../../model/number'
import { newGesture } from '../../api/gesture'
import { Tip } from '../../controls/Tip'
import { desk } from '../../state/desk'
import { pick } from '../../state/steps'
import { change, channelMarks, pathOf, restore, settingOf, textOf, type EditorProps } from './editor'
import { Choice } from './Grid'
import { follow, FROM, inside, Plot, placeOf, stopsAt, TO } from './Plot'
import { monotone, readPoints, writePoints } from '../../model/spline'

const HEIGHT = 200
const rows = ['all', 'red', 'green', 'blue'] as const
type Row = (typeof rows)[number]

const down = (stops: number) => HEIGHT - ((stops - FROM) / (TO - FROM)) * HEIGHT
const up = (y: number) => FROM + ((HEIGHT - y) / HEIGHT) * (TO - FROM)

/** The tone curve over the frame's own tones: press to add a point, drag it, Delete takes it away. */
export function Curve(p: EditorProps) {
  const path = pathOf(p)
  const [row, setRow] = useState<Row>('all')
  const [codes, setCodes] = useState(false)
  const [dragged, setDragged] = useState(-1)
  const svg = useRef<SVGSVGElement>(null)
  const picking = desk.use((s) => s.picking?.path === path)
  const points = readPoints(textOf(p, row))
  const set = (next: [number, number][], gesture: string, hurry = false) => change(p, { [row]: writePoints(next) }, gesture, hurry)

  /** A point where it may stand: between its neighbours, and never under the one before. */
  function fit(list: [number, number][], i: number, x: number, y: number): [number, number] {
    const before = list[i - 1]
    const after = list[i + 1]
    x = Math.max(before ? before[0] + 0.05 : -12, Math.min(after ? after[0] - 0.05 : 10, x))
    y = Math.max(before ? before[1] : -12, Math.min(after ? after[1] : 10, y))
    return [x, y]
  }
  function add(x: number, y = monotone(points)(x)): { list: [number, number][]; i: number } {
    const near = points.findIndex((q) => Math.abs(q[0] - x) < 0.15)
    if (near >= 0) return { list: points, i: near }
    const i = points.filter((q) => q[0] < x).length
    const list: [number, number][] = [...points.slice(0, i), [x, y], ...points.slice(i)]
    list[i] = fit(list, i, x, y)
    return { list, i }
  }
  function drag(e: React.PointerEvent<SVGElement>, list: [number, number][], i: number) {
    const gesture = newGesture()
    setDragged(i)
    follow(e, (now, rest) => {
      const at = inside(svg.current!, now, HEIGHT)
      const next = [...list]
      next[i] = fit(list, i, stopsAt(at.x), up(at.y))
      set(next, gesture, !rest)
    })
  }
  function press(e: React.PointerEvent<SVGSVGElement>) {
    const at = inside(svg.current!, e, HEIGHT)
    const x = stopsAt(at.x)
    const there = monotone(points)(x)
    // away from the line a press draws it there; on the line it only adds
    const { list, i } = add(x, Math.abs(down(there) - at.y) < 10 ? there : up(at.y))
    set(list, newGesture(), true)
    drag(e, list, i)
  }
  const line = (id: Row) => {
    const f = monotone(readPoints(textOf(p, id)))
    return Array.from({ length: 98 }, (_, i) => FROM + ((TO - FROM) * i) / 97)
      .map((t) => `${placeOf(t).toFixed(1)},${down(f(t)).toFixed(1)}`)
      .join(' ')
  }
  const label = (t: number) => (codes ? `${Math.round(100 * Math.pow(0.18 * 2 ** t, 1 / 2.4))}` : `${t > 0 ? '+' : ''}${t}`)
  return (
    <>
      <Choice p={p} id="by" />
      <div className="flex items-center gap-1" role="tablist" aria-label="Channel">
        {rows.map((r) => (
          <button
            key={r}
            type="button"
            role="tab"
            aria-selected={row === r}
            className={`rounded-sm px-1 text-xs ${row === r ? 'text-plum' : textOf(p, r) ? 'text-text' : 'text-dim hover:text-text'}`}
            onClick={() => setRow(r)}
          >
            {settingOf(p.kind, r).label}
          </button>
        ))}
        <span className="grow" />
        <Tip help="Then press on the picture: a point is added to the curve at that tone." side="left">
          <button
            type="button"
            aria-pressed={picking}
            className={`whitespace-nowrap rounded-sm px-1 text-xs ${picking ? 'text-plum' : 'text-dim hover:text-text'}`}
            onClick={() => pick(path, 'a tone', (v) => set(add(v.stops).list, newGesture()))}
          >
            pick
          </button>
        </Tip>
        <Tip help="The scale: stops from mid grey, or codes of a display in per cent." side="left">
          <button type="button" className="rounded-sm px-1 text-xs text-dim hover:text-text" onClick={() => setCodes(!codes)}>
            {codes ? 'codes' : 'stops'}
          </button>
        </Tip>
        <button
          type="button"
          className="rounded-sm px-1 text-xs text-dim hover:text-text disabled:opacity-40"
          disabled={points.length === 0}
          onClick={() => restore(p, [row], newGesture())}
        >
          straight
        </button>
      </div>
      <Plot path={path} height={HEIGHT} label={`Tone curve, ${row}`} svg={svg} onPointerDown={press}>
        {[-6, -3, 0, 3, 6].map((t) => (
          <g key={t} className="pointer-events-none">
            <line x1={0} x2={400} y1={down(t)} y2={down(t)} stroke={t === 0 ? '#4a4a4a' : '#222222'} />
            <text x={placeOf(t) + 2} y={HEIGHT - 3} fontSize="9" fill="#8e8e8e">
              {label(t)}
            </text>
            <text x={2} y={down(t) - 2} fontSize="9" fill="#8e8e8e">
              {label(t)}
            </text>
          </g>
        ))}
        <line x1={placeOf(FROM)} y1={down(FROM)} x2={placeOf(TO)} y2={down(TO)} stroke="#303030" />
        {rows.map(
          (r) =>
            (r === row || textOf(p, r) !== '') && (
              <polyline
                key={r}
                points={line(r)}
                fill="none"
                stroke={channelMarks[settingOf(p.kind, r).label] ?? '#e6e6e6'}
                strokeWidth={r === row ? 1.6 : 0.8}
                opacity={r === row ? 1 : 0.6}
                className="pointer-events-none"
              />
            ),
        )}
        {points.map((q, i) => (
          <rect
            key={i}
            x={placeOf(q[0]) - 4}
            y={down(q[1]) - 4}
            width={8}
            height={8}
            fill={dragged === i ? '#c07aab' : '#e6e6e6'}
            stroke="#111111"
            className="cursor-move"
            role="slider"
            tabIndex={0}
            aria-label={`Point ${i + 1} of ${points.length}`}
            aria-valuenow={q[1]}
            aria-valuetext={`${q[0].toFixed(2)} stops become ${q[1].toFixed(2)}`}
            onFocus={() => setDragged(i)}
            onPointerDown={(e) => drag(e, points, i)}
            onDoubleClick={(e) => {
              e.stopPropagation()
              set(
                points.filter((_, k) => k !== i),
                newGesture(),
              )
            }}
            onKeyDown={(e) => {
              if (e.key === 'Delete' || e.key === 'Backspace')
                return set(
                  points.filter((_, k) => k !== i),
                  newGesture(),
                )
              const by = Math.abs(nudgeOf(e, 0.05))
              if (!by) return
              e.preventDefault()
              const next = [...points]
              next[i] = fit(
                points,
                i,
                q[0] + (e.key === 'ArrowRight' ? by : e.key === 'ArrowLeft' ? -by : 0),
                q[1] + (e.key === 'ArrowUp' ? by : e.key === 'ArrowDown' ? -by : 0),
              )
              set(next, newGesture())
            }}
          />
        ))}
      </Plot>
      <button type="button" className="sr-only focus:not-sr-only focus:text-xs" onClick={() => set(add(0).list, newGesture())}>
        Add a point at mid grey
      </button>
    </>
  )
}

export default Curve
