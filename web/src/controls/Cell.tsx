import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react'
import { drag } from './drag'
import { evaluate, nudgeOf, places, tidy } from '../model/number'
import type { NumberProps } from './number'
import { newGesture } from '../api/gesture'
import { Tip } from './Tip'

interface CellProps extends NumberProps {
  /** A colour for the line under it: a channel's, or none. */
  mark?: string
}

/** A number in a grid: drag it sideways, type it, step it with arrows; double-click or Backspace puts the default back. */
export function Cell(p: CellProps) {
  const [typed, setTyped] = useState<string | null>(null)
  const input = useRef<HTMLInputElement>(null)
  const moved = useRef(false)
  const hold = (v: number) => Math.max(p.min, Math.min(p.max, v))
  const shown = (p.min < 0 && p.initial === 0 && p.value > 0 ? '+' : '') + p.value.toFixed(places(p.step))

  function down(e: PointerEvent<HTMLInputElement>) {
    if (e.button !== 0 || document.activeElement === input.current) return
    e.preventDefault()
    const target = e.currentTarget
    const start = { x: e.clientX, value: p.value }
    const gesture = newGesture()
    moved.current = false
    drag(e, (now, rest) => {
      const by = now.clientX - start.x
      if (moved.current || Math.abs(by) >= 3) {
        moved.current = true
        // two hundred pixels for the whole range, finer with Alt
        const v = hold(tidy(start.value + (by / 240) * (p.max - p.min) * (now.altKey ? 0.1 : 1), p.step))
        p.onChange(v, gesture, !rest)
      }
      if (!rest) return
      target.focus()
      if (!moved.current) target.select()
    })
  }
  function key(e: KeyboardEvent<HTMLInputElement>) {
    e.stopPropagation()
    if (e.key === 'Enter') e.currentTarget.blur()
    if (e.key === 'Escape') {
      setTyped(null)
      e.currentTarget.blur()
    }
    const by = e.key === 'ArrowUp' || e.key === 'ArrowDown' ? nudgeOf(e, p.step) : 0
    if (by) {
      e.preventDefault()
      p.onChange(hold(Number((p.value + by).toFixed(5))), newGesture(), false)
    } else if (
      (e.key === 'Backspace' || e.key === 'Delete') &&
      typed === null &&
      e.currentTarget.selectionStart === 0 &&
      e.currentTarget.selectionEnd === shown.length
    ) {
      e.preventDefault()
      p.onReset()
    }
  }
  function commit(text: string) {
    setTyped(null)
    const v = evaluate(text, p.value)
    if (v !== undefined) p.onChange(hold(v), newGesture(), false)
  }
  const away = Math.abs(p.value - p.initial) > 1e-9
  return (
    <Tip help={p.help + (p.unit ? ` In ${p.unit}.` : '')} side="left">
      <input
        ref={input}
        aria-label={p.label}
        inputMode="decimal"
        className={`h-[22px] w-full min-w-0 cursor-ew-resize rounded-sm border bg-room px-1 text-center text-xs focus:cursor-text focus:bg-raise ${away ? 'border-dim text-text' : 'border-line text-soft'} ${p.dim ? 'opacity-50' : ''}`}
        style={p.mark ? { borderBottomColor: p.mark } : undefined}
        value={typed ?? shown}
        onPointerDown={down}
        onFocus={(e) => e.currentTarget.select()}
        onChange={(e) => setTyped(e.currentTarget.value)}
        onBlur={(e) => typed !== null && commit(e.currentTarget.value)}
        onDoubleClick={p.onReset}
        onKeyDown={key}
      />
    </Tip>
  )
}
