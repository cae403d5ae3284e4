import type { MouseEvent } from 'react'
import type { Shot } from '../api/types.gen'
import { Button } from '../controls/Button'
import { Canvas } from '../controls/Canvas'
import { Tip } from '../controls/Tip'
import { choose, setDeclaring } from '../state/footage'
import { useStudio } from '../state/studio'

/** The shots as frames on a strip, by reel and scene. */
export function ReelColumn() {
  const reels = useStudio((s) => s.reels)
  const selection = useStudio((s) => s.selection)
  const shots = reels.flatMap((r) => r.shots.map((shot) => ({ shot, group: shot.scene || r.name })))
  return (
    <aside aria-label="Reel" className="flex h-full flex-col border-r border-line">
      <div className="min-h-0 grow overflow-y-auto px-2 py-2.5">
        {shots.length === 0 && <p className="text-dim">No shots yet. Drop files here, or press Add.</p>}
        {shots.map(({ shot, group }, i) => (
          <div key={shot.id}>
            {group !== shots[i - 1]?.group && <div className="mb-1 mt-1 truncate text-xs text-dim">{group}</div>}
            <Frame shot={shot} />
          </div>
        ))}
      </div>
      {selection.length > 1 && (
        <div className="grid gap-1.5 border-t border-line p-2">
          <span className="text-soft">{selection.length} chosen</span>
          <Tip help="Say how the camera recorded all chosen shots, in one act" side="right">
            <Button onClick={() => setDeclaring(true)}>Declare</Button>
          </Tip>
        </div>
      )}
    </aside>
  )
}

function Frame({ shot }: { shot: Shot }) {
  const open = useStudio((s) => s.shotId === shot.id)
  const chosen = useStudio((s) => s.selection.includes(shot.id))
  const thumb = useStudio((s) => s.thumbs[shot.id])
  const press = (e: MouseEvent) => choose(shot.id, e.shiftKey ? 'range' : e.ctrlKey || e.metaKey ? 'toggle' : 'one')
  const missing = shot.gaps.reduce((n, g) => n + g.last - g.first + 1, 0)
  return (
    <Tip
      help={`${shot.name}: ${shot.width} × ${shot.height}, ${shot.frames > 1 ? `${shot.frames} frames` : 'a still'}. ${shot.says}`}
      side="right"
    >
      <button type="button" aria-pressed={open} data-chosen={chosen} className="mb-2 block w-full text-left" onClick={press}>
        <div
          className={`aspect-video w-full overflow-hidden rounded-[2px] bg-black outline ${open ? 'outline-2 outline-plum' : chosen ? 'outline-1 outline-text' : 'outline-1 outline-line'}`}
        >
          <Canvas picture={thumb} className="h-full w-full object-contain" />
        </div>
        <div className={`mt-1 truncate ${open ? 'text-text' : 'text-soft'}`}>{shot.name}</div>
        {!shot.encoding && <div className="text-xs text-amber">undeclared</div>}
        {shot.doubt && <div className="text-xs text-amber">in doubt</div>}
        {missing > 0 && <div className="text-xs text-amber">{missing === 1 ? '1 frame missing' : `${missing} missing`}</div>}
      </button>
    </Tip>
  )
}
