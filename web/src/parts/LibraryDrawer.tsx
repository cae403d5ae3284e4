import { useCallback, useEffect, useRef, useState } from 'react'
import { api } from '../api/client'
import type { Kept, Own, Plot } from '../api/types.gen'
import { Button } from '../controls/Button'
import { Choice } from '../controls/Choice'
import { Drawer } from '../controls/Drawer'
import { FilePick } from '../controls/FilePick'
import { TextField } from '../controls/TextField'
import { Tip } from '../controls/Tip'
import { offered } from '../api/choices'
import { beginFit } from '../state/fit'
import { keepEncoding, keepFiles, loadKept, removeKept, assets } from '../state/assets'
import { studio, useStudio } from '../state/studio'
import { CurvePlot, GamutPlot } from './EncodingPlots'
import { StockFit } from './StockFit'

// an open standard's curve to begin with: ACEScct on AP1
const blank: Own = {
  veloursEncoding: 1,
  name: '',
  base: 2,
  logSlope: 0.0570776,
  logOffset: 0.5547945,
  linSlope: 1,
  linOffset: 0,
  break: 0.0078125,
  linearSlope: null,
  red: [0.713, 0.293],
  green: [0.165, 0.83],
  blue: [0.128, 0.044],
  white: [0.32168, 0.33767],
}

const numbers: [keyof Own & ('base' | 'logSlope' | 'logOffset' | 'linSlope' | 'linOffset' | 'break' | 'linearSlope'), string, string][] = [
  ['base', 'Base', 'The base of the logarithm: 2, 10, or 2.71828 for the natural one.'],
  ['logSlope', 'Log slope', 'How much code a step of the logarithm is.'],
  ['logOffset', 'Log offset', 'The code where the logarithm is zero.'],
  ['linSlope', 'Light slope', 'What light is multiplied by inside the logarithm.'],
  ['linOffset', 'Light offset', 'What is added to it there.'],
  ['break', 'Break', 'The light below which the curve goes on straight. Leave it empty if there is no straight piece.'],
  ['linearSlope', 'Straight slope', 'The slope of the straight piece. Leave it empty to go on as steep as the curve is at the break.'],
]
const primaries = [
  ['red', 'Red'],
  ['green', 'Green'],
  ['blue', 'Blue'],
  ['white', 'White'],
] as const

/** What a person has added: encodings by their published constants, tables, and stocks that were measured. */
export function LibraryDrawer() {
  const [open, setOpen] = useState(false)
  const [own, setOwn] = useState<Own | null>(null)
  const [fitting, setFitting] = useState(false)
  const kept = assets.use((s) => s.kept)
  const encodings = useStudio((s) => s.desk?.encodings)
  const [after, setAfter] = useState('')
  return (
    <Drawer
      title={own ? 'An encoding of your own' : fitting ? 'A stock of your own' : 'Encodings, tables and stocks'}
      about={
        own
          ? 'The constants that the maker of a camera publishes. They travel as a file, and the encoding is offered wherever one is chosen.'
          : fitting
            ? 'Measured, as much of it as there is: from the densities of step wedges, and from pictures of a short test.'
            : 'What you add here is offered beside what ships: encodings wherever one is chosen, tables in Print, stocks in Negative.'
      }
      open={open}
      onOpen={(o) => {
        setOpen(o)
        setOwn(null)
        setFitting(false)
        if (o) void loadKept()
      }}
      trigger={<Button>Library</Button>}
      wide={fitting ? 'widest' : own !== null}
    >
      {own ? (
        <OwnForm own={own} onDone={() => setOwn(null)} />
      ) : fitting ? (
        <StockFit onDone={() => setFitting(false)} />
      ) : (
        <>
          <ul className="mb-3 grid gap-1" data-testid="kept">
            {kept.filter((k) => k.kind !== 'look' && k.kind !== 'ready').length === 0 && <li className="text-dim">Nothing yet.</li>}
            {kept
              .filter((k) => k.kind !== 'look' && k.kind !== 'ready')
              .map((k) => (
                <Row key={k.id} k={k} onEdit={() => setOwn(k.own ?? null)} />
              ))}
          </ul>
          <div className="flex flex-wrap items-center gap-2">
            <Button active className="h-7" onClick={() => setOwn(blank)}>
              New encoding
            </Button>
            <Button
              active
              className="h-7"
              onClick={() => {
                beginFit()
                setFitting(true)
              }}
            >
              New stock
            </Button>
            <Load
              label="Load a table"
              help="A .cube, CLF or ASC colour decision as a step: it is offered as a table print"
              testid="load-table"
              onFiles={(f) => void keepFiles(f, '')}
            />
            <Load
              label="Load a card"
              help="The file of an encoding or of a stock that was kept elsewhere"
              testid="load-encoding"
              onFiles={(f) => void keepFiles(f, '')}
            />
          </div>
          <div className="mt-3 flex items-center gap-2 border-t border-line pt-3 text-soft">
            <span>A camera known only as a table, which leads to</span>
            <Choice label="Leads to" className="h-7 grow" options={offered(encodings)} value={after} empty="choose" onChange={setAfter} />
            <Load
              label="Load"
              disabled={!after}
              help="The table becomes an encoding: its codes are taken to those it leads to"
              testid="load-input"
              onFiles={(f) => void keepFiles(f, after)}
            />
          </div>
        </>
      )}
    </Drawer>
  )
}

function Load({
  label,
  help,
  testid,
  disabled,
  onFiles,
}: {
  label: string
  help: string
  testid: string
  disabled?: boolean
  onFiles: (f: File[]) => void
}) {
  return (
    <Tip help={help}>
      <span>
        <FilePick multiple disabled={disabled} testid={testid} className="h-7" onFiles={onFiles}>
          {label}
        </FilePick>
      </span>
    </Tip>
  )
}

function Row({ k, onEdit }: { k: Kept; onEdit: () => void }) {
  return (
    <li className="flex items-baseline gap-2 rounded-sm bg-card px-2.5 py-1.5">
      <span className="min-w-0 grow truncate">
        {k.name}{' '}
        <span className="text-xs text-dim">{k.kind !== 'table' ? k.kind : k.after ? `encoding by table, to ${k.after}` : 'table'}</span>
      </span>
      {k.own && <Button onClick={onEdit}>Edit</Button>}
      <a className="rounded-sm border border-line px-2 text-soft hover:text-text" href={`/api/v1/library/${k.id}/file`}>
        Save
      </a>
      <Button onClick={() => void removeKept(k.id)}>Remove</Button>
    </li>
  )
}

function OwnForm({ own: first, onDone }: { own: Own; onDone: () => void }) {
  const [own, setOwn] = useState(first)
  const [plot, setPlot] = useState<Plot | null>(null)
  const rest = useRef(0)
  const draw = useCallback((o: Own) => {
    clearTimeout(rest.current)
    rest.current = window.setTimeout(() => {
      api.plot({ ...o, name: o.name || 'x' }).then(setPlot, (e: Error) => studio.complain(e))
    }, 80)
  }, [])
  useEffect(() => draw(first), [draw, first])
  function change(part: Partial<Own>) {
    const next = { ...own, ...part }
    setOwn(next)
    draw(next)
  }
  const problem = plot?.problem ?? ''
  return (
    <form
      className="grid grid-cols-[230px_minmax(0,1fr)] gap-4"
      onSubmit={(e) => {
        e.preventDefault()
        void keepEncoding(own).then((done) => done && onDone())
      }}
    >
      <div className="grid content-start gap-1">
        <Text label="Name" help="What it is called wherever encodings are chosen." value={own.name} onChange={(name) => change({ name })} />
        <div className="h-1" />
        {numbers.map(([id, label, help]) => (
          <Number
            key={id}
            label={label}
            help={help}
            optional={id === 'break' || id === 'linearSlope'}
            value={own[id]}
            onChange={(v) => change({ [id]: v })}
          />
        ))}
        <div className="h-1" />
        {primaries.map(([id, label]) => (
          <div key={id} className="grid grid-cols-[86px_1fr_1fr] items-center gap-1">
            <Tip
              help={
                id === 'white'
                  ? 'The chromaticity of equal red, green and blue, x and y.'
                  : 'The chromaticity of this primary, x and y; it may lie outside real colours.'
              }
              side="left"
            >
              <span className="text-soft">{label}</span>
            </Tip>
            {[0, 1].map((i) => (
              <Field
                key={i}
                label={`${label} ${'xy'[i]!}`}
                value={own[id][i]!}
                onChange={(v) => {
                  const pair = [...own[id]] as [number, number]
                  pair[i] = v ?? 0
                  change({ [id]: pair })
                }}
              />
            ))}
          </div>
        ))}
        <div className="mt-2 flex gap-2">
          <Button type="submit" active className="h-7" disabled={problem !== '' || own.name.trim() === ''}>
            Keep
          </Button>
          <Button className="h-7" onClick={onDone}>
            Back
          </Button>
        </div>
      </div>
      <div className="grid content-start gap-2">
        <CurvePlot plot={plot} />
        <p className={`m-0 h-8 text-xs ${problem ? 'text-amber' : 'text-soft'}`} data-testid="own-reading">
          {problem
            ? `It cannot be: ${problem}.`
            : plot &&
              `Mid grey at ${plot.grey.toFixed(4)} (code ${Math.round(plot.grey * 1023)} of 1023), black at ${plot.black.toFixed(4)}. ${plot.above.toFixed(1)} stops above mid grey, ${plot.below.toFixed(1)} below it.`}
        </p>
        <GamutPlot plot={plot} own={own} />
      </div>
    </form>
  )
}

function Text({ label, help, value, onChange }: { label: string; help: string; value: string; onChange: (v: string) => void }) {
  return (
    <div className="grid grid-cols-[86px_1fr] items-center gap-1">
      <Tip help={help} side="left">
        <span className="text-soft">{label}</span>
      </Tip>
      <TextField label={label} value={value} onChange={onChange} />
    </div>
  )
}

function Number(p: { label: string; help: string; optional: boolean; value: number | null; onChange: (v: number | null) => void }) {
  return (
    <div className="grid grid-cols-[86px_1fr] items-center gap-1">
      <Tip help={p.help} side="left">
        <span className="text-soft">{p.label}</span>
      </Tip>
      <Field label={p.label} value={p.value} optional={p.optional} onChange={p.onChange} />
    </div>
  )
}

/** A number as it was typed, so that half a number is not corrected while it grows. */
function Field({
  label,
  value,
  optional,
  onChange,
}: {
  label: string
  value: number | null
  optional?: boolean
  onChange: (v: number | null) => void
}) {
  const [typed, setTyped] = useState<string | null>(null)
  return (
    <TextField
      label={label}
      inputMode="decimal"
      value={typed ?? String(value ?? '')}
      placeholder={optional ? 'none' : ''}
      onBlur={() => setTyped(null)}
      onChange={(text) => {
        setTyped(text)
        if (text.trim() === '' && optional) return onChange(null)
        const v = parseFloat(text.replace(',', '.'))
        if (isFinite(v)) onChange(v)
      }}
    />
  )
}
