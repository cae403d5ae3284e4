import { useEffect } from 'react'
import { Button } from '../../controls/Button'
import { Dial } from '../../controls/Dial'
import { Tip } from '../../controls/Tip'
import { desk } from '../../state/desk'
import { askBack, askSkin } from '../../state/steps'
import { useStudio } from '../../state/studio'
import { change, dialOf, pathOf, type EditorProps } from './editor'

const signed = (v: number) => {
  const text = (Math.round(v * 10) / 10 || 0).toFixed(1) // never −0.0
  return v >= 0.05 ? `+${text}` : text
}

/** How far skin has moved through the station, and the way back. */
export function Skin(p: EditorProps) {
  const path = pathOf(p)
  const move = desk.use((s) => s.skin[path])
  const look = useStudio((s) => s.look)
  const frame = useStudio((s) => s.frame)
  useEffect(() => {
    const wait = setTimeout(() => askSkin(path), 400)
    return () => clearTimeout(wait)
  }, [path, look, frame])
  const some = !!move && move.share > 0.0005
  return (
    <>
      <div
        className="mb-1 rounded-sm bg-room px-2 py-1.5 text-xs"
        aria-label="How far skin has moved"
        role="status"
        data-testid="skin-move"
      >
        {!move ? (
          <span className="text-dim">Looking for skin…</span>
        ) : !some ? (
          <span className="text-dim">
            No skin in this frame: nothing lies near the skin line with skin’s strength. Check the matte view, or move the centre.
          </span>
        ) : (
          <>
            <div className="flex justify-between text-soft">
              <span>hue {signed(move.hue)}°</span>
              <span>chroma {signed(move.chroma)}</span>
              <span>lightness {signed(move.lightness)}</span>
              <span className={move.deltaE > 3 ? 'text-amber' : 'text-text'}>ΔE {move.deltaE.toFixed(1)}</span>
            </div>
            <div className="mt-0.5 text-dim">
              since it entered {p.kind.station}; now {Math.abs(move.line).toFixed(1)}° {move.line > 0 ? 'yellower' : 'redder'} than the skin
              line; {(100 * move.share).toFixed(1)} % of the frame
            </div>
          </>
        )}
      </div>
      <Tip help="Finds hue, chroma and light under which skin comes out as it entered. Take less of it with the strength." side="left">
        <Button className="justify-self-start" disabled={!some} onClick={() => askBack(path, (back) => change(p, tidied(back)))}>
          Put skin back
        </Button>
      </Tip>
      {p.kind.settings.map((s) => (
        <Dial key={s.id} {...dialOf(p, s.id)} />
      ))}
    </>
  )
}

function tidied(back: Record<string, number>) {
  return Object.fromEntries(Object.entries(back).map(([id, v]) => [id, Number(v.toFixed(3))]))
}

export default Skin
