import { Button } from '../controls/Button'
import { Tip } from '../controls/Tip'
import { shotOf, studio, useStudio, type Other } from '../state/studio'
import { AddShot } from './AddShot'
import { DeliverDialog } from './DeliverDialog'
import { HelpSheet } from './HelpSheet'
import { LibrarySheet } from './LibrarySheet'

/** Where we are, what can be taken back, what to compare with, and the way out. */
export function Header() {
  const shot = useStudio(shotOf)
  const reel = useStudio((s) => s.reels.find((r) => r.shots.some((x) => x.id === s.shotId)))
  const display = useStudio((s) => {
    const step = s.look?.stations['screen']?.steps?.find((x) => x.kind === 'display')
    return (step?.settings?.['id'] as string | undefined) ?? 'bt1886'
  })
  const before = useStudio((s) => s.before)
  const wipe = useStudio((s) => s.wipe !== null)
  const other = useStudio((s) => s.otherSide)
  const connected = useStudio((s) => s.connected)
  return (
    <header className="flex h-full items-center gap-4 border-b border-line px-3.5">
      <h1 className="text-base font-bold tracking-[0.16em]">VELOURS</h1>
      <span className="truncate text-soft">{reel?.name}</span>
      <span className="truncate font-medium" data-testid="shot-name">
        {shot?.name}
      </span>
      {shot && (
        <Tip help={shot.doubt || 'What the numbers of the file are taken for, what they are worked on as, and what they are shown on.'}>
          <span className={`shrink-0 text-xs ${shot.encoding && !shot.doubt ? 'text-dim' : 'text-amber'}`} data-testid="path-line">
            {shot.encoding || 'undeclared'} → ACEScg → {display}
          </span>
        </Tip>
      )}
      {!connected && <span className="text-amber">Velours does not answer; trying again</span>}
      <span className="ml-auto" />
      <div className="flex items-center gap-1.5">
        <Tip help={shot?.undo ? `Take back: ${shot.undo}` : 'Nothing to take back'} keys="Ctrl Z">
          <Button disabled={!shot?.undo} onClick={() => void studio.undo()}>
            Undo
          </Button>
        </Tip>
        <Tip help={shot?.redo ? `Do again: ${shot.redo}` : 'Nothing to do again'} keys="Ctrl Shift Z">
          <Button disabled={!shot?.redo} onClick={() => void studio.redo()}>
            Redo
          </Button>
        </Tip>
      </div>
      <div className="flex items-center gap-1.5" role="group" aria-label="Compare">
        <Tip help="Hold to see the other side in place of the picture." keys="\">
          <Button
            active={before}
            onPointerDown={() => studio.setBefore(true)}
            onPointerUp={() => studio.setBefore(false)}
            onPointerLeave={() => studio.setBefore(false)}
          >
            Before
          </Button>
        </Tip>
        <Tip help="A line across the picture: the other side on its left. Drag it." keys="W">
          <Button active={wipe} onClick={() => studio.toggleWipe()}>
            Wipe
          </Button>
        </Tip>
        <Tip help="What the other side shows: this shot by the neutral scale with its film steps off, or as it entered, conversion alone.">
          <select
            aria-label="Other side"
            className="h-6 rounded-sm border border-line bg-room px-1 text-sm text-soft"
            value={other}
            onChange={(e) => studio.setOther(e.currentTarget.value as Other)}
          >
            <option value="film">without film</option>
            <option value="entered">as it entered</option>
          </select>
        </Tip>
      </div>
      <div className="flex items-center gap-1.5">
        <AddShot />
        <LibrarySheet />
        <HelpSheet />
        <DeliverDialog />
      </div>
    </header>
  )
}
