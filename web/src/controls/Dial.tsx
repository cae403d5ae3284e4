import { Slider } from 'radix-ui'
import { useRef, useState, type KeyboardEvent, type ReactNode } from 'react'
import { evaluate, nudgeOf, places, tidy } from '../model/number'
import { travelOf } from '../model/travel'
import type { NumberProps } from './number'
import { newGesture } from '../api/gesture'
import { Tip } from './Tip'

interface DialProps extends NumberProps {
  /** Above 1 gives more travel at the low end, or about 0 where that lies within. */
  curve?: number
  /** Words for values: notches on the line, at which a drag stays for a little. */
  names?: Record<string, number>
  /** What stands beside the name. */
  beside?: ReactNode
}

/** How near to a notch, as a share of the line, a drag is held by it. */
const NOTCH = 0.012

/** One value: a name with help, a line to draw along, a number to type. Double-click or Backspace puts the default back. */
export function Dial(p: DialProps) {
  const gesture = useRef('')
  const [typed, setTyped] = useState<string | null>(null)
  const travel = travelOf(p.min, p.max, p.curve)
  const notches = Object.entries(p.names ?? {})
  const word = notches.find(([, v]) => Math.abs(v - p.value) < 1e-9)?.[0]
  const held = (u: number) => notches.find(([, v]) => Math.abs(travel.place(v) - u) < NOTCH)?.[1] ?? tidy(travel.value(u), p.step)
  const at = travel.place(p.value)
  const home = travel.place(p.initial)
  const signed = p.min < 0 && p.initial === 0
  const shown = (signed && p.value > 0 ? '+' : '') + p.value.toFixed(places(p.step, 2))

  function nudge(event: KeyboardEvent) {
    const by = nudgeOf(event, p.step)
    if (by) {
      event.preventDefault()
      p.onChange(Math.max(p.min, Math.min(p.max, Number((p.value + by).toFixed(4)))), newGesture(), false)
    } else if (event.key === 'Backspace' || event.key === 'Delete') {
      event.preventDefault()
      p.onReset()
    }
  }
  function commit(text: string) {
    setTyped(null)
    const v = evaluate(text, p.value)
    if (v !== undefined) p.onChange(Math.max(p.min, Math.min(p.max, v)), newGesture(), false)
  }

  return (
    <div className={`grid h-6 grid-cols-[84px_minmax(0,1fr)_94px] items-center gap-2 ${p.dim ? 'opacity-50' : ''}`}>
      <span
        className="flex min-w-0 items-baseline gap-1"
        onDoubleClick={(e) => !(e.target instanceof Element && e.target.closest('button')) && p.onReset()}
      >
        <Tip help={p.help} side="left">
          <span className="truncate text-soft">{p.label}</span>
        </Tip>
        {p.beside}
      </span>
      <Slider.Root
        className="relative flex h-5 touch-none items-center"
        min={0}
        max={1}
        step={0.0005}
        value={[at]}
        onPointerDown={() => (gesture.current = newGesture())}
        onValueChange={([u]) => p.onChange(held(u!), gesture.current || newGesture(), true)}
        onValueCommit={() => (gesture.current = '')}
        onDoubleClick={p.onReset}
      >
        <Slider.Track className="relative h-[2px] grow bg-line">
          <span
            className="absolute h-full bg-soft"
            style={{ left: `${100 * Math.min(at, home)}%`, width: `${100 * Math.abs(at - home)}%` }}
          />
          <span className="absolute -top-[2px] h-[6px] w-px bg-dim" style={{ left: `${100 * home}%` }} />
          {notches.map(([name, v]) => (
            <span key={name} className="absolute top-[4px] h-[3px] w-px bg-dim" style={{ left: `${100 * travel.place(v)}%` }} />
          ))}
        </Slider.Track>
        <Slider.Thumb
          aria-label={p.label}
          aria-valuetext={`${shown} ${word ?? p.unit ?? ''}`}
          onKeyDown={nudge}
          className="block h-[13px] w-[3px] rounded-[1px] bg-text outline-offset-4"
        />
      </Slider.Root>
      <label className="flex items-baseline justify-end gap-1 text-right">
        <input
          aria-label={`${p.label}, value`}
          className="w-10 min-w-0 rounded-sm bg-transparent text-right text-text hover:bg-raise focus:bg-raise"
          value={typed ?? shown}
          onFocus={(e) => e.currentTarget.select()}
          onChange={(e) => setTyped(e.currentTarget.value)}
          onBlur={(e) => typed !== null && commit(e.currentTarget.value)}
          onDoubleClick={p.onReset}
          onKeyDown={(e) => {
            if (e.key === 'Enter') e.currentTarget.blur()
            if (e.key === 'Escape') {
              setTyped(null)
              e.currentTarget.blur()
            }
            if (e.key === 'ArrowUp' || e.key === 'ArrowDown') nudge(e)
            e.stopPropagation()
          }}
        />
        <span className="w-[46px] shrink-0 truncate text-left text-xs text-dim">{word ?? p.unit}</span>
      </label>
    </div>
  )
}
