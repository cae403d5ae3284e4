import { useState } from 'react'
import type { ReelHead } from '../api/types.gen'
import { Button } from '../controls/Button'
import { Canvas } from '../controls/Canvas'
import { FullScreenDialog } from '../controls/FullScreenDialog'
import { Menu } from '../controls/Menu'
import { NameField } from '../controls/TextField'
import { changeReel, copyReel, goTo, newReel, openPage, placeReel, reelPage, travelPage } from '../state/reels'
import { useStudio } from '../state/studio'

/** All reels, with a frame of each. */
export function ReelsPage() {
  const { page, open } = reelPage.use((s) => s)
  const [archive, setArchive] = useState(false)
  const all = page?.reels ?? []
  const list = all.filter((r) => r.archived === archive)
  const away = all.filter((r) => r.archived).length
  return (
    <FullScreenDialog
      title="Reels"
      about="A reel is one job: its shots, their house look, pins and deliveries. What is removed here can be taken back; files are never touched."
      open={open}
      onOpen={openPage}
      head={
        <>
          <Button onClick={() => void newReel().then(() => openPage(false))}>New reel</Button>
          <Button
            disabled={!page?.undo.label}
            title={page?.undo.label ? `Take back: ${page.undo.label}` : 'Nothing to take back'}
            onClick={() => void travelPage('undo')}
          >
            Undo
          </Button>
          <Button
            disabled={!page?.redo.label}
            title={page?.redo.label ? `Do again: ${page.redo.label}` : 'Nothing to do again'}
            onClick={() => void travelPage('redo')}
          >
            Redo
          </Button>
          {(away > 0 || archive) && (
            <Button active={archive} onClick={() => setArchive(!archive)}>
              Archive {away > 0 && <span className="ml-1 text-dim">{away}</span>}
            </Button>
          )}
        </>
      }
    >
      <ul
        className="m-0 grid min-h-0 grid-cols-[repeat(auto-fill,minmax(208px,1fr))] content-start gap-4 overflow-y-auto p-0.5"
        data-testid="reels"
      >
        {list.length === 0 && <li className="text-dim">{archive ? 'Nothing is archived.' : 'No reels. Make one.'}</li>}
        {list.map((r, i) => (
          <Card key={r.id} reel={r} before={list[i - 1]?.id} after={list[i + 1] ? (list[i + 2]?.id ?? 0) : undefined} />
        ))}
      </ul>
    </FullScreenDialog>
  )
}

type Act = 'name' | 'copy' | 'back' | 'on' | 'archive' | 'remove'

function Card({ reel, before, after }: { reel: ReelHead; before?: number; after?: number }) {
  const picture = reelPage.use((s) => s.pictures[reel.id])
  const open = useStudio((s) => s.reel?.id === reel.id)
  const [naming, setNaming] = useState(false)
  function act(what: Act) {
    if (what === 'name') setNaming(true)
    if (what === 'copy') void copyReel(reel.id)
    if (what === 'back') void placeReel(reel.id, before!)
    if (what === 'on') void placeReel(reel.id, after!)
    if (what === 'archive') void changeReel(reel.id, { archived: !reel.archived })
    if (what === 'remove') void changeReel(reel.id, { removed: true })
  }
  return (
    <li className="min-w-0" data-reel={reel.name}>
      <button
        type="button"
        aria-label={`Open ${reel.name}`}
        className={`block aspect-video w-full overflow-hidden rounded-[2px] bg-black outline ${open ? 'outline-2 outline-plum' : 'outline-1 outline-line hover:outline-dim'}`}
        onClick={() => void goTo(reel.id)}
      >
        {picture ? (
          <Canvas picture={picture} className="h-full w-full object-contain" />
        ) : (
          <span className="text-dim">{reel.count === 0 && 'empty'}</span>
        )}
      </button>
      <div className="mt-1 flex items-center gap-2">
        {naming ? (
          <NameField
            label="Name of the reel"
            focused
            className="h-6 min-w-0 grow rounded-sm border border-plum bg-raise px-1 text-text"
            value={reel.name}
            onName={(name) => void changeReel(reel.id, { name })}
            onDone={() => setNaming(false)}
          />
        ) : (
          <span className="min-w-0 grow truncate" onDoubleClick={() => setNaming(true)}>
            {reel.name}
          </span>
        )}
        <span className="shrink-0 text-xs text-dim">{reel.count === 1 ? '1 shot' : `${reel.count} shots`}</span>
        <Menu<Act>
          bare
          label={`What to do with ${reel.name}`}
          value=""
          groups={[
            {
              title: '',
              items: [
                { id: 'name', label: 'Name' },
                { id: 'copy', label: 'Duplicate', note: 'the same shots and looks' },
                ...(before !== undefined ? [{ id: 'back' as const, label: 'Move back' }] : []),
                ...(after !== undefined ? [{ id: 'on' as const, label: 'Move on' }] : []),
                { id: 'archive', label: reel.archived ? 'Take up again' : 'Archive' },
                { id: 'remove', label: 'Remove', note: 'undo brings it back' },
              ],
            },
          ]}
          onChange={act}
        >
          <span className="text-dim">▾</span>
        </Menu>
      </div>
    </li>
  )
}
