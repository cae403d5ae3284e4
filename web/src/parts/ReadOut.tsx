import { scopes } from '../state/scopes'
import { shotOf, useStudio } from '../state/studio'

const signed = (v: number) => (v >= 0 ? '+' : '−') + Math.abs(v).toFixed(2)

/** The pixel under the pointer in numbers. It stays in one place, so that it can be read while the hand moves. */
export function ReadOut() {
  const r = scopes.use((s) => s.reading)
  const shot = useStudio(shotOf)
  if (!r) return null
  // out of the way of what it reads
  const aside = shot && r.x < shot.width * 0.35 && r.y < shot.height * 0.4
  return (
    <div
      className={`pointer-events-none absolute top-3 ${aside ? 'right-3' : 'left-3'} rounded-sm bg-black/70 px-2 py-1 text-xs leading-[17px] text-soft`}
      data-testid="read-out"
    >
      <div>
        <span className="text-dim">pixel</span> {r.x}, {r.y}
      </div>
      <div>
        <span className="text-dim">code</span>{' '}
        <span className="text-text" data-testid="code">
          {r.code10.join(' ')}
        </span>{' '}
        <span className="text-dim">of 1023</span>
      </div>
      {r.stops !== undefined && (
        <div>
          <span className="text-dim">scene</span> {signed(r.stops)} <span className="text-dim">stops</span>
        </div>
      )}
      {r.density && (
        <div>
          <span className="text-dim">density</span> {r.density.map((d) => d.toFixed(2)).join(' ')}
        </div>
      )}
      <div>
        <span className="text-dim">light</span> {r.nits.toFixed(r.nits < 10 ? 2 : 1)} <span className="text-dim">cd/m²</span>
      </div>
      <div>
        <span className="text-dim">hue</span> {Math.round(r.hue)}° <span className="text-dim">chroma</span> {r.chroma.toFixed(1)}
      </div>
    </div>
  )
}
