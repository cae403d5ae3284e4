import { DropdownMenu } from 'radix-ui'
import { useEffect, useRef, type PointerEvent } from 'react'
import type { Axis, ScopeMark, ScopeView } from '../api/types.gen'
import { Tip } from '../controls/Tip'
import { judge } from '../state/judge'
import { setBox, setDock, setScopeSize, toggleScope } from '../state/docking'
import { allScopes, scopes, type Dock, type Place, type ScopeId, type Trace } from '../state/scopes'
import { useStudio } from '../state/studio'
import { drag } from '../controls/drag'
import { KeyTip } from './KeyTip'
import { useSides } from './sides'

const limits = { below: [96, 420], above: [96, 420], left: [180, 560], right: [180, 560] } as const

/** The scopes: they read the pixels of the picture. The dock lies on any side of it, and its inner edge is dragged. */
export function ScopeDock() {
  const dock = scopes.use((s) => s.dock)
  const flat = dock.place === 'below' || dock.place === 'above'

  function resize(event: PointerEvent<HTMLDivElement>) {
    const start = { x: event.clientX, y: event.clientY, size: dock.size }
    const sign = dock.place === 'below' || dock.place === 'right' ? -1 : 1
    const [least, most] = limits[dock.place]
    drag(event, (e) =>
      setDock({
        size: Math.round(Math.max(least, Math.min(most, start.size + sign * (flat ? e.clientY - start.y : e.clientX - start.x)))),
      }),
    )
  }

  const edge = {
    below: 'left-0 right-0 top-0 h-1 cursor-ns-resize',
    above: 'bottom-0 left-0 right-0 h-1 cursor-ns-resize',
    left: 'bottom-0 right-0 top-0 w-1 cursor-ew-resize',
    right: 'bottom-0 left-0 top-0 w-1 cursor-ew-resize',
  }[dock.place]
  const border = { below: 'border-t', above: 'border-b', left: 'border-r', right: 'border-l' }[dock.place]
  return (
    <section
      aria-label="Scopes"
      className={`relative flex shrink-0 flex-col ${border} border-line bg-room`}
      style={flat ? { height: dock.size } : { width: dock.size }}
      data-place={dock.place}
    >
      <DockBar dock={dock} />
      <div className={`flex min-h-0 min-w-0 grow gap-2 px-2 pb-2 ${flat ? '' : 'flex-col'}`}>
        {dock.scopes.map((id) => (
          <Scope key={id} id={id} dock={dock} flat={flat} />
        ))}
      </div>
      <div className={`absolute z-10 ${edge} hover:bg-plumdeep`} onPointerDown={resize} data-testid="dock-edge" />
    </section>
  )
}

const word = 'rounded-sm px-1 text-xs hover:text-text'

function DockBar({ dock }: { dock: Dock }) {
  const stations = useStudio((s) => s.desk?.stations) ?? []
  const { name } = useSides()
  const side = judge.use((s) => s.side)
  const box = scopes.use((s) => s.box)
  const tap = stations.find((s) => s.id === dock.tap)?.label ?? 'Finish'
  const display = dock.tap === 'finish' || dock.tap === 'screen'
  const narrow = (dock.place === 'left' || dock.place === 'right') && dock.size < 560
  return (
    <div className={`flex shrink-0 items-center gap-x-2 px-2 py-0.5 ${narrow ? 'flex-wrap' : 'h-6 overflow-hidden'}`}>
      {allScopes.map((s) => (
        <Tip key={s.id} help={s.help} side="top">
          <button
            type="button"
            aria-pressed={dock.scopes.includes(s.id)}
            className={`${word} ${dock.scopes.includes(s.id) ? 'text-text' : 'text-dim'}`}
            onClick={() => toggleScope(s.id)}
          >
            {s.label}
          </button>
        </Tip>
      ))}
      <span className="h-3 w-px shrink-0 bg-line" />
      <DropdownMenu.Root>
        <DropdownMenu.Trigger className={`${word} whitespace-nowrap text-soft`} aria-label="Tap">
          after {tap} ▾
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content sideOffset={3} collisionPadding={8} className="z-50 rounded-sm border border-line bg-raise py-1 shadow-lg">
            {stations.map((s) => (
              <DropdownMenu.Item
                key={s.id}
                className={`cursor-default px-3 py-1 outline-none data-[highlighted]:bg-plumdeep ${s.id === dock.tap ? 'text-plum' : ''}`}
                onSelect={() => setDock({ tap: s.id })}
              >
                {s.label}
              </DropdownMenu.Item>
            ))}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      {!display && (
        <span className="whitespace-nowrap text-xs text-dim">
          {dock.tap === 'negative' ? 'density' : dock.tap === 'print' ? 'cd/m²' : 'stops from mid grey'}
        </span>
      )}
      {display && (
        <Tip help="Code values of the display in per cent, or the light they make in cd/m²" side="top">
          <button type="button" className={`${word} whitespace-nowrap text-soft`} onClick={() => setDock({ nits: !dock.nits })}>
            {dock.nits ? 'cd/m²' : 'code %'}
          </button>
        </Tip>
      )}
      <Tip help={`Lays the traces of the other side, ${name(side)}, beneath, dimmed`} side="top">
        <button
          type="button"
          aria-pressed={dock.under}
          className={`${word} truncate ${dock.under ? 'text-plum' : 'text-dim'}`}
          onClick={() => setDock({ under: !dock.under })}
        >
          {dock.under ? `over ${name(side)}` : 'over the other side'}
        </button>
      </Tip>
      {box && (
        <button type="button" className={`${word} whitespace-nowrap text-plum`} onClick={() => setBox(null)}>
          box ✕
        </button>
      )}
      <span className="grow" />
      <span className="flex shrink-0 items-center gap-x-2">
        {(['left', 'below', 'above', 'right'] as Place[]).map((p) => (
          <Tip key={p} help={`The dock ${p === 'left' || p === 'right' ? `to the ${p} of` : p} the picture`} side="top">
            <button
              type="button"
              aria-label={`Dock ${p}`}
              aria-pressed={dock.place === p}
              className="shrink-0 p-1"
              onClick={() => setDock({ place: p, size: p === 'left' || p === 'right' ? 300 : 150 })}
            >
              <span className={`relative block h-[9px] w-[13px] border ${dock.place === p ? 'border-text' : 'border-dim'}`}>
                <span
                  className={`absolute ${dock.place === p ? 'bg-text' : 'bg-dim'} ${{ left: 'inset-y-0 left-0 w-[4px]', right: 'inset-y-0 right-0 w-[4px]', above: 'inset-x-0 top-0 h-[3px]', below: 'inset-x-0 bottom-0 h-[3px]' }[p]}`}
                />
              </span>
            </button>
          </Tip>
        ))}
        <KeyTip help="Hide the scopes" command="scopes" side="top">
          <button type="button" aria-label="Hide the scopes" className={`${word} text-dim`} onClick={() => setDock({ open: false })}>
            ✕
          </button>
        </KeyTip>
      </span>
    </div>
  )
}

const share: Record<ScopeId, number> = { waveform: 2, parade: 3, vector: 0, histogram: 1.4, chroma: 0 }

function Scope({ id, dock, flat }: { id: ScopeId; dock: Dock; flat: boolean }) {
  const trace = scopes.use((s) => s.traces[id])
  const under = scopes.use((s) => s.unders[id])
  const mark = scopes.use((s) => s.reading?.marks.find((m) => m.id === id))
  const area = useRef<HTMLDivElement>(null)
  const round = id === 'vector' || id === 'chroma'

  useEffect(() => {
    const element = area.current!
    const watch = new ResizeObserver(() => setScopeSize(id, Math.round(element.clientWidth), Math.round(element.clientHeight)))
    watch.observe(element)
    return () => watch.disconnect()
  }, [id])

  const size = round ? (flat ? 'h-full aspect-square shrink-0' : 'w-full min-h-0') : 'min-h-0 min-w-0'
  const view = trace?.reply.scope
  return (
    <figure
      aria-label={allScopes.find((s) => s.id === id)!.label}
      className={`relative m-0 ${size}`}
      style={round && flat ? undefined : { flexGrow: round ? 3 : share[id], flexBasis: 0 }}
      data-scope={id}
      data-stage={trace?.reply.stage}
    >
      <div
        ref={area}
        className={round ? 'absolute inset-0 m-auto aspect-square max-h-full max-w-full' : 'absolute bottom-0 left-7 right-0 top-0'}
        style={round && !flat ? { height: '100%' } : undefined}
      >
        {id === 'histogram' ? (
          <HistogramDrawing view={view} under={dock.under ? under?.reply.scope : undefined} log={dock.log} />
        ) : (
          <Drawing trace={trace} under={dock.under ? under : undefined} />
        )}
        {view?.empty && <p className="absolute inset-0 flex items-center justify-center p-3 text-center text-xs text-dim">{view.empty}</p>}
        {id === 'vector' && view && <VectorLines view={view} zoom={dock.zoom} />}
        {id === 'chroma' && view && <ChromaLines view={view} />}
        {mark && <Marked id={id} mark={mark} />}
      </div>
      {!round && view && (id === 'histogram' ? <AcrossMarks axis={view.axis} /> : <UpMarks axis={view.axis} />)}
      {id === 'vector' && (
        <button
          type="button"
          className="absolute right-0 top-0 rounded-sm bg-room/70 px-1 text-xs text-dim hover:text-text"
          aria-label="Enlarge the middle"
          onClick={() => setDock({ zoom: dock.zoom === 4 ? 1 : dock.zoom * 2 })}
        >
          ×{dock.zoom}
        </button>
      )}
      {id === 'waveform' && (
        <button
          type="button"
          className="absolute right-0 top-0 rounded-sm bg-room/70 px-1 text-xs text-dim hover:text-text"
          onClick={() => setDock({ luma: !dock.luma })}
        >
          {dock.luma ? 'luma' : 'RGB'}
        </button>
      )}
      {id === 'histogram' && (
        <button
          type="button"
          className="absolute right-0 top-0 rounded-sm bg-room/70 px-1 text-xs text-dim hover:text-text"
          onClick={() => setDock({ log: !dock.log })}
        >
          {dock.log ? 'log count' : 'count'}
        </button>
      )}
    </figure>
  )
}

/** A trace, and perhaps that of the other side beneath it. */
function Drawing({ trace, under }: { trace: Trace | undefined; under: Trace | undefined }) {
  const canvas = useRef<HTMLCanvasElement>(null)
  useEffect(() => {
    const c = canvas.current!
    const dpr = window.devicePixelRatio
    c.width = Math.max(1, Math.round(c.clientWidth * dpr))
    c.height = Math.max(1, Math.round(c.clientHeight * dpr))
    const ink = c.getContext('2d')!
    for (const [t, opacity] of [
      [under, 0.38],
      [trace, 1],
    ] as const) {
      if (!t?.image) continue
      const scratch = new OffscreenCanvas(t.image.width, t.image.height)
      scratch.getContext('2d')!.putImageData(t.image, 0, 0)
      ink.globalAlpha = opacity
      ink.globalCompositeOperation = 'lighter'
      ink.drawImage(scratch, 0, 0, c.width, c.height)
    }
  }, [trace, under])
  return <canvas ref={canvas} className="absolute inset-0 h-full w-full" data-under={under?.image ? 'yes' : 'no'} />
}

function HistogramDrawing({ view, under, log }: { view: ScopeView | undefined; under: ScopeView | undefined; log: boolean }) {
  const canvas = useRef<HTMLCanvasElement>(null)
  useEffect(() => {
    const c = canvas.current!
    const dpr = window.devicePixelRatio
    c.width = Math.max(1, Math.round(c.clientWidth * dpr))
    c.height = Math.max(1, Math.round(c.clientHeight * dpr))
    const ink = c.getContext('2d')!
    const height = (n: number, most: number) => (log ? Math.log1p(n) / Math.log1p(most) : n / most)
    const draw = (counts: number[], style: string, fill: boolean, most: number) => {
      ink.beginPath()
      counts.forEach((n, i) => ink.lineTo(((i + 0.5) / counts.length) * c.width, c.height * (1 - 0.96 * Math.min(1, height(n, most)))))
      ink.lineWidth = dpr
      ink.strokeStyle = style
      ink.stroke()
      if (!fill) return
      ink.lineTo(c.width, c.height)
      ink.lineTo(0, c.height)
      ink.globalAlpha = 0.22
      ink.fillStyle = style
      ink.fill()
      ink.globalAlpha = 1
    }
    // what stands at the very ends would flatten all the rest
    const top = (v: ScopeView) => Math.max(1, ...v.histogram!.count.slice(0, 3).flatMap((h) => h.slice(1, -1)))
    ink.globalCompositeOperation = 'lighter'
    if (under?.histogram) {
      const most = top(under)
      ;['#5a2a26', '#1f5a2c', '#283f6e'].forEach((s, i) => draw(under.histogram!.count[i]!, s, false, most))
    }
    if (view?.histogram) {
      const most = top(view)
      ;['#ff4838', '#3de057', '#4d80ff'].forEach((s, i) => draw(view.histogram!.count[i]!, s, true, most))
      draw(view.histogram.count[3], '#b4b4b4', false, most)
    }
  }, [view, under, log])
  return <canvas ref={canvas} className="absolute inset-0 h-full w-full" data-under={under?.histogram ? 'yes' : 'no'} />
}

/** Lines across, with their values beside. */
function UpMarks({ axis }: { axis: Axis }) {
  return (
    <div className="pointer-events-none absolute inset-0">
      {axis.marks.map((m, i) => (
        <div
          key={m.label}
          className={`absolute left-7 right-0 h-px ${i === axis.strong ? 'bg-white/30' : 'bg-white/12'}`}
          style={{ top: `${100 * (1 - m.at)}%` }}
        >
          <span className="absolute -left-7 w-6 -translate-y-1/2 text-right text-[10px] leading-none text-dim">{m.label}</span>
        </div>
      ))}
    </div>
  )
}

function AcrossMarks({ axis }: { axis: Axis }) {
  return (
    <div className="pointer-events-none absolute bottom-0 left-7 right-0 top-0">
      {axis.marks.map((m, i) => (
        <div
          key={m.label}
          className={`absolute bottom-0 top-0 w-px ${i === axis.strong ? 'bg-white/30' : 'bg-white/12'}`}
          style={{ left: `${100 * m.at}%` }}
        >
          <span className={`absolute bottom-0 text-[10px] leading-none text-dim ${m.at > 0.9 ? 'right-0.5' : 'left-0.5'}`}>{m.label}</span>
        </div>
      ))}
    </div>
  )
}

function VectorLines({ view, zoom }: { view: ScopeView; zoom: number }) {
  const place = (cb: number, cr: number) => [50 + (50 * cb * zoom) / view.reach!, 50 - (50 * cr * zoom) / view.reach!] as const
  const [u, v] = view.skin!
  return (
    <svg viewBox="0 0 100 100" className="absolute inset-0 h-full w-full" aria-hidden>
      <g stroke="white" strokeOpacity="0.16" strokeWidth="0.5" fill="none" vectorEffect="non-scaling-stroke">
        <circle cx="50" cy="50" r="46" />
        <path d="M4 50H96M50 4V96" />
      </g>
      <line x1="50" y1="50" x2={100 * u} y2={100 * v} stroke="white" strokeOpacity="0.55" strokeWidth="0.5" data-testid="skin-line" />
      {view.targets!.map((t) => {
        const [x, y] = place(t.cb, t.cr)
        if (x < 1 || x > 99 || y < 1 || y > 99) return null
        return (
          <g key={`${t.label}${t.level}`}>
            {t.level < 1 ? (
              <circle cx={x} cy={y} r="1.8" fill="none" stroke="white" strokeOpacity="0.45" strokeWidth="0.5" />
            ) : (
              <circle cx={x} cy={y} r="0.7" fill="white" fillOpacity="0.5" />
            )}
            {t.level < 1 && (
              <text x={x + (x < 50 ? -3 : 3)} y={y + 1.8} textAnchor={x < 50 ? 'end' : 'start'} fontSize="6" fill="#8e8e8e">
                {t.label}
              </text>
            )}
          </g>
        )
      })}
    </svg>
  )
}

function ChromaLines({ view }: { view: ScopeView }) {
  if (!view.triangle || !view.horseshoe) return null
  const line = (o: [number, number][]) => o.map(([x, y], i) => `${i ? 'L' : 'M'}${(100 * x).toFixed(2)} ${(100 * y).toFixed(2)}`).join('')
  return (
    <svg viewBox="0 0 100 100" className="absolute inset-0 h-full w-full" aria-hidden>
      <path d={line(view.horseshoe)} fill="none" stroke="white" strokeOpacity="0.22" strokeWidth="0.5" />
      <path d={line(view.triangle)} fill="none" stroke="white" strokeOpacity="0.5" strokeWidth="0.5" />
      <circle
        cx={100 * view.white![0]}
        cy={100 * view.white![1]}
        r="0.9"
        fill="none"
        stroke="white"
        strokeOpacity="0.7"
        strokeWidth="0.4"
      />
    </svg>
  )
}

const inks = ['#ff7a6b', '#6bf08a', '#8fb0ff', '#ffffff']

/** Where the pixel under the pointer stands. */
function Marked({ id, mark }: { id: ScopeId; mark: ScopeMark }) {
  const dot = (x: number, y: number, colour: string, key: string | number) => (
    <span
      key={key}
      className="absolute h-[7px] w-[7px] -translate-x-1/2 -translate-y-1/2 rounded-full border"
      style={{ left: `${100 * x}%`, top: `${100 * y}%`, borderColor: colour }}
      data-mark={id}
    />
  )
  if (id === 'histogram')
    return (
      <>
        {mark.y.slice(0, 3).map((v, i) => (
          <span
            key={i}
            className="absolute bottom-0 top-0 w-px opacity-80"
            style={{ left: `${100 * (1 - v)}%`, background: inks[i] }}
            data-mark={id}
          />
        ))}
      </>
    )
  if (id === 'parade') return <>{mark.y.slice(0, 3).map((v, i) => dot((i + mark.x) / 3, v, inks[i]!, i))}</>
  if (id === 'waveform') return <>{(scopes.get().dock.luma ? [3] : [0, 1, 2]).map((i) => dot(mark.x, mark.y[i]!, inks[i]!, i))}</>
  return dot(mark.x, mark.y[0]!, '#ffffff', 0)
}
