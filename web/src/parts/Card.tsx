import type { Kind, Setting } from '../api/types.gen'
import { Chooser } from '../controls/Chooser'
import { Dial, newGesture } from '../controls/Dial'
import { Tip } from '../controls/Tip'
import { Toggle } from '../controls/Toggle'
import { hasEffect, initialOf, isActive, stepOf, valueOf } from '../state/look'
import { declare } from '../state/footage'
import { judge } from '../state/judge'
import { shotOf, studio, useStudio } from '../state/studio'
import { StepViews } from './StepViews'

/** One step: its switch, its name, its controls, its strength, and a way back. All of it comes from the declaration. */
export function Card({ kind }: { kind: Kind }) {
  const look = useStudio((s) => s.look)!
  const encoding = useStudio((s) => shotOf(s)?.encoding)
  const step = stepOf(look, kind)
  const kinds = useStudio((s) => s.desk)!.kinds
  const effect = hasEffect(look, kinds, kind)
  const active = isActive(look, kind) && effect
  const { station } = kind
  const rests = judge.use((s) => s.rests[`${station}.${kind.id}`])
  const declares = station === 'intake' && kind.id === 'encoding'
  const touched = !!step && (Object.keys(step.settings ?? {}).length > 0 || step.strength !== 1)

  function control(s: Setting) {
    const value = declares ? (encoding ?? '') : valueOf(step, s)
    if (s.choices)
      return (
        <Chooser
          key={s.id}
          label={s.label}
          help={s.help}
          choices={s.choices}
          value={String(value)}
          dim={!active}
          empty={declares ? 'Not declared: choose' : undefined}
          onChange={(id) => (declares ? void declare(id) : studio.edit({ op: 'set', station, kind: kind.id, setting: s.id, value: id }))}
        />
      )
    return (
      <Dial
        key={s.id}
        label={s.label}
        help={s.help}
        unit={s.unit}
        min={s.min}
        max={s.max}
        step={s.step ?? 0.01}
        initial={initialOf(s) as number}
        curve={s.curve}
        value={value as number}
        dim={!active}
        onChange={(v, gesture, hurry) => studio.edit({ op: 'set', station, kind: kind.id, setting: s.id, value: v, gesture }, hurry)}
        onReset={() => studio.edit({ op: 'reset', station, kind: kind.id, setting: s.id })}
      />
    )
  }

  return (
    <section aria-label={kind.label} className="rounded-[4px] border border-line bg-wall px-2.5 pb-2 pt-1.5" data-kind={`${station}.${kind.id}`} data-active={active} tabIndex={-1}>
      <div className="mb-1 flex h-6 items-center gap-1.5">
        {!kind.fixed && <Toggle on={!!step?.on} label={`${kind.label} on`} onChange={(v) => studio.edit({ op: v ? 'on' : 'off', station, kind: kind.id })} />}
        <Tip help={kind.purpose} side="left">
          <h3 className={`min-w-0 truncate font-semibold ${active ? 'text-text' : 'text-soft'}`}>{kind.label}</h3>
        </Tip>
        <span className="grow" />
        <StepViews kind={kind} active={active} />
        {touched && !declares && (
          <Tip help="All of this step back to its defaults" side="left">
            <button type="button" aria-label={`Reset ${kind.label}`} className="rounded-sm px-0.5 text-sm leading-none text-dim hover:text-text" onClick={() => studio.edit({ op: 'clear', station, kind: kind.id, gesture: newGesture() })}>
              ↺
            </button>
          </Tip>
        )}
      </div>
      {!effect ? <p className="m-0 mb-1 text-xs text-dim">{kind.idle}</p> : rests && active && <p className="m-0 mb-1 text-xs text-dim" data-testid="rests">{rests}</p>}
      <div className="grid gap-0.5">
        {kind.settings.filter((s) => !s.only || s.only.includes(String(valueOf(step, kind.settings[0]!)))).map(control)}
        {kind.mixes && (
          <div className="mt-0.5 border-t border-line pt-1">
            <Dial
              label="Strength"
              help="How much of this step is mixed in. 0 is as if it were off."
              unit="%"
              min={0}
              max={100}
              step={1}
              initial={100}
              value={Math.round((step?.strength ?? 1) * 1000) / 10}
              dim={!active}
              onChange={(v, gesture, hurry) => studio.edit({ op: 'strength', station, kind: kind.id, value: v / 100, gesture }, hurry)}
              onReset={() => studio.edit({ op: 'strength', station, kind: kind.id, value: 1 })}
            />
          </div>
        )}
      </div>
    </section>
  )
}
