import { useState } from 'react'
import { Button } from '../controls/Button'
import { Sheet } from '../controls/Sheet'
import { studio } from '../state/studio'

/** Brings a file or sequence in. */
export function AddShot() {
  const [open, setOpen] = useState(false)
  const [path, setPath] = useState('')
  const [busy, setBusy] = useState(false)
  async function add() {
    setBusy(true)
    const done = await studio.addShot(path.trim())
    setBusy(false)
    if (done) {
      setOpen(false)
      setPath('')
    }
  }
  return (
    <Sheet
      title="Add a shot"
      about="A movie, a still, or a sequence with a counter such as /rushes/a.%06d.exr, by its place on this machine. It comes in clean: nothing is on but its conversion."
      open={open}
      onOpen={setOpen}
      trigger={<Button>Add</Button>}
    >
      <form
        className="flex gap-2"
        onSubmit={(e) => {
          e.preventDefault()
          void add()
        }}
      >
        <input
          aria-label="Path of the file"
          className="h-7 min-w-0 grow rounded-sm border border-line bg-room px-2"
          value={path}
          placeholder="/rushes/scene-1.mov"
          onChange={(e) => setPath(e.currentTarget.value)}
          onKeyDown={(e) => e.stopPropagation()}
        />
        <Button type="submit" active disabled={busy || !path.trim()} className="h-7">
          {busy ? 'Reading' : 'Add'}
        </Button>
      </form>
    </Sheet>
  )
}
