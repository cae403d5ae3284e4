import { useRef, useState, type PointerEvent } from 'react'
import type { Look } from '../api/types.gen'
import { drag as startDrag } from '../controls/drag'
import { Button } from '../controls/Button'
import { Menu } from '../controls/Menu'
import { Tip } from '../controls/Tip'
import { Toggle } from '../controls/Toggle'
import { desk, entries, runs, type Entry } from '../state/desk'
import { addStep, copySteps, groupSteps, moveTo, pasteSteps, removeSteps } from '../state/steps'
import { GroupCard } from './GroupCard'
import { nameOf, stationOn } from '../model/look'
import { studio, useStudio } from '../state/studio'
import { Card } from './Card'
import { openStrip, wholeFilms } from '../state/testStrip'
import { LevelBar } from './LevelBar'
import { Marks } from './Marks'
import { MatchMenu, MatchSays } from './MatchMenu'
import { Passport } from './Passport'
import { Sensitometer } from './Sensitometer'
import { StrengthDial } from './StrengthDial'
import { UnreadParts } from './Unread'

/** The chosen station's steps as cards, in the order in which they act. */
export function Desk() {
  const info = useStudio((s) => s.desk)
  const station = useStudio((s) => s.station)
  const look = useStudio((s) => s.look)
  if (!info || !look) return <aside aria-label="Desk" className="h-full border-l border-line" />
  const place = info.stations.find((s) => s.id === station)!
  const kinds = info.kinds.filter((k) => k.station === station)
  const on = stationOn(look, station)
  const switchable = kinds.some((k) => !k.fixed)
  return (
    <aside
      aria-label="Desk"
      className="h-full overflow-y-auto border-l border-line px-3 pb-2.5 [scroll-padding-top:84px] [scrollbar-gutter:stable]"
    >
      <div className="sticky top-0 z-10 -mx-3 bg-room px-3 pb-2 pt-2.5">
        <div className="flex h-6 items-center gap-2.5">
          {switchable && <Toggle on={on} label={`${place.label} on`} onChange={(v) => studio.edit({ op: v ? 'on' : 'off', station })} />}
          <h2 className="text-base font-semibold">{place.label}</h2>
          <span className="grow" />
          {station === 'balance' && <MatchMenu />}
          {(station === 'negative' || station === 'print') && <Recipes />}
          {(station === 'negative' || station === 'print') && <Sensitometer />}
          {kinds.some((k) => k.repeatable) && <AddStep station={station} />}
          {switchable && (
            <Tip help="Every step of this station back to how it is when it is off" side="left">
              <button
                type="button"
                className="rounded-sm px-1.5 text-dim hover:text-text"
                onClick={() => studio.edit({ op: 'clear', station })}
              >
                reset
              </button>
            </Tip>
          )}
          {station === 'finish' && (
            <Tip help="Put the whole shot back to how it came; undo brings this back" side="left">
              <button type="button" className="rounded-sm px-1.5 text-dim hover:text-text" onClick={() => studio.edit({ op: 'restart' })}>
                reset all
              </button>
            </Tip>
          )}
        </div>
        <LevelBar />
        <Marks />
        {station === 'balance' && <MatchSays />}
        <GroupBar station={station} />
      </div>
      <UnreadParts look={look} station={station} />
      {station === 'intake' && <Passport />}
      <Cards look={look} list={entries(look, info.kinds, station)} station={station} dim={!on} />
      {switchable && station !== 'intake' && station !== 'screen' && (
        <div className="mt-2.5 px-2.5">
          <StrengthDial
            label="All steps"
            help={`How much of all steps of ${place.label} is mixed in, each by its own strength times this.`}
            share={look.stations[station]?.strength ?? 1}
            dim={!on}
            onShare={(value, gesture, hurry) => studio.edit({ op: 'strength', station, value, gesture }, hurry)}
          />
        </div>
      )}
    </aside>
  )
}

/** The cards, which the grip of one drags to another place. */
function Cards({ look, list, station, dim }: { look: Look; list: Entry[]; station: string; dim: boolean }) {
  const box = useRef<HTMLDivElement>(null)
  const [drag, setDrag] = useState<{ name: string; at: number } | null>(null)

  /** The place among the cards over whose upper half the pointer is. */
  function placeOf(y: number) {
    const cards = [...box.current!.querySelectorAll('[data-kind]')]
    const at = cards.findIndex((c) => {
      const r = c.getBoundingClientRect()
      return y < r.top + r.height / 2
    })
    return at < 0 ? cards.length : at
  }
  function grip(name: string) {
    return (e: PointerEvent<HTMLElement>) => {
      if (e.button !== 0) return
      e.preventDefault()
      startDrag(e, (now, rest) => {
        if (!rest) return setDrag({ name, at: placeOf(now.clientY) })
        setDrag(null)
        drop(name, placeOf(now.clientY))
      })
    }
  }
  /** Puts a step before the card at a place; cards that are not in the look do not count. */
  function drop(name: string, at: number) {
    const steps = (studio.get().look?.stations[station]?.steps ?? []).map(nameOf)
    const before = cards.slice(0, at).filter((e) => e.step && e.name !== name).length
    const from = steps.indexOf(name)
    if (from >= 0 && before !== from) moveTo(station, name, Math.min(before, steps.length - 1))
  }
  const mark = <div className="h-[2px] rounded-full bg-plum" aria-hidden />
  const laid = runs(look, list, station)
  const cards = laid.flatMap((run) => ('card' in run ? [run.card] : run.cards))
  const one = (e: Entry) => (
    <div
      key={`${e.kind.station}.${e.name}`}
      className={`grid grid-cols-[minmax(0,1fr)] gap-2.5 ${drag?.name === e.name ? 'opacity-50' : ''}`}
    >
      {drag?.at === cards.indexOf(e) && mark}
      <Card entry={e} onGrip={grip(e.name)} />
    </div>
  )
  return (
    <div ref={box} className={`grid grid-cols-[minmax(0,1fr)] gap-2.5 ${dim ? 'opacity-60' : ''}`}>
      {laid.map((run, i) =>
        'card' in run ? (
          one(run.card)
        ) : (
          <GroupCard key={run.group} station={station} name={run.group} first={i === 0}>
            {run.cards.map(one)}
          </GroupCard>
        ),
      )}
      {drag?.at === cards.length && mark}
    </div>
  )
}

/** The way to whole films, by feeling and era. */
function Recipes() {
  return (
    <Button
      title="Ready films by feeling and era, on this very frame; they open as ordinary settings"
      onClick={() => openStrip(wholeFilms)}
    >
      Recipes
    </Button>
  )
}

/** The list of what can be added to a station, and what was copied. */
function AddStep({ station }: { station: string }) {
  const info = useStudio((s) => s.desk)!
  const copied = desk.use((s) => s.copied)
  const kinds = info.kinds.filter((k) => k.station === station && k.repeatable)
  // in the order of the kinds; those that are always there come last
  const headings = [...new Set(kinds.flatMap((k) => (k.group ? [k.group] : []))), '']
  const groups = [
    {
      title: '',
      items: copied
        ? [{ id: 'paste', label: copied.steps.length === 1 ? 'Paste the copied step' : `Paste ${copied.steps.length} copied steps` }]
        : [],
    },
    ...headings.map((heading) => ({
      title: heading || 'Once more',
      items: kinds.filter((k) => (k.group ?? '') === heading).map((k) => ({ id: k.id, label: k.label, hover: k.purpose })),
    })),
  ]
  return (
    <Menu
      label="Add a step"
      help="Adds a step after the others; its place can be changed."
      value=""
      groups={groups}
      onChange={(id) => (id === 'paste' ? pasteSteps(station) : void addStep(station, id))}
    >
      add
    </Menu>
  )
}

/** What is done with several steps at once. */
function GroupBar({ station }: { station: string }) {
  const chosen = desk.use((s) => s.chosen)
  if (chosen.length === 0) return null
  const names = chosen
  return (
    <div role="toolbar" aria-label="Chosen steps" className="mt-2 flex items-center gap-1.5 rounded-[4px] border border-plum px-2 py-1">
      <span className="grow text-soft">{names.length === 1 ? '1 step' : `${names.length} steps`}</span>
      <Button onClick={() => studio.edit({ op: 'on', station, names })}>on</Button>
      <Button onClick={() => studio.edit({ op: 'off', station, names })}>off</Button>
      {!['intake', 'screen'].includes(station) && (
        <Tip help="One switch, strength and matte for steps that stand beside each other" side="left">
          <Button onClick={() => groupSteps(station, names)}>group</Button>
        </Tip>
      )}
      <Button onClick={() => copySteps(station, names)}>copy</Button>
      <Button onClick={() => removeSteps(station, names)}>remove</Button>
      <button type="button" aria-label="Choose none" className="px-1 text-dim hover:text-text" onClick={() => desk.set({ chosen: [] })}>
        ×
      </button>
    </div>
  )
}
