import { Fragment, useEffect, useRef, useState, type KeyboardEvent, type PointerEvent, type ReactNode } from 'react'
import type { Setting, StepPath } from '../api/types.gen'
import { Chooser } from '../controls/Chooser'
import { Dial } from '../controls/Dial'
import { Menu } from '../controls/Menu'
import { NameField } from '../controls/TextField'
import { newGesture } from '../api/gesture'
import { Tip } from '../controls/Tip'
import { Toggle } from '../controls/Toggle'
import { desk, activate, type Entry } from '../state/desk'
import { choose, copySteps, fold, isFolded, moveStep, removeSteps } from '../state/steps'
import { judge } from '../state/judge'
import { stepAt } from '../model/parts'
import { addsUp, landing, upwards, wholeOf } from '../model/levels'
import { hasEffect, initialOf, isActive, scaleOf, titleOf, valueOf } from '../model/look'
import { axisOf, openStrip } from '../state/testStrip'
import { studio, useStudio } from '../state/studio'
import { change } from './editors/editor'
import { editors } from './editors'
import { pressLight } from './editors/PrinterLights'
import { KeysOfStep } from './KeysOfStep'
import { MatteSection } from './MatteSection'
import { PickSetting } from './PickSetting'
import { GainPlot } from './GainPlot'
import { GrainTool } from './GrainTool'
import { RangePlot } from './RangePlot'
import { ReadySettings } from './ReadySettings'
import { StepViews } from './StepViews'
import { StrengthDial } from './StrengthDial'
import { Again } from './Marks'
import { UnreadSettings } from './Unread'
import { seen } from '../state/carry'
import { commandOf, written } from '../state/keymap'

/** One step: its switch, its name, its controls, its strength, its matte, and a way back. It comes from the declaration. */
export function Card({ entry, onGrip }: { entry: Entry; onGrip: (e: PointerEvent<HTMLElement>) => void }) {
  const { kind, name } = entry
  // what has keys shows what it is at this frame
  const frame = useStudio((s) => (entry.step?.keys?.length ? s.frame : 0))
  const step = stepAt(entry.step, kind, frame)
  const look = useStudio((s) => s.look)!
  const kinds = useStudio((s) => s.desk)!.kinds
  const docs = useStudio((s) => s.docs)
  const around = { ...look, stations: { ...wholeOf(docs)?.stations, [kind.station]: look.stations[kind.station]! } }
  const effect = hasEffect(around, kinds, kind, name)
  const active = (kind.fixed || isActive(look, kind, name)) && effect
  const { station } = kind
  const path: StepPath = `${station}.${name}`
  const reason = judge.use((s) => s.noEffect[studio.pathOf(path)])
  const folded = desk.use((s) => isFolded(s, station, name))
  const box = useRef<HTMLElement>(null)
  const wanted = desk.use((s) => s.focus === path)
  useEffect(() => {
    if (!wanted) return
    desk.set({ focus: '' })
    box.current?.scrollIntoView({ block: 'nearest' })
    box.current?.focus()
  }, [wanted])
  const chosen = desk.use((s) => s.chosen.includes(name))
  const current = desk.use((s) => s.activeStep === path)
  const touched = !!step && (Object.keys(step.settings ?? {}).length > 0 || step.strength !== 1)
  const title = titleOf(kind, step)
  const Editor = kind.editor ? editors[kind.editor] : undefined
  const editing = { kind, name, step, dim: !active }
  const shownSettings = kind.settings.filter((s) => !s.only || s.only.includes(String(valueOf(step, kind.settings[0]!))))
  const folds = [...new Set(shownSettings.flatMap((s) => (s.fold ? [s.fold] : [])))]

  // what comes in grades is chosen by both
  const graded = kind.settings.find((s) => !s.fold && !s.choices && Object.keys(s.names ?? {}).length >= 5) ?? null

  function control(s: Setting) {
    const value = valueOf(step, s)
    if (s.choices)
      return (
        <Chooser
          key={s.id}
          label={s.label}
          help={s.help}
          choices={s.choices}
          value={String(value)}
          dim={!active}
          onBrowse={
            s.choices.some((c) => c.group) || s.choices.length > 3
              ? () => openStrip(axisOf(kind, s), graded && axisOf(kind, graded))
              : undefined
          }
          onChange={(id) => studio.edit({ op: 'set', station, kind: name, setting: s.id, value: id })}
        />
      )
    return (
      <Fragment key={s.id}>
        <Dial
          {...scaleOf(s)}
          value={value as number}
          dim={!active}
          beside={s.pick && <PickSetting editing={editing} setting={s} />}
          onChange={(v, gesture, hurry) => change(editing, { [s.id]: v }, gesture, hurry)}
          onReset={() => studio.edit({ op: 'reset', station, kind: name, setting: s.id })}
        />
        {s.away && value !== initialOf(s) && <p className="m-0 text-xs text-dim">{s.away}</p>}
      </Fragment>
    )
  }

  function key(e: KeyboardEvent<HTMLElement>) {
    const command = e.ctrlKey || e.metaKey
    const onCard = e.target === e.currentTarget
    if (e.altKey && kind.repeatable && (e.key === 'ArrowUp' || e.key === 'ArrowDown') && onCard) {
      e.preventDefault()
      e.stopPropagation()
      moveStep(station, name, e.key === 'ArrowUp' ? -1 : 1)
    } else if (onCard && (e.key === 'ArrowUp' || e.key === 'ArrowDown')) {
      e.preventDefault()
      const cards = [...document.querySelectorAll<HTMLElement>('[data-kind]')]
      cards[cards.indexOf(e.currentTarget) + (e.key === 'ArrowUp' ? -1 : 1)]?.focus()
    } else if (onCard && e.key === 'Enter' && step?.again?.length) void seen(station, name)
    else if (onCard && e.key === 'Enter') fold(station, name, !folded)
    else if (onCard && e.key === 'Delete' && kind.repeatable && step) {
      const all = desk.get().chosen
      removeSteps(station, all.includes(name) ? all : [name])
    } else if (commandOf(written(e)) === 'copy' && !(e.target instanceof HTMLInputElement)) {
      const all = desk.get().chosen
      copySteps(station, all.includes(name) ? all : [name])
    } else if (
      kind.editor === 'printerlights' &&
      !command &&
      !e.altKey &&
      !(e.target instanceof HTMLInputElement) &&
      pressLight(editing, e.key, e.shiftKey)
    ) {
      e.preventDefault()
      e.stopPropagation()
    }
  }

  return (
    // a card is one thing to the keyboard: it takes the focus whole, and keys act on all of it
    // eslint-disable-next-line jsx-a11y/no-noninteractive-element-interactions
    <section
      ref={box}
      aria-label={title}
      className={`relative rounded-[4px] border bg-wall px-2.5 pt-1.5 ${folded ? 'pb-0.5' : 'pb-2'} ${chosen ? 'border-plum' : current ? 'border-dim' : 'border-line'}`}
      data-kind={path}
      data-active={active}
      // eslint-disable-next-line jsx-a11y/no-noninteractive-tabindex
      tabIndex={kind.repeatable || kind.editor === 'printerlights' ? 0 : -1}
      onKeyDown={key}
      onFocus={() => activate(path)}
      onPointerDown={() => activate(path)}
    >
      <div
        role="presentation"
        className="mb-1 flex h-6 items-center gap-1"
        onClick={(e) => {
          if (kind.repeatable && (e.shiftKey || e.ctrlKey || e.metaKey)) choose(station, name, e.shiftKey ? 'upto' : 'beside')
        }}
      >
        {kind.repeatable && step && (
          <Tip help="Drag to another place; with the card in focus, Alt and the arrows move it." side="left">
            <span
              role="presentation"
              data-grip
              className="absolute left-0 cursor-grab touch-none px-[1px] py-1 text-[9px] leading-none text-dim hover:text-text"
              onPointerDown={onGrip}
            >
              ⠿
            </span>
          </Tip>
        )}
        {!kind.fixed && (
          <Toggle on={!!step?.on} label={`${title} on`} onChange={(v) => studio.edit({ op: v ? 'on' : 'off', station, kind: name })} />
        )}
        <Name entry={entry} title={title} active={active} folded={folded} />
        <div className="ml-auto flex shrink-0 items-center">
          {!folded && <StepViews kind={kind} path={path} title={title} active={active} />}
          {touched && (
            <Tip help="All of this step back to its defaults" side="left">
              <button
                type="button"
                aria-label={`Reset ${title}`}
                className="rounded-sm px-0.5 text-sm leading-none text-dim hover:text-text"
                onClick={() => studio.edit({ op: 'clear', station, kind: name, gesture: newGesture() })}
              >
                ↺
              </button>
            </Tip>
          )}
          {kind.repeatable && <StepMenu entry={entry} title={title} />}
        </div>
      </div>
      {!folded && (
        <>
          <UnreadSettings step={step} />
          <Again kind={kind} name={name} step={step} />
          {!effect ? (
            <p className="m-0 mb-1 text-xs text-dim">{kind.unmet}</p>
          ) : (
            reason &&
            active && (
              <p className="m-0 mb-1 text-xs text-dim" data-testid="no-effect">
                {reason}
              </p>
            )
          )}
          <div className="grid grid-cols-[minmax(0,1fr)] gap-0.5">
            <ReadySettings editing={editing} title={title} />
            {Editor ? <Editor {...editing} /> : shownSettings.filter((s) => !s.fold).map(control)}
            {!Editor &&
              folds.map((f) => (
                <Fold key={f} title={f} settings={shownSettings.filter((s) => s.fold === f)} step={step} control={control}>
                  {kind.range?.fold === f && <RangePlot {...editing} range={kind.range} />}
                  {kind.gains?.fold === f && <GainPlot {...editing} gains={kind.gains} />}
                </Fold>
              ))}
            {kind.hasStrength && (
              <div className="mt-0.5 border-t border-line pt-1">
                <StrengthDial
                  help="How much of this step is mixed in. 0 is as if it were off."
                  share={step?.strength ?? 1}
                  dim={!active}
                  onShare={(value, gesture, hurry) => studio.edit({ op: 'strength', station, kind: name, value, gesture }, hurry)}
                />
              </div>
            )}
          </div>
          {kind.tool && <GrainTool path={path} on={!!step?.on} back={kind.tool === 'noise' && !!step?.on} />}
          {kind.keyed && <KeysOfStep kind={kind} name={name} step={entry.step} />}
          {kind.masks && <MatteSection kind={kind} name={name} step={step} />}
        </>
      )}
    </section>
  )
}

/** Settings under a heading that is closed until it is pressed; it tells how many of them are away from their defaults. */
function Fold({
  title,
  settings,
  step,
  control,
  children,
}: {
  title: string
  settings: Setting[]
  step: Entry['step']
  control: (s: Setting) => ReactNode
  children?: ReactNode
}) {
  const away = settings.filter((s) => valueOf(step, s) !== initialOf(s)).length
  const [open, setOpen] = useState(away > 0)
  return (
    <div role="group" aria-label={title} className="mt-0.5 border-t border-line pt-0.5">
      <button
        type="button"
        aria-expanded={open}
        className="flex h-6 w-full items-center gap-1.5 text-left text-soft hover:text-text"
        onClick={() => setOpen(!open)}
      >
        <span className="w-2 text-dim">{open ? '–' : '+'}</span>
        {title}
        {away > 0 && !open && <span className="text-xs text-plum">{away} set</span>}
      </button>
      {open && (
        <div className="grid grid-cols-[minmax(0,1fr)] gap-0.5">
          {children}
          {settings.map(control)}
        </div>
      )}
    </div>
  )
}

/** The step's name: pressed, the card folds; F2 or a double press lets it be typed over. */
function Name({ entry, title, active, folded }: { entry: Entry; title: string; active: boolean; folded: boolean }) {
  const { kind, name, step } = entry
  const [naming, setNaming] = useState(false)
  const tone = `min-w-0 truncate text-left font-semibold ${active ? 'text-text' : 'text-soft'}`
  if (!kind.repeatable)
    return (
      <Tip help={kind.purpose} side="left">
        <h3 className={tone}>{title}</h3>
      </Tip>
    )
  if (naming)
    return (
      <NameField
        label="Name of the step"
        className="h-5 min-w-0 grow rounded-sm bg-raise px-1 text-text"
        focused
        value={step?.title || title}
        onName={(text) => studio.edit({ op: 'title', station: kind.station, kind: name, name: text === kind.label ? '' : text })}
        onDone={() => setNaming(false)}
      />
    )
  return (
    <h3 className="m-0 flex min-w-0">
      <Tip help={`${kind.purpose} Press to ${folded ? 'unfold' : 'fold'}; double press to name it.`} side="left">
        <button
          type="button"
          aria-expanded={!folded}
          className={tone}
          onClick={(e) => !(e.shiftKey || e.ctrlKey || e.metaKey) && e.detail < 2 && fold(kind.station, name, !folded)}
          onDoubleClick={() => {
            fold(kind.station, name, false)
            setNaming(true)
          }}
          onKeyDown={(e) => e.key === 'F2' && setNaming(true)}
        >
          {title}
        </button>
      </Tip>
    </h3>
  )
}

/** What else can be done with a step. */
function StepMenu({ entry, title }: { entry: Entry; title: string }) {
  const { kind, name, step } = entry
  const { station } = kind
  const lands = useStudio((s) => landing(s.docs, s.level, station))
  const docs = useStudio((s) => s.docs)
  const levels = step && addsUp(station) ? upwards.filter((l) => docs[l] && l !== lands) : []
  const groups = [
    {
      title: '',
      items: [
        { id: 'again', label: `Another ${kind.label.toLowerCase()}`, note: 'A further step of this kind, after all others' },
        ...(step
          ? [
              { id: 'up', label: 'Move up' },
              { id: 'down', label: 'Move down' },
              { id: 'copy', label: 'Copy' },
              { id: 'choose', label: 'Choose with others' },
              ...(Object.keys(step.settings ?? {}).length > 0 ? [{ id: 'ready', label: 'Keep its settings ready' }] : []),
              { id: 'remove', label: 'Remove' },
            ]
          : []),
      ],
    },
    {
      title: 'Level',
      items: levels.map((l) => ({
        id: `to:${l}`,
        label: `Move to the ${l}`,
        note: l === 'shot' ? 'it acts on this shot alone then' : `it acts on all shots of the ${l} then`,
      })),
    },
  ]
  function act(id: string) {
    if (id.startsWith('to:')) studio.edit({ op: 'lift', station, kind: name, value: id.slice(3) })
    if (id === 'again') studio.edit({ op: 'add', station, kind: kind.id })
    if (id === 'up') moveStep(station, name, -1)
    if (id === 'down') moveStep(station, name, 1)
    if (id === 'copy') copySteps(station, [name])
    if (id === 'ready') desk.set({ keepingReady: `${station}.${name}` })
    if (id === 'choose') choose(station, name, 'beside')
    if (id === 'remove') removeSteps(station, [name])
  }
  return (
    <Menu bare label={`More for ${title}`} value="" groups={groups} onChange={act}>
      <span className="text-dim">⋮</span>
    </Menu>
  )
}
