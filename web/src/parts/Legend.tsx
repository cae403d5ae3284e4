import type { Band } from '../api/types.gen'
import { judge } from '../state/judge'

const stops = (v: number) => (v > 0 ? '+' : v < 0 ? '−' : '') + Math.abs(v).toFixed(1)

/** What the inks of false colour stand for. */
export function Legend() {
  const bands = judge.use((s) => s.bands)
  const show = judge.use((s) => s.show)
  if (show !== 'false' || bands.length === 0) return null
  const reach = (b: Band) =>
    b.from <= -90 ? `below ${stops(b.to)}` : b.to >= 90 ? `above ${stops(b.from)}` : `${stops(b.from)} … ${stops(b.to)}`
  return (
    <dl
      className="group absolute right-3 top-3 grid grid-cols-[12px_auto_auto] items-center gap-x-2 gap-y-[3px] rounded-sm bg-black/80 px-2.5 py-2 text-xs"
      data-testid="legend"
    >
      {[...bands]
        .reverse()
        .filter((b) => b.ink)
        .map((b) => (
          <div key={b.id} className="contents">
            <span className="h-3 w-3" style={{ background: `rgb(${b.ink!.map((v) => Math.round(v * 255)).join(',')})` }} />
            <dt className="text-text">
              {b.label}
              <span className="ml-2 hidden text-dim group-hover:inline">{b.use}</span>
            </dt>
            <dd className="m-0 text-right text-soft">{reach(b)}</dd>
          </div>
        ))}
      <div className="col-span-3 mt-1 text-dim">
        stops from mid grey<span className="group-hover:hidden">; point here for what each is for</span>
        <span className="hidden group-hover:inline">, of the scene’s light as it leaves the lens. Grey is everything between.</span>
      </div>
    </dl>
  )
}
