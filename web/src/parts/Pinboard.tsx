import type { Pin } from '../api/types.gen'
import { Button } from '../controls/Button'
import { Canvas } from '../controls/Canvas'
import { FilePick } from '../controls/FilePick'
import { NameField } from '../controls/TextField'
import { Drawer } from '../controls/Drawer'
import { Tip } from '../controls/Tip'
import { judge } from '../state/judge'
import { setLayout, setSide } from '../state/judging'
import { addReferences, pinboard, pinFrame, removePin, renamePin, takePin } from '../state/pins'
import { shotOf, useStudio } from '../state/studio'
import { KeyTip } from './KeyTip'

/** Frozen frames with the settings that made them, and stills from elsewhere, to compare with. */
export function Pinboard() {
  const { open, pins } = pinboard.use((s) => s)
  const shot = useStudio(shotOf)
  return (
    <Drawer
      title="Pinboard"
      about="A pin is a frame as it is now, together with the settings that made it. A reference is a still from elsewhere, made for a display. Either can be the other side of a comparison."
      open={open}
      onOpen={(o) => pinboard.set({ open: o })}
      trigger={<Button aria-label="Pinboard">Pins{pins.length > 0 && <span className="ml-1 text-dim">{pins.length}</span>}</Button>}
    >
      <div className="mb-3 flex gap-2">
        <KeyTip help="Freeze this frame with its settings" command="pin">
          <Button disabled={!shot} onClick={() => void pinFrame()}>
            Pin this frame
          </Button>
        </KeyTip>
        <Tip help="A picture file made for a display: PNG, JPEG, TIFF. It is kept with the reel">
          <span>
            <FilePick
              multiple
              disabled={!shot}
              accept=".png,.jpg,.jpeg,.tif,.tiff,.exr,.dpx"
              testid="add-reference"
              onFiles={(files) => void addReferences(files)}
            >
              Add a reference
            </FilePick>
          </span>
        </Tip>
      </div>
      {pins.length === 0 && <p className="text-dim">Nothing is pinned yet. Press P over a frame that you want to come back to.</p>}
      <ul className="grid grid-cols-2 gap-3">
        {pins.map((p) => (
          <Pinned key={p.id} pin={p} />
        ))}
      </ul>
    </Drawer>
  )
}

function Pinned({ pin }: { pin: Pin }) {
  const picture = pinboard.use((s) => s.pictures[pin.id])
  const side = judge.use((s) => s.side === `pin:${pin.id}`)
  function compare() {
    setSide(`pin:${pin.id}`)
    if (judge.get().layout === 'one') setLayout('wipe')
    pinboard.set({ open: false })
  }
  return (
    <li data-pin={pin.id}>
      <button
        type="button"
        className={`block aspect-video w-full overflow-hidden rounded-[2px] bg-black outline outline-1 hover:outline-text ${side ? 'outline-plum' : 'outline-line'}`}
        aria-label={`Compare with ${pin.name}`}
        onClick={compare}
      >
        <Canvas picture={picture} className="h-full w-full object-contain" />
      </button>
      <NameField
        label="Name of the pin"
        className="mt-1 w-full rounded-sm bg-transparent text-text hover:bg-raise focus:bg-raise"
        value={pin.name}
        onName={(name) => name && void renamePin(pin.id, name)}
      />
      <div className="flex items-center gap-2 text-xs text-dim">
        <span className="truncate">{pin.reference ? `reference, ${pin.display}` : `frame ${pin.frame}`}</span>
        <span className="grow" />
        {!pin.reference && (
          <Tip help="Give the open shot these settings; undo brings its own back">
            <button type="button" className="rounded-sm px-1 hover:text-text" onClick={() => void takePin(pin.id)}>
              take
            </button>
          </Tip>
        )}
        <Tip help={pin.reference ? 'Take the reference off the board' : 'Take the pin off the board'}>
          <button type="button" className="rounded-sm px-1 hover:text-text" onClick={() => void removePin(pin.id)}>
            remove
          </button>
        </Tip>
      </div>
    </li>
  )
}
