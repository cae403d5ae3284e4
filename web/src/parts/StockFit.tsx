import { useState, type PointerEvent } from 'react'
import type { ChartPlace, Fitted } from '../api/types.gen'
import { Button } from '../controls/Button'
import { Choice } from '../controls/Choice'
import { FilePick } from '../controls/FilePick'
import { NameField, TextField } from '../controls/TextField'
import { Canvas } from '../controls/Canvas'
import { Tip } from '../controls/Tip'
import { fit, keepFit, makeFit, setFit, somewhere } from '../state/fit'
import { offered } from '../api/choices'
import { useStudio } from '../state/studio'

/** A stock of one's own: from the densities of a step wedge, or from two shots of one chart. */
export function StockFit({ onDone }: { onDone: () => void }) {
  const f = fit.use((s) => s)
  const stocks = offered(useStudio((s) => s.desk?.kinds.find((k) => k.station === 'negative' && k.id === 'stock'))?.settings[0]?.choices)
  const ready = f.name.trim() !== '' && (f.kind === 'wedge' ? f.text !== '' : f.scene > 0 && f.scan > 0 && f.scene !== f.scan)
  return (
    <div className="grid grid-cols-[250px_minmax(0,1fr)] gap-4">
      <form
        className="grid content-start gap-1.5"
        onSubmit={(e) => {
          e.preventDefault()
          void makeFit()
        }}
      >
        <div role="radiogroup" aria-label="Measured by" className="flex gap-1">
          <Button role="radio" aria-checked={f.kind === 'wedge'} active={f.kind === 'wedge'} onClick={() => setFit({ kind: 'wedge' })}>
            Step wedge
          </Button>
          <Button role="radio" aria-checked={f.kind === 'pair'} active={f.kind === 'pair'} onClick={() => setFit({ kind: 'pair' })}>
            Chart, twice
          </Button>
        </div>
        <Row label="Name" help="What the stock will be called wherever stocks are chosen.">
          <TextField label="Name of the stock" maxLength={60} value={f.name} onChange={(name) => setFit({ name })} />
        </Row>
        <Row
          label="Start from"
          help="What the measurements do not tell is this stock's: dyes, grain, and, of a wedge, how it is sensitive to colours."
        >
          <Choice
            label="Start from"
            value={f.like}
            onChange={(like) => setFit({ like })}
            options={[{ id: '', label: 'one of the same sort' }, ...stocks.map((c) => ({ id: c.id, label: c.label }))]}
          />
        </Row>
        {f.kind === 'wedge' ? <Wedge /> : <Pair />}
        <div className="mt-1 flex gap-2">
          <Button type="submit" className="h-7" active={!f.made} disabled={!ready || f.busy}>
            {f.busy ? 'Fitting …' : 'Fit'}
          </Button>
          <Button className="h-7" onClick={onDone}>
            Back
          </Button>
        </div>
        {f.problem && (
          <p role="alert" className="m-0 text-amber" data-testid="fit-problem">
            {f.problem}
          </p>
        )}
      </form>
      <div className="min-w-0">
        {f.kind === 'pair' && <Charts />}
        {f.made ? <Result made={f.made} onDone={onDone} /> : f.kind === 'wedge' && <WedgeHelp />}
      </div>
    </div>
  )
}

function Row({ label, help, children }: { label: string; help: string; children: React.ReactNode }) {
  return (
    <div className="grid grid-cols-[76px_minmax(0,1fr)] items-center gap-1">
      <Tip help={help} side="left">
        <span className="text-soft">{label}</span>
      </Tip>
      {children}
    </div>
  )
}

function Wedge() {
  const f = fit.use((s) => s)
  return (
    <>
      <Row label="Densities" help="A table of text: log exposure (or stops), red, green, blue, a line for each step.">
        <FilePick
          accept=".csv,.txt,.tsv"
          testid="load-wedge"
          onFiles={([file]) =>
            void file!.text().then((text) => setFit({ file: file!.name, text, name: fit.get().name || file!.name.replace(/\.[^.]*$/, '') }))
          }
        >
          <span className="truncate">{f.file || 'choose a .csv'}</span>
        </FilePick>
      </Row>
      <Row
        label="Mid grey"
        help="The log exposure in the table at which mid grey lies. Left empty, it is placed 1.4 above where density begins."
      >
        <TextField
          label="Log exposure of mid grey"
          inputMode="decimal"
          placeholder="by its speed"
          value={f.grey}
          onChange={(grey) => setFit({ grey })}
        />
      </Row>
    </>
  )
}

function WedgeHelp() {
  return (
    <div className="text-soft">
      <p className="mt-0">The table begins with the names of its columns; then comes a line for each step, in any order:</p>
      <pre className="rounded-sm bg-room p-2 text-xs text-soft">
        {'log exposure, red, green, blue\n-3.10, 0.19, 0.61, 0.88\n-2.95, 0.20, 0.62, 0.90\n…'}
      </pre>
      <p>
        Densities as a densitometer reads them, base and fog included. Eight steps over three stops are enough to begin with; twenty-one
        over seven are better. For black and white one column, density, will do.
      </p>
    </div>
  )
}

function Pair() {
  const f = fit.use((s) => s)
  const shots = useStudio((s) => s.reels).flatMap((r) => r.shots)
  const options = [{ id: '0', label: 'choose a shot' }, ...shots.map((s) => ({ id: String(s.id), label: s.name }))]
  const place = f.places?.[0]
  const size = (columns: number, rows: number) =>
    setFit({ places: [0, 1].map((i) => ({ ...(f.places?.[i] ?? somewhere()), columns, rows })) as [ChartPlace, ChartPlace] })
  return (
    <>
      <Row label="The scene" help="The chart as a digital camera or a renderer has it, declared as what it is.">
        <Choice
          label="Shot of the scene"
          value={String(f.scene)}
          options={options}
          onChange={(v) => setFit({ scene: Number(v), places: null })}
        />
      </Row>
      <Row label="The film" help="The same chart on the film, scanned: as printing-density log, or as the light that came through.">
        <Choice
          label="Shot of the film"
          value={String(f.scan)}
          options={options}
          onChange={(v) => setFit({ scan: Number(v), places: null })}
        />
      </Row>
      <Row
        label="Patches"
        help="Columns and rows of the chart. Left to itself, the chart is found; place its corner patches by hand where it is not."
      >
        <span className="flex items-center gap-1 text-dim">
          {place ? (
            <>
              <Count label="Columns" value={place.columns} onChange={(v) => size(v, place.rows)} /> by{' '}
              <Count label="Rows" value={place.rows} onChange={(v) => size(place.columns, v)} />
              <button type="button" className="px-1 text-soft hover:text-text" onClick={() => setFit({ places: null })}>
                find
              </button>
            </>
          ) : (
            <>
              are found
              <button
                type="button"
                className="px-1 text-soft hover:text-text"
                onClick={() => setFit({ places: [somewhere(), somewhere()] })}
              >
                place by hand
              </button>
            </>
          )}
        </span>
      </Row>
    </>
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

/** The two pictures of the chart, with the middles of its corner patches to be moved by hand. */
function Charts() {
  const f = fit.use((s) => s)
  return (
    <div className="mb-3 grid grid-cols-2 gap-2">
      <Chart which={0} title="The scene" shown={f.scene > 0} />
      <Chart which={1} title="The film" shown={f.scan > 0} />
    </div>
  )
}

const corners = ['top left', 'top right', 'bottom right', 'bottom left']

function Chart({ which, title, shown }: { which: 0 | 1; title: string; shown: boolean }) {
  const picture = fit.use((s) => s.pictures[which === 0 ? 'scene' : 'scan'])
  const places = fit.use((s) => s.places)
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
    setFit({ places: next })
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

/** What a fit came to: how well it reads what was measured, and what it cannot know. */
function Result({ made, onDone }: { made: Fitted; onDone: () => void }) {
  const r = made.report!
  const keptOut = r.patches?.filter((p) => p.keptOut) ?? []
  return (
    <div data-testid="fit-result">
      <h3 className="m-0 mb-1 font-semibold">{made.label}</h3>
      <p className="m-0 text-soft">
        Density {r.rms.toFixed(3)} off on the whole, {r.worst.toFixed(3)} at most. Started from {r.like}.
        {r.steps && ` Mid grey at log exposure ${r.grey.toFixed(2).replace('-', '−')}.`}
      </p>
      {r.steps && <WedgePlot made={made} />}
      {r.patches && (
        <>
          <p className="m-0 text-soft">
            On a print {(r.mean ?? 0).toFixed(2)} ΔE over {r.patches.length - keptOut.length} patches fitted,{' '}
            {(r.meanKeptOut ?? 0).toFixed(2)} over {keptOut.length} kept out.
          </p>
          <ul className="mb-1 mt-1.5 flex flex-wrap gap-px" aria-label="Difference of each patch">
            {r.patches.map((p, i) => (
              <li
                key={i}
                title={`patch ${i + 1}${p.keptOut ? ', kept out' : ''}: ΔE ${p.error.toFixed(2)}`}
                className={`h-5 w-7 text-center text-xs leading-5 ${p.keptOut ? 'outline outline-1 -outline-offset-1 outline-plum' : ''} ${p.error > 3 ? 'text-amber' : 'text-soft'} bg-card`}
              >
                {p.error.toFixed(1)}
              </li>
            ))}
          </ul>
        </>
      )}
      <ul className="mb-3 mt-1.5 list-none p-0 text-xs text-dim">
        {r.limits.map((l) => (
          <li key={l} className="mb-0.5">
            {l}
          </li>
        ))}
      </ul>
      <div className="flex gap-2">
        <Button active className="h-7" onClick={() => void keepFit(true).then((done) => done && onDone())}>
          Keep and use
        </Button>
        <Button className="h-7" onClick={() => void keepFit(false).then((done) => done && onDone())}>
          Keep
        </Button>
      </div>
    </div>
  )
}

const marks = ['#c8524a', '#57a05c', '#5580d0']

/** Readings as rings, the card as lines. */
function WedgePlot({ made }: { made: Fitted }) {
  const steps = made.report!.steps!
  const from = steps[0]!.logE
  const to = steps[steps.length - 1]!.logE
  const most = Math.max(...steps.flatMap((s) => s.measured)) * 1.05
  const x = (v: number) => 30 + ((v - from) / (to - from)) * 370
  const y = (v: number) => 190 - (Math.max(v, 0) / most) * 180
  return (
    <svg
      viewBox="0 0 410 210"
      className="my-2 w-full rounded-sm bg-room"
      role="img"
      aria-label={`Curves of ${made.label}: densities by log exposure`}
    >
      {[0, 1, 2, 3, 4]
        .filter((d) => d <= most)
        .map((d) => (
          <g key={d}>
            <line x1={30} x2={400} y1={y(d)} y2={y(d)} stroke="#333" />
            <text x={24} y={y(d) + 3} textAnchor="end" fontSize={9} fill="#8a8a8a">
              {d}
            </text>
          </g>
        ))}
      {[from, made.report!.grey, to].map((v, i) => (
        <text key={i} x={x(v)} y={204} textAnchor={i === 0 ? 'start' : i === 2 ? 'end' : 'middle'} fontSize={9} fill="#8a8a8a">
          {i === 1 ? 'grey' : v.toFixed(1).replace('-', '−')}
        </text>
      ))}
      <line x1={x(made.report!.grey)} x2={x(made.report!.grey)} y1={10} y2={190} stroke="#444" />
      {marks.map((colour, c) => (
        <g key={colour}>
          {steps.map((s) => (
            <circle key={s.logE} cx={x(s.logE)} cy={y(s.measured[c]!)} r={2} fill="none" stroke={colour} opacity={0.7} />
          ))}
          <polyline fill="none" stroke={colour} points={steps.map((s) => `${x(s.logE)},${y(s.fitted[c]!)}`).join(' ')} />
        </g>
      ))}
    </svg>
  )
}
