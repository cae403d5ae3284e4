import { useEffect, useRef } from 'react'
import type { Shot } from '../api/types.gen'
import { studio, useStudio } from '../state/studio'

/** The shots as frames on a strip, by scene. */
export function ReelColumn() {
  const reels = useStudio((s) => s.reels)
  const shots = reels.flatMap((r) => r.shots)
  return (
    <aside aria-label="Reel" className="h-full overflow-y-auto border-r border-line px-2 py-2.5">
      {shots.length === 0 && <p className="text-dim">No shots yet. Add one at the top right.</p>}
      {shots.map((s, i) => (
        <div key={s.id}>
          {s.scene !== shots[i - 1]?.scene && <div className="mb-1 mt-1 truncate text-xs text-dim">{s.scene || 'Added'}</div>}
          <Frame shot={s} />
        </div>
      ))}
    </aside>
  )
}

function Frame({ shot }: { shot: Shot }) {
  const chosen = useStudio((s) => s.shotId === shot.id)
  const thumb = useStudio((s) => s.thumbs[shot.id])
  const canvas = useRef<HTMLCanvasElement>(null)
  useEffect(() => {
    const c = canvas.current!
    if (!thumb) return
    c.width = thumb.image.width
    c.height = thumb.image.height
    c.getContext('2d')!.putImageData(thumb.image, 0, 0)
  }, [thumb])
  return (
    <button type="button" aria-pressed={chosen} className="mb-2 block w-full text-left" onClick={() => studio.openShot(shot.id)}>
      <div className={`aspect-video w-full overflow-hidden rounded-[2px] bg-black outline outline-1 ${chosen ? 'outline-2 outline-plum' : 'outline-line'}`}>
        <canvas ref={canvas} className="h-full w-full object-contain" />
      </div>
      <div className="mt-1 flex items-baseline justify-between gap-1">
        <span className={`truncate ${chosen ? 'text-text' : 'text-soft'}`}>{shot.name}</span>
        {!shot.encoding && <span className="text-xs text-amber">?</span>}
      </div>
    </button>
  )
}
