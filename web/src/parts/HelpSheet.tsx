import { useEffect, useState } from 'react'
import { Button } from '../controls/Button'
import { Sheet } from '../controls/Sheet'

const keys: [string, string][] = [
  ['1 – 7', 'open a station'],
  [', and .', 'a frame back, a frame forward'],
  ['Space', 'play, stop'],
  ['I and O', 'in and out at this frame; again takes them away'],
  ['\\ held', 'the other side in place of the picture'],
  ['W, Shift W', 'wipe; side by side'],
  ['D', 'difference to the other side'],
  ['T', 'test strip'],
  ['P', 'pin this frame'],
  ['G', 'scopes'],
  ['X', 'false colour'],
  ['C, Shift C', 'clipping on the display; of the film'],
  ['E held over a card', 'its step at the top of its range'],
  ['H', 'play the held frame: grain alone moves'],
  ['Shift and drag on the picture', 'a box for the scopes'],
  ['Escape', 'back to the picture'],
  ['Z, + and −, wheel', 'fit or one to one; larger, smaller'],
  ['F', 'nothing but the picture'],
  ['B', 'surround: black, dark, grey, white'],
  ['Ctrl Z, Ctrl Shift Z', 'undo, redo'],
  ['arrows on a card', 'the card above, below; with Alt the step moves'],
  ['Enter, F2, Delete on a card', 'fold it; on its name, name it; take the step away'],
  ['Ctrl C, Ctrl V', 'copy the step of the card, or all that are chosen; paste'],
  ['Shift or Ctrl and a press on a card', 'choose several'],
  ['R G B A on a card of printer lights', 'a point more; with Shift a point less'],
  ['arrows, +, Delete on a handle', 'move it; add a point, take it away'],
  ['arrows on the picture while picking', 'move the cross; Enter takes'],
  ['arrows on a value', 'step; with Shift coarse, with Alt fine'],
  ['1/3, +=0.5, *2 typed', 'simple arithmetic; with = from the value there is'],
  ['double-click, Backspace', 'a value back to its default'],
  ['?', 'this sheet'],
]

/** Every key there is. */
export function HelpSheet() {
  const [open, setOpen] = useState(false)
  useEffect(() => {
    const show = () => setOpen(true)
    window.addEventListener('velours-help', show)
    return () => window.removeEventListener('velours-help', show)
  }, [])
  return (
    <Sheet
      title="Keys"
      about="Rest the pointer on any name for what it does and which way people usually go."
      open={open}
      onOpen={setOpen}
      trigger={<Button aria-label="Keys and help">?</Button>}
    >
      <dl className="grid grid-cols-[150px_1fr] gap-y-1.5">
        {keys.map(([k, what]) => (
          <div key={k} className="contents">
            <dt className="text-text">{k}</dt>
            <dd className="m-0 text-soft">{what}</dd>
          </div>
        ))}
      </dl>
    </Sheet>
  )
}
