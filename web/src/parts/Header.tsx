import { windowId } from '../api/gesture'
import type { Change } from '../api/types.gen'
import { Button } from '../controls/Button'
import { Tip } from '../controls/Tip'
import { shotOf, studio, useStudio } from '../state/studio'
import { KeyTip } from './KeyTip'
import { AddShot } from './AddShot'
import { CompareCluster } from './CompareCluster'
import { DeliverDialog } from './DeliverDialog'
import { KeysDrawer } from './KeysDrawer'
import { LibraryDrawer } from './LibraryDrawer'
import { Pinboard } from './Pinboard'
import { TestStrip } from './TestStrip'

/** Where we are, what can be taken back, what to compare with, and the way out. */
export function Header() {
  const shot = useStudio(shotOf)
  const reel = useStudio((s) => s.reels.find((r) => r.shots.some((x) => x.id === s.shotId)))
  const display = useStudio((s) => {
    const step = s.look?.stations['screen']?.steps?.find((x) => x.kind === 'display')
    return (step?.settings?.['id'] as string | undefined) ?? 'bt1886'
  })
  const connected = useStudio((s) => s.connected)
  return (
    <header className="flex h-full items-center gap-3 border-b border-line px-3">
      <h1 className="text-base font-bold tracking-[0.16em]">VELOURS</h1>
      <span className="hidden min-w-0 truncate text-soft min-[1440px]:inline">{reel?.name}</span>
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
        <KeyTip help={shot?.undo.label ? `Take back: ${told(shot.undo)}` : 'Nothing to take back'} command="undo">
          <Button disabled={!shot?.undo.label} onClick={() => void studio.undo()}>
            Undo
          </Button>
        </KeyTip>
        <KeyTip help={shot?.redo.label ? `Do again: ${told(shot.redo)}` : 'Nothing to do again'} command="redo">
          <Button disabled={!shot?.redo.label} onClick={() => void studio.redo()}>
            Redo
          </Button>
        </KeyTip>
      </div>
      <CompareCluster />
      <div className="flex items-center gap-1.5">
        <TestStrip />
        <Pinboard />
        <AddShot />
        <LibraryDrawer />
        <KeysDrawer />
        <DeliverDialog />
      </div>
    </header>
  )
}

/** What a change is called, and whether another window made it. */
function told(change: Change): string {
  return change.window && change.window !== windowId ? `${change.label} (of another window)` : change.label
}
