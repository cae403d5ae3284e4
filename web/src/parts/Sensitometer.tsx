import { useEffect, useState, type PointerEvent } from 'react'
import type { FilmReading, PlotArea, Sensitometer as Film } from '../api/types.gen'
import { Button } from '../controls/Button'
import { Canvas } from '../controls/Canvas'
import { FullScreenDialog } from '../controls/FullScreenDialog'
import { Menu } from '../controls/Menu'
import { offered } from '../api/choices'
import { openSensitometer, queryOf, readSoon, sensitometer, setSensitometer } from '../state/sensitometer'
import { useStudio } from '../state/studio'

/** The drawing's own size, in its units. */
const WIDTH = 960
const HEIGHT = 640

/** Curves, figures and spectra of the film of the open shot, with its own light beneath. */
export function Sensitometer() {
  const { open, other, point, reading, problem } = sensitometer.use((s) => s)
  const look = useStudio((s) => s.look)
  const shot = useStudio((s) => s.shotId)
  const kind = useStudio((s) => s.desk?.kinds.find((k) => k.station === 'negative' && k.id === 'stock'))
  useEffect(() => {
    if (open) readSoon()
  }, [open, look, shot])
  const choices = offered(kind?.settings[0]?.choices)
  const groups = [
    { title: '', items: [{ id: '', label: 'nothing' }] },
    ...[...new Set(choices.map((c) => c.group ?? ''))].map((g) => ({
      title: g,
      items: choices.filter((c) => (c.group ?? '') === g).map((c) => ({ id: c.id, label: c.label })),
    })),
  ]
  const source = (kind: string, more = {}) => `/api/v1/shots/${shot}/film.${kind}?${queryOf(more)}`
  return (
    <FullScreenDialog
      title="Sensitometer"
      about="What the film of this shot does to light. The grey at the foot of the curves is the light of this frame."
      open={open}
      onOpen={openSensitometer}
      trigger={
        <Button aria-label="Sensitometer" title="Sensitometer: curves, figures and spectra of the film" className="px-1">
          <svg viewBox="0 0 16 14" width="16" height="14" fill="none" stroke="currentColor" aria-hidden>
            <path d="M1.5 1v11.5H15M3 10.5c5 0 5-7.5 11-7.5" />
          </svg>
        </Button>
      }
      head={
        <>
          <span className="text-dim">compared with</span>
          <Menu label="Compare with a stock" value={other} groups={groups} onChange={(id) => setSensitometer({ other: id })}>
            <span className="max-w-44 truncate">{choices.find((c) => c.id === other)?.label ?? 'nothing'}</span>
          </Menu>
          <span className="grow" />
          <a className="rounded-sm border border-line px-2.5 leading-[22px] text-soft hover:text-text" href={source('svg', { save: '1' })}>
            Save drawing
          </a>
          <a className="rounded-sm border border-line px-2.5 leading-[22px] text-soft hover:text-text" href={source('csv', { save: '1' })}>
            Save table
          </a>
        </>
      }
    >
      {problem && <p className="m-0 text-amber">{problem}</p>}
      {reading && (
        <div className="flex min-h-0 grow gap-4">
          <Drawing reading={reading} source={source('svg', { dark: '1', v: String(stamp(look)) })} />
          <div className="flex w-[250px] shrink-0 flex-col gap-3 overflow-y-auto">
            <Figures film={reading.film!} rows={reading.figures} />
            {reading.other && <Figures film={reading.other} rows={reading.others!} broken />}
            <Point point={point} reading={reading} />
          </div>
        </div>
      )}
    </FullScreenDialog>
  )
}

/** A number that changes whenever a look does, so that its drawing is fetched anew. */
const stamps = new WeakMap<object, number>()
let next = 0
function stamp(look: object | null) {
  if (!look) return 0
  if (!stamps.has(look)) stamps.set(look, ++next)
  return stamps.get(look)!
}

/** The drawing, and under the pointer what its curves say there. */
function Drawing({ reading, source }: { reading: FilmReading; source: string }) {
  const [at, setAt] = useState<{ plot: PlotArea; x: number } | null>(null)
  function move(e: PointerEvent<HTMLDivElement>) {
    const r = e.currentTarget.getBoundingClientRect()
    const x = ((e.clientX - r.left) / r.width) * WIDTH
    const y = ((e.clientY - r.top) / r.height) * HEIGHT
    const plot = reading.plots.find((p) => x >= p.x && x <= p.x + p.w && y >= p.y && y <= p.y + p.h)
    setAt(plot ? { plot, x: plot.from + ((x - plot.x) / plot.w) * (plot.to - plot.from) } : null)
  }
  return (
    <div className="min-h-0 min-w-0 grow">
      <div
        className="relative mx-auto max-h-full"
        style={{ aspectRatio: `${WIDTH} / ${HEIGHT}` }}
        onPointerMove={move}
        onPointerLeave={() => setAt(null)}
      >
        <img src={source} alt={`Curves of ${reading.film!.stock}`} className="block h-full w-full" data-testid="curves" />
        {at && (
          <>
            <div
              className="pointer-events-none absolute w-px bg-soft/60"
              style={{
                left: `${((at.plot.x + ((at.x - at.plot.from) / (at.plot.to - at.plot.from)) * at.plot.w) / WIDTH) * 100}%`,
                top: `${(at.plot.y / HEIGHT) * 100}%`,
                height: `${(at.plot.h / HEIGHT) * 100}%`,
              }}
            />
            <output
              className="pointer-events-none absolute rounded-sm bg-raise px-1.5 text-xs text-text"
              style={{ left: `${((at.plot.x + 6) / WIDTH) * 100}%`, top: `${((at.plot.y + at.plot.h - 24) / HEIGHT) * 100}%` }}
              data-testid="curve-reading"
            >
              {told(reading.film!, at.plot, at.x)}
            </output>
          </>
        )}
      </div>
    </div>
  )
}

/** What the curves of a plot say at a place. */
function told(film: Film, plot: PlotArea, x: number): string {
  if (plot.unit === 'nm') {
    const i = Math.max(0, Math.min(film.wavelengths.length - 1, Math.round((x - film.wavelengths[0]!) / 5)))
    const three = plot.id === 'sensitivity' ? film.sensitivities : plot.id === 'dyes' ? film.dyes : null
    const values = three ? three.map((c) => c[i]!.toFixed(2)).join('  ') : film.pixel?.light ? film.pixel.light[i]!.toFixed(3) : '–'
    return `${film.wavelengths[i]} nm   ${values}`
  }
  const step = film.steps.reduce((a, b) => (Math.abs(b.stops - x) < Math.abs(a.stops - x) ? b : a))
  const values = plot.id === 'film' ? step.read : step.code
  return `${step.stops > 0 ? '+' : ''}${step.stops.toFixed(2).replace('-', '−')} stops   ${values.map((v) => v.toFixed(2)).join('  ')}${plot.id === 'path' && step.print !== undefined ? `   print ${step.print.toFixed(2)}` : ''}`
}

function Figures({ film, rows, broken }: { film: Film; rows: [string, string][]; broken?: boolean }) {
  return (
    <table className="w-full border-collapse" data-testid="figures">
      <caption className="pb-1 text-left font-semibold text-text">
        {film.stock}
        {broken ? (
          <span className="font-normal text-dim"> broken lines</span>
        ) : (
          film.medium && <span className="font-normal text-soft"> on {film.medium}</span>
        )}
      </caption>
      <tbody>
        {rows.map(([name, value]) => (
          <tr key={name} className="border-t border-line">
            <th scope="row" className="py-0.5 text-left font-normal text-soft">
              {name}
            </th>
            <td className="py-0.5 text-right tabular-nums">{value.replaceAll('-', '−')}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

/** The frame, in which a point is chosen whose colour is followed through the film. */
function Point({ point, reading }: { point: { x: number; y: number } | null; reading: FilmReading }) {
  const picture = sensitometer.use((s) => s.picture)
  const pixel = reading.film!.pixel
  return (
    <div>
      <div
        role="button"
        tabIndex={0}
        aria-label="Choose a point of the frame"
        className="relative cursor-crosshair bg-room"
        onPointerDown={(e) => {
          const r = e.currentTarget.getBoundingClientRect()
          setSensitometer({ point: { x: (e.clientX - r.left) / r.width, y: (e.clientY - r.top) / r.height } })
        }}
        onKeyDown={(e) => {
          const step = { ArrowLeft: [-0.02, 0], ArrowRight: [0.02, 0], ArrowUp: [0, -0.02], ArrowDown: [0, 0.02] }[e.key]
          if (!step && e.key !== 'Enter') return
          e.preventDefault()
          e.stopPropagation()
          const from = point ?? { x: 0.5, y: 0.5 }
          const clip = (v: number) => Math.max(0, Math.min(0.999, v))
          setSensitometer({ point: step ? { x: clip(from.x + step[0]!), y: clip(from.y + step[1]!) } : from })
        }}
      >
        <Canvas picture={picture} className="block w-full" data-testid="sensitometer-frame" />
        {point && (
          <span
            className="pointer-events-none absolute h-2.5 w-2.5 -translate-x-1/2 -translate-y-1/2 rounded-full border border-white outline outline-1 outline-black"
            style={{ left: `${point.x * 100}%`, top: `${point.y * 100}%` }}
          />
        )}
      </div>
      <p className="mb-0 mt-1 text-xs text-dim">
        {pixel
          ? `Light at ${pixel.stops.map((v) => (v > 0 ? '+' : '') + v.toFixed(1).replace('-', '−')).join(', ')} stops in the three layers; the film reads ${pixel.read.map((v) => v.toFixed(2)).join(', ')}; shown as ${pixel.code.map((v) => v.toFixed(3)).join(', ')}.`
          : 'Press a point: its colour is followed through film and print.'}
      </p>
    </div>
  )
}
