import { useEffect, useState } from 'react'
import type { Card, Kept, MatchedGrain, MeasuredGrain } from '../api/types.gen'
import { Button } from '../controls/Button'
import { Choice } from '../controls/Choice'
import { ProgressBar } from '../controls/ProgressBar'
import { TextField } from '../controls/TextField'
import { Tip } from '../controls/Tip'
import { assets, removeKept } from '../state/assets'
import {
  addBox,
  closeGrain,
  followGrain,
  grain,
  keepGrain,
  matchGrain,
  measureGrain,
  setBoxes,
  showGrain,
  stopMeasuring,
} from '../state/grain'
import { shotOf, useStudio } from '../state/studio'
import { LinePlot, inks } from './LinePlot'

/** Grain cards, in the desk's place: grain is measured from the open shot, kept, followed and matched. */
export function GrainCards() {
  const { shown, frames, boxes, busy, done, measured, keptAs, matched, problem } = grain.use((s) => s)
  const shot = useStudio(shotOf)
  const station = useStudio((s) => s.station)
  const [at] = useState(station)
  useEffect(() => {
    if (station !== at) closeGrain() // whoever goes to another station wants its desk
  }, [station, at])
  const cards = assets.use((s) => s.kept).filter((k) => k.kind === 'grain')
  return (
    <aside aria-label="Grain cards" className="flex h-full flex-col overflow-y-auto border-l border-line px-3 pb-3">
      <div className="flex h-11 shrink-0 items-center">
        <h2 className="text-base font-semibold">Grain cards</h2>
        <span className="grow" />
        <button type="button" className="rounded-sm px-1.5 text-soft hover:text-text" onClick={closeGrain}>
          Back to the desk
        </button>
      </div>
      <section aria-label="Measure" className="rounded-[4px] border border-line bg-wall p-2.5">
        <h3 className="mb-1 font-semibold">Measure {shot?.name}</h3>
        <p className="mb-2 text-xs text-dim">
          {boxes.length === 0
            ? 'Everywhere: what moves is followed, and what is flat is found. Boxes keep it to parts of the picture.'
            : 'In the boxes on the picture. Drag them to even parts: skin, a wall, sky.'}
        </p>
        <Row label="Pictures">
          <Choice
            label="Which pictures"
            className="grow"
            value={shown ? 'shown' : 'recorded'}
            options={[
              { id: 'shown', label: 'As shown', note: 'Finished: what a title beside it must match' },
              { id: 'recorded', label: 'As recorded', note: 'The camera’s own code values' },
            ]}
            onChange={(id) => grain.set({ shown: id === 'shown' })}
          />
        </Row>
        <Row label="Frames">
          <Choice
            label="How many frames"
            className="grow"
            value={String(frames)}
            options={[1, 2, 4, 8, 12].map((n) => ({
              id: String(n),
              label: n === 1 ? 'this one' : `${n} from here on`,
              note: n === 1 ? 'Needs flat parts' : undefined,
            }))}
            onChange={(id) => grain.set({ frames: Number(id) })}
          />
        </Row>
        <div className="mt-2 flex gap-2">
          <Button onClick={addBox} disabled={!shot || boxes.length >= 16}>
            Add a box
          </Button>
          {boxes.length > 0 && <Button onClick={() => setBoxes([])}>No boxes</Button>}
          <span className="grow" />
          {busy === 'measure' ? (
            <Button onClick={stopMeasuring}>Stop</Button>
          ) : (
            <Button active disabled={!shot || busy !== ''} onClick={measureGrain}>
              Measure
            </Button>
          )}
        </div>
        {busy === 'measure' && <ProgressBar label="Measuring grain" done={done} className="mt-2" />}
      </section>
      {problem && (
        <p role="alert" className="m-0 mt-2 whitespace-pre-line text-amber" data-testid="grain-problem">
          {problem}
        </p>
      )}
      {measured?.card && <Measured key={measured.card.id} measured={measured as Full} keptAs={keptAs} />}
      {matched && <Result matched={matched} />}
      <section aria-label="Kept" className="mt-3">
        <h3 className="mb-1 font-semibold">In the library</h3>
        {cards.length === 0 && <p className="m-0 text-dim">No card is kept yet.</p>}
        <ul className="grid gap-1" data-testid="grain-cards">
          {cards.map((k) => (
            <Entry key={k.id} kept={k} busy={busy === 'match'} />
          ))}
        </ul>
      </section>
    </aside>
  )
}

type Full = MeasuredGrain & { card: Card }

function Row({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <div className="flex h-7 items-center gap-2">
      <span className="w-[84px] shrink-0 text-soft">{label}</span>
      {children}
    </div>
  )
}

const percent = (v: number) => `${(100 * v).toFixed(v < 0.01 ? 2 : 1)} %`

/** A card, drawn: what it deviates by over tones, how fine it is, and a patch of it. */
function Measured({ measured: { card, patch }, keptAs }: { measured: Full; keptAs: number }) {
  const [name, setName] = useState(card.label)
  const three = (of: (i: number, c: number) => number, across: number[]) =>
    inks.map((colour, c) => ({ colour, line: across.map((x, i): [number, number] => [x, of(i, c)]) }))
  const frequencies = Array.from({ length: 26 }, (_, i) => i / 50)
  const power = (rho: number[], f: number) =>
    Math.max(0, 1 + 2 * rho.slice(1).reduce((sum, r, k) => sum + r * Math.cos(2 * Math.PI * f * (k + 1)), 0))
  const mean = (rows: number[][], f: number, c: number) => power(rows[c]!, f)
  return (
    <section aria-label="Card" className="mt-2 rounded-[4px] border border-line bg-wall p-2.5" data-testid="grain-card">
      <p className="mb-1 text-xs text-dim">{card.from}</p>
      <img
        src={patch}
        alt="A patch of its grain on three greys, pixel for pixel"
        className="mb-1 block max-w-none"
        style={{ imageRendering: 'pixelated' }}
        width={270}
        height={90}
      />
      <LinePlot
        title="Deviation"
        down="% of the range"
        across="tone, % of the range"
        series={three(
          (i, c) => 100 * card.deviation[i]![c]!,
          card.tones.map((t) => 100 * t),
        )}
      />
      <LinePlot
        title="Spectrum"
        down="against white noise"
        across="cycles a pixel, across and down together"
        series={three((i, c) => (mean(card.across, frequencies[i]!, c) + mean(card.down, frequencies[i]!, c)) / 2, frequencies)}
      />
      <p className="m-0 mt-1 text-soft" data-testid="grain-trust">
        May be off by {Math.round(100 * card.trust.within)} %. Channels go together by{' '}
        {Math.round(100 * Math.max(0, (card.correlation[0] + card.correlation[1]) / 2))} %
        {card.hold > 1 ? `; each stays for ${card.hold} frames` : ''}.
      </p>
      {(card.trust.why ?? []).map((why) => (
        <p key={why} className="m-0 text-xs text-amber">
          {why}
        </p>
      ))}
      {keptAs === 0 && (
        <div className="mt-2 flex gap-2">
          <TextField label="Name of the card" className="grow" maxLength={60} value={name} onChange={setName} />
          <Button active onClick={() => keepGrain(name.trim())}>
            Keep
          </Button>
        </div>
      )}
    </section>
  )
}

/** A card of the library, and what can be done with it. */
function Entry({ kept, busy }: { kept: Kept; busy: boolean }) {
  const quiet = 'rounded-sm px-1 text-dim hover:text-text disabled:opacity-40'
  return (
    <li className="flex items-center gap-0.5" data-card={kept.key}>
      <button
        type="button"
        className="min-w-0 grow truncate rounded-sm text-left text-text hover:text-plum"
        onClick={() => showGrain(kept)}
      >
        {kept.name}
      </button>
      <Tip help="Adds so much grain on top that this shot has the card’s, with what is there already" side="left">
        <button type="button" className={quiet} disabled={busy} onClick={() => matchGrain(kept.key)}>
          {busy ? 'matching…' : 'match'}
        </button>
      </Tip>
      <Tip help="Puts the card’s grain on top of this shot as it is" side="left">
        <button type="button" className={quiet} onClick={() => followGrain(kept.key)}>
          put on
        </button>
      </Tip>
      <a className={quiet} href={`/api/v1/library/${kept.id}/file`} download>
        file
      </a>
      <button type="button" className={quiet} onClick={() => void removeKept(kept.id)}>
        remove
      </button>
    </li>
  )
}

/** What a match came to: green's deviation before, as aimed at, and now. */
function Result({ matched: { was, aim, is, why } }: { matched: MatchedGrain }) {
  const line = (c: Card | null | undefined): [number, number][] => (c ? c.tones.map((t, i) => [100 * t, 100 * c.deviation[i]![1]]) : [])
  const at = (c: Card | null | undefined) => (c ? percent(Math.max(...c.deviation.map((d) => d[1]))) : 'none')
  return (
    <section aria-label="Match" className="mt-2 rounded-[4px] border border-line bg-wall p-2.5" data-testid="grain-match">
      <LinePlot
        title="Match"
        down="% of the range, green"
        across="tone, % of the range"
        series={[
          { colour: '#8a8a8a', line: line(was), broken: true },
          { colour: '#b784a7', line: line(aim) },
          { colour: '#e6e6e6', line: line(is) },
        ]}
      />
      <p className="m-0 text-soft">
        It had {at(was)} at most, <span className="text-plum">{at(aim)}</span> was aimed at, and it has {at(is)}.
      </p>
      {why && <p className="m-0 text-xs text-amber">{why}</p>}
    </section>
  )
}
