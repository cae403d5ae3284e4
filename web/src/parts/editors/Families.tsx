import { useRef, useState } from 'react'
import { Cell } from '../../controls/Cell'
import { Dial } from '../../controls/Dial'
import { newGesture } from '../../api/gesture'
import { useStudio } from '../../state/studio'
import { change, dialOf, numberOf, restore, settingOf, type EditorProps } from './editor'
import { follow, inside, WIDTH } from './Plot'
import { apart, around, eased } from '../../model/hues'

const HEIGHT = 84
const columns = ['Shift', 'Saturation', 'Density', 'Centre'] as const
type Column = (typeof columns)[number]

/** Families of hue: one column of them drawn as a line around the circle, and all as numbers. */
export function Families(p: EditorProps) {
  const families = useStudio((s) => s.desk)!.families
  const [column, setColumn] = useState<Column>('Saturation')
  const svg = useRef<SVGSVGElement>(null)
  const id = (family: string, c: Column = column) => `${family}-${c.toLowerCase()}`
  const drawn = column === 'Centre' ? 'Shift' : column
  const range = settingOf(p.kind, id('red', drawn))
  const y = (v: number) => 6 + (1 - (v - range.min) / (range.max - range.min)) * (HEIGHT - 12)
  const centres = apart(families.map((f) => f.hue + numberOf(p, id(f.id, 'Centre'))))
  const centre = (i: number) => centres[i]!
  const values = around(
    centres,
    families.map((f) => numberOf(p, id(f.id, drawn))),
    numberOf(p, 'softness'),
  )
  const curve = drawn === 'Shift' ? eased(values) : values
  const x = (hue: number) => ((((hue % 360) + 360) % 360) / 360) * WIDTH
  const line = Array.from(
    { length: 121 },
    (_, i) => `${((i / 120) * WIDTH).toFixed(1)},${y(curve[(i * 6) % curve.length]!).toFixed(1)}`,
  ).join(' ')

  function drag(e: React.PointerEvent<SVGElement>, i: number) {
    const gesture = newGesture()
    const family = families[i]!
    follow(e, (now, rest) => {
      const at = inside(svg.current!, now, HEIGHT)
      const v = range.min + (1 - (at.y - 6) / (HEIGHT - 12)) * (range.max - range.min)
      const values: Record<string, number> = {
        [id(family.id, drawn)]: Math.max(range.min, Math.min(range.max, Number((Math.round(v / range.step!) * range.step!).toFixed(3)))),
      }
      if (now.altKey || column === 'Centre') {
        const off = (((at.x / WIDTH) * 360 - family.hue + 540) % 360) - 180
        values[id(family.id, 'Centre')] = Math.max(-20, Math.min(20, Math.round(off * 2) / 2))
      }
      change(p, values, gesture, !rest)
    })
  }
  return (
    <>
      <svg
        ref={svg}
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        width="100%"
        className="block touch-none rounded-sm bg-room"
        role="group"
        aria-label={`${drawn} over hue`}
      >
        {/* the hues themselves, as on the vectorscope */}
        {Array.from({ length: 73 }, (_, i) => (
          <rect key={i} x={(i / 73) * WIDTH} y={HEIGHT - 4} width={WIDTH / 73 + 0.5} height={4} fill={`oklch(0.62 0.11 ${i * 5})`} />
        ))}
        <line x1={0} x2={WIDTH} y1={y(range.default)} y2={y(range.default)} stroke="#3a3a3a" />
        <polyline points={line} fill="none" stroke="#e6e6e6" strokeWidth={1.4} />
        {families.map((f, i) => (
          <rect
            key={f.id}
            x={x(centre(i)) - 4}
            y={y(numberOf(p, id(f.id, drawn))) - 4}
            width={8}
            height={8}
            fill={`oklch(0.62 0.11 ${centre(i)})`}
            stroke="#e6e6e6"
            className="cursor-move"
            onPointerDown={(e) => drag(e, i)}
            onDoubleClick={() => restore(p, [id(f.id, drawn), id(f.id, 'Centre')], newGesture())}
          >
            <title>{`${f.label}: drag up and down; with Alt sideways for its centre`}</title>
          </rect>
        ))}
      </svg>
      <div
        className="grid items-center gap-x-1 gap-y-0.5"
        style={{ gridTemplateColumns: '62px repeat(4, minmax(0, 1fr))' }}
        role="group"
        aria-label="Families by number"
      >
        <span />
        {columns.map((c) => (
          <button
            key={c}
            type="button"
            aria-pressed={column === c}
            className={`text-center text-[10px] ${column === c ? 'text-plum' : 'text-dim hover:text-text'}`}
            onClick={() => setColumn(c)}
          >
            {c}
          </button>
        ))}
        {families.map((f, i) => (
          <div key={f.id} className="contents">
            <span className="flex items-center gap-1.5 text-soft">
              <span className="h-2 w-2 rounded-[1px]" style={{ background: `oklch(0.62 0.11 ${centre(i)})` }} />
              {f.label}
            </span>
            {columns.map((c) => (
              <Cell key={c} {...dialOf(p, id(f.id, c))} />
            ))}
          </div>
        ))}
      </div>
      <Dial {...dialOf(p, 'softness')} />
    </>
  )
}

export default Families
