import { useEffect, useState, type KeyboardEvent } from 'react'
import { Button } from '../controls/Button'
import { Drawer } from '../controls/Drawer'
import { Tip } from '../controls/Tip'
import { bind, commandOf, commands, keyLabel, keymap, usualKeys, written, type Command } from '../state/keymap'

/** Keys of single controls, which belong to what they stand on and are always there. */
const others: [string, string][] = [
  ['arrows on a card', 'the card above, below; with Alt the step moves'],
  ['Enter, F2, Delete on a card', 'fold it; on its name, name it; take the step away'],
  ['Shift or Ctrl and a press on a card', 'choose several'],
  ['R G B A on a card of printer lights', 'a point more; with Shift a point less'],
  ['arrows, +, Delete on a handle', 'move it; add a point, take it away'],
  ['arrows on the picture while picking', 'move the cross; Enter takes'],
  ['arrows on a value', 'step; with Shift coarse, with Alt fine'],
  ['1/3, +=0.5, *2 typed', 'simple arithmetic; with = from the value there is'],
  ['double-click, Backspace', 'a value back to its default'],
  ['wheel on the picture', 'larger, smaller'],
  ['Shift and drag on the picture', 'a box for the scopes'],
]

/** Every key there is; those of commands can be changed and switched off. */
export function KeysDrawer() {
  const [open, setOpen] = useState(false)
  const changed = keymap.use((s) => Object.keys(s.own).length > 0)
  useEffect(() => {
    const show = () => setOpen(true)
    window.addEventListener('velours-help', show)
    return () => window.removeEventListener('velours-help', show)
  }, [])
  const groups = [...new Set(commands.map((c) => c.group))]
  return (
    <Drawer
      title="Keys"
      about="Press a key here to give its command another, or to switch it off. Rest the pointer on any name for what it does and which way people usually go."
      open={open}
      onOpen={setOpen}
      trigger={<Button aria-label="Keys and help">?</Button>}
    >
      {changed && (
        <div className="mb-2">
          <Button onClick={usualKeys}>All keys as usual</Button>
        </div>
      )}
      {groups.map((g) => (
        <section key={g} aria-label={g} className="mb-3">
          <h3 className="m-0 mb-1 text-dim">{g}</h3>
          <ul className="m-0 grid list-none gap-0.5 p-0">
            {commands
              .filter((c) => c.group === g)
              .map((c) => (
                <KeyRow key={c.id} id={c.id} label={c.label} />
              ))}
          </ul>
        </section>
      ))}
      <h3 className="m-0 mb-1 text-dim">On single controls</h3>
      <dl className="m-0 grid grid-cols-[150px_1fr] gap-y-1.5">
        {others.map(([k, what]) => (
          <div key={k} className="contents">
            <dt className="text-text">{k}</dt>
            <dd className="m-0 text-soft">{what}</dd>
          </div>
        ))}
      </dl>
    </Drawer>
  )
}

/** One command with its key: pressed, it waits for the next key. */
function KeyRow({ id, label }: { id: Command; label: string }) {
  const key = keymap.use((s) => keyLabel(id, s.own))
  const [waits, setWaits] = useState(false)
  const [taken, setTaken] = useState('')
  function press(e: KeyboardEvent) {
    if (!waits) return
    const next = written(e)
    if (!next || next === 'Tab') return
    e.preventDefault()
    e.stopPropagation()
    setWaits(false)
    const other = commandOf(next)
    setTaken(other && other !== id ? `taken from “${commands.find((c) => c.id === other)!.label}”` : '')
    bind(id, next)
  }
  return (
    <li className="flex min-h-6 items-center gap-2">
      <Tip help="Press for another key" side="left">
        <button
          type="button"
          aria-label={`Key of: ${label}`}
          aria-pressed={waits}
          className={`h-6 w-28 shrink-0 truncate rounded-sm border px-2 text-left ${waits ? 'border-plum text-plum' : 'border-line text-text hover:border-dim'}`}
          onClick={() => setWaits(!waits)}
          onKeyDown={press}
          onBlur={() => setWaits(false)}
        >
          {waits ? 'press a key' : key || 'off'}
        </button>
      </Tip>
      <span className="grow text-soft">
        {label}
        {taken && <span className="text-dim"> ({taken})</span>}
      </span>
      {key && (
        <Tip help="Switch this key off" side="left">
          <button
            type="button"
            aria-label={`No key for: ${label}`}
            className="px-1 text-dim hover:text-text"
            onClick={() => {
              setTaken('')
              bind(id, null)
            }}
          >
            ×
          </button>
        </Tip>
      )}
    </li>
  )
}
