import type { ReactNode } from 'react'
import { offered } from '../api/choices'
import { Button } from '../controls/Button'
import { Choice, type Option } from '../controls/Choice'
import { FilePick } from '../controls/FilePick'
import { Menu } from '../controls/Menu'
import { TextField } from '../controls/TextField'
import { Tip } from '../controls/Tip'
import {
  addShot,
  dropShot,
  fit,
  makeFit,
  ready,
  setFit,
  setShot,
  showChart,
  stopFit,
  takeStandIn,
  type Shot,
  type Shows,
} from '../state/fit'
import { useStudio } from '../state/studio'
import { ChartPlaces } from './ChartPlaces'
import { FitResult } from './FitResult'

const kinds: { id: Shows; label: string; note: string }[] = [
  { id: 'chart', label: 'A chart', note: 'Its colours: digital and on the film; again for a bracket' },
  { id: 'scene', label: 'Any scene', note: 'Its colours: the two pictures are laid over each other' },
  { id: 'edge', label: 'A slanted edge', note: 'How it draws detail' },
  { id: 'patches', label: 'Even greys', note: 'Its grain, tone by tone' },
  { id: 'lamp', label: 'A lamp on black', note: 'What its base returns: ring, colour, strength' },
]

/** A stock of one's own, measured: from the densities of wedges, and from pictures of a short test. */
export function StockFit({ onDone }: { onDone: () => void }) {
  const f = fit.use((s) => s)
  const stocks = offered(useStudio((s) => s.desk?.kinds.find((k) => k.station === 'negative' && k.id === 'stock'))?.settings[0]?.choices)
  const chart = f.shots[f.shown]
  return (
    <div className="grid grid-cols-[330px_minmax(0,1fr)] gap-5">
      <form
        className="grid content-start gap-1.5"
        onSubmit={(e) => {
          e.preventDefault()
          makeFit()
        }}
      >
        <Row label="Name" help="What the stock will be called wherever stocks are chosen.">
          <TextField label="Name of the stock" maxLength={60} value={f.name} onChange={(name) => setFit({ name })} />
        </Row>
        <Row label="Start from" help="What the measurements do not tell is this stock's; the card says which parts those are.">
          <Choice
            label="Start from"
            value={f.like}
            onChange={(like) => setFit({ like })}
            options={[{ id: '', label: 'one of the same sort' }, ...stocks.map((c) => ({ id: c.id, label: c.label }))]}
          />
        </Row>
        <Wedges />
        {f.shots.map((s, i) => (
          <ShotRow key={i} at={i} shot={s} />
        ))}
        <div className="flex items-center gap-2">
          <Menu label="Add a picture" value="" groups={[{ title: '', items: kinds }]} onChange={addShot}>
            Add a picture
          </Menu>
          {f.shots.length === 0 && f.wedges.length === 0 && (
            <Button
              disabled={f.doing !== ''}
              title="A made-up film's whole set of measurements, brought in as a reel, to try this with"
              onClick={() => void takeStandIn()}
            >
              Stand-in set
            </Button>
          )}
        </div>
        <div className="mt-1 flex items-center gap-2">
          <Button type="submit" className="h-7" active={!f.made} disabled={!ready(f) || f.doing !== ''}>
            Measure
          </Button>
          {f.doing ? (
            <>
              <Button className="h-7" onClick={stopFit}>
                Stop
              </Button>
              <span role="status" className="truncate text-soft">
                {f.doing} …
              </span>
            </>
          ) : (
            <Button className="h-7" onClick={onDone}>
              Back
            </Button>
          )}
        </div>
        {f.problem && (
          <p role="alert" className="m-0 text-amber" data-testid="fit-problem">
            {f.problem}
          </p>
        )}
      </form>
      <div className="min-w-0">
        {chart && <ChartPlaces at={f.shown} shot={chart} />}
        {f.made ? <FitResult made={f.made} onDone={onDone} /> : <Guide />}
      </div>
    </div>
  )
}

function Row({ label, help, children }: { label: string; help: string; children: ReactNode }) {
  return (
    <div className="grid grid-cols-[76px_minmax(0,1fr)] items-center gap-1">
      <Tip help={help} side="left">
        <span className="text-soft">{label}</span>
      </Tip>
      {children}
    </div>
  )
}

/** A table of densities is no longer than this. */
const mostText = 100_000

function Wedges() {
  const { wedges, status, grey } = fit.use((s) => s)
  return (
    <>
      <Row
        label="Densities"
        help="Tables of text: log exposure (or stops), red, green, blue, a line for each step. Several of the same film, exposed by more or less, are joined."
      >
        <FilePick
          accept=".csv,.txt,.tsv"
          multiple
          testid="load-wedge"
          onFiles={(files) =>
            void Promise.all(files.map(async (file) => ({ file: file.name, text: await file.text() }))).then((wedges) => {
              setFit({ wedges, name: fit.get().name || files[0]!.name.replace(/\.[^.]*$/, '') })
              const large = wedges.find((w) => w.text.length > mostText)
              if (large) fit.set({ wedges: [], problem: `${large.file} is too large for a table of densities: at most 100 000 letters` })
            })
          }
        >
          <span className="truncate">{wedges.map((w) => w.file).join(', ') || 'choose .csv files'}</span>
        </FilePick>
      </Row>
      {wedges.length > 0 && (
        <>
          <Row label="Read in" help="The bands of the densitometer that read them.">
            <Choice
              label="Status of the densitometer"
              value={status}
              onChange={(status) => setFit({ status })}
              options={[
                { id: 'm', label: 'Status M', note: 'Negatives, and what is to be printed' },
                { id: 'a', label: 'Status A', note: 'Slides and prints, to be looked at' },
                { id: 'scan', label: "A scanner's bands", note: '690, 550 and 445 nm' },
              ]}
            />
          </Row>
          <Row
            label="Mid grey"
            help="The log exposure in the tables at which mid grey lies. Left empty, a chart tells, or it is placed 1.4 above where density begins."
          >
            <TextField
              label="Log exposure of mid grey"
              inputMode="decimal"
              placeholder="as it is found"
              value={grey}
              onChange={(grey) => setFit({ grey })}
            />
          </Row>
        </>
      )}
    </>
  )
}

/** One picture of the test: its shots, and what they do not tell. */
function ShotRow({ at, shot }: { at: number; shot: Shot }) {
  const reels = fit.use((s) => s.reels)
  const shown = fit.use((s) => s.shown === at)
  const kind = kinds.find((k) => k.id === shot.shows)!
  const paired = shot.shows === 'chart' || shot.shows === 'scene'
  const options: Option[] = [
    { id: '0', label: 'choose a shot' },
    ...reels.flatMap((r) => r.shots.map((s) => ({ id: String(s.id), label: s.name, group: r.name }))),
  ]
  return (
    <fieldset className="m-0 grid gap-1 rounded-sm border border-line p-1.5" aria-label={kind.label}>
      <div className="flex items-center gap-2 text-soft">
        <span className="grow whitespace-nowrap" title={kind.note}>
          {kind.label}
        </span>
        {(paired || shot.shows === 'lamp') && (
          <span
            className="flex items-center gap-1 text-dim"
            title={
              paired
                ? 'How much more light the film got than the digital picture tells'
                : 'How bright the lamp is from mid grey; empty if nobody knows'
            }
          >
            <TextField
              label={`${kind.label}, light`}
              inputMode="decimal"
              className="w-12"
              value={shot.stops}
              placeholder={paired ? '0' : 'unknown'}
              onChange={(stops) => setShot(at, { stops })}
            />
            stops
          </span>
        )}
        {!paired && (
          <span className="flex items-center gap-1 text-dim" title="How wide the picture is on the film">
            <TextField
              label={`${kind.label}, width`}
              inputMode="decimal"
              className="w-12"
              value={shot.width}
              onChange={(width) => setShot(at, { width })}
            />
            mm
          </span>
        )}
        {shot.shows === 'chart' && (
          <button type="button" aria-pressed={shown} className="px-1 text-dim hover:text-text" onClick={() => showChart(shown ? -1 : at)}>
            {shown ? 'hide' : 'look'}
          </button>
        )}
        <button
          type="button"
          aria-label={`Take ${kind.label.toLowerCase()} away`}
          className="px-1 text-dim hover:text-text"
          onClick={() => dropShot(at)}
        >
          ×
        </button>
      </div>
      {paired && (
        <Row label="Digital" help="As a digital camera or a renderer has it, declared as what it is.">
          <Choice
            label={`${kind.label}, digital`}
            value={String(shot.digital)}
            options={options}
            onChange={(v) => setShot(at, { digital: Number(v), places: null })}
          />
        </Row>
      )}
      <Row label="Film" help="Scanned from the film: as printing-density log, or as the light that came through.">
        <Choice
          label={`${kind.label}, on film`}
          value={String(shot.film)}
          options={options}
          onChange={(v) => setShot(at, { film: Number(v), places: null })}
        />
      </Row>
    </fieldset>
  )
}

function Guide() {
  return (
    <div className="text-soft">
      <p className="mt-0">
        Each of these tells a part of the film. Give what there is; the rest is that of the stock it starts from, and the card says so.
      </p>
      <dl className="m-0 grid grid-cols-[76px_minmax(0,1fr)] gap-x-2 gap-y-1">
        <dt className="text-text">curves</dt>
        <dd className="m-0">
          Densities of step wedges, a line for each step:
          <pre className="my-1 rounded-sm bg-room p-2 text-xs">{'log exposure, red, green, blue\n-3.10, 0.19, 0.61, 0.88\n…'}</pre>
          Or a chart that was bracketed.
        </dd>
        <dt className="text-text">colours</dt>
        <dd className="m-0">A chart of 24 patches or more, or any scene, photographed digitally and on the film.</dd>
        <dt className="text-text">detail</dt>
        <dd className="m-0">One straight edge, turned by 2 to 15 degrees, scanned at 4000 an inch or finer.</dd>
        <dt className="text-text">grain</dt>
        <dd className="m-0">Even greys, each 2 mm wide or more on the film.</dd>
        <dt className="text-text">halo</dt>
        <dd className="m-0">A small lamp before black, 2 mm of dark around it on the film.</dd>
      </dl>
    </div>
  )
}
