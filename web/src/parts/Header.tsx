import { windowId } from '../api/gesture'
import type { Change } from '../api/types.gen'
import { Button } from '../controls/Button'
import { Cell } from '../controls/Cell'
import { Tip } from '../controls/Tip'
import { Toggle } from '../controls/Toggle'
import { wholeOf } from '../model/levels'
import { shotOf, studio, useStudio } from '../state/studio'
import { treat, treatmentOf } from '../state/treatment'
import { KeyTip } from './KeyTip'
import { AddShot } from './AddShot'
import { CompareCluster } from './CompareCluster'
import { DeliverDialog } from './DeliverDialog'
import { KeysDrawer } from './KeysDrawer'
import { LibraryDrawer } from './LibraryDrawer'
import { Pinboard } from './Pinboard'
import { TestStrip } from './TestStrip'
import { openStrip, wholeFilms } from '../state/testStrip'

/** Where we are, what can be taken back, what to compare with, and the way out. */
export function Header() {
  const shot = useStudio(shotOf)
  const { undo, redo } = useStudio((s) => s.open ?? s.reel) ?? {}
  const display = useStudio((s) => {
    const step = wholeOf(s.docs)?.stations['screen']?.steps?.find((x) => x.kind === 'display')
    return (step?.settings?.['id'] as string | undefined) ?? 'bt1886'
  })
  const connected = useStudio((s) => s.connected)
  return (
    <header className="flex h-full items-center gap-2 border-b border-line px-3">
      <h1 className="text-base font-bold tracking-[0.16em]">VELOURS</h1>
      <span className="min-w-10 truncate font-medium" data-testid="shot-name">
        {shot?.name}
      </span>
      {shot && (
        <Tip
          help={
            shot.doubt ||
            'What the numbers of the file are taken for, and what they are shown on. Between the two they are worked on as scene-linear ACEScg.'
          }
        >
          <span className={`shrink-0 text-xs ${shot.encoding && !shot.doubt ? 'text-dim' : 'text-amber'}`} data-testid="path-line">
            {shot.encoding || 'undeclared'} → {display}
          </span>
        </Tip>
      )}
      {shot && <TreatmentCell />}
      {!connected && <span className="text-amber">Velours does not answer; trying again</span>}
      <span className="ml-auto" />
      <div className="flex items-center gap-1.5">
        <KeyTip help={undo?.label ? `Take back: ${told(undo)}` : 'Nothing to take back'} command="undo">
          <Button disabled={!undo?.label} onClick={() => void studio.undo()}>
            Undo
          </Button>
        </KeyTip>
        <KeyTip help={redo?.label ? `Do again: ${told(redo)}` : 'Nothing to do again'} command="redo">
          <Button disabled={!redo?.label} onClick={() => void studio.redo()}>
            Redo
          </Button>
        </KeyTip>
      </div>
      <CompareCluster />
      <div className="flex items-center gap-1.5">
        <TestStrip />
        <Button
          title="Kept looks and recipes on this very frame; keep this one, write it to a file"
          disabled={!shot}
          onClick={() => openStrip(wholeFilms)}
        >
          Looks
        </Button>
        <Pinboard />
        <AddShot />
        <LibraryDrawer />
        <KeysDrawer />
        <DeliverDialog />
      </div>
    </header>
  )
}

/** The switch and the strength of the whole treatment. */
function TreatmentCell() {
  const docs = useStudio((s) => s.docs)
  const level = useStudio((s) => s.level)
  const t = treatmentOf(docs, level)
  const of = level === 'shot' || !docs[level] ? '' : ` of the ${level}`
  return (
    <div className="flex shrink-0 items-center gap-1" role="group" aria-label={`Treatment${of}`}>
      <KeyTip help={`All of the treatment${of}: lens, negative, print and finish. Intake, balance and screen stay.`} command="treatment">
        <span className="flex">
          <Toggle on={t.on} label={`Treatment${of} on`} onChange={(on) => treat(on)} />
        </span>
      </KeyTip>
      <div className="w-9">
        <Cell
          label={`Treatment${of}`}
          help="How much of lens, negative, print and finish together is mixed over the balanced picture"
          unit="%"
          min={0}
          max={100}
          step={1}
          initial={100}
          value={Math.round(t.strength * 1000) / 10}
          dim={!t.on}
          onChange={(v, gesture, hurry) => treat(v / 100, gesture, hurry)}
          onReset={() => treat(1)}
        />
      </div>
    </div>
  )
}

/** What a change is called, of which level it is if not of the shot, and whether another window made it. */
function told(change: Change): string {
  const of = change.of === 'scene' || change.of === 'reel' ? `, of the ${change.of}` : ''
  return `${change.label}${of}${change.window && change.window !== windowId ? ' (of another window)' : ''}`
}
