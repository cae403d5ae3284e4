import { useStudio, studio } from '../state/studio'
import { stationOn } from '../state/look'
import { Tip } from '../controls/Tip'
import { Toggle } from '../controls/Toggle'
import { Card } from './Card'
import { Passport } from './Passport'

/** The chosen station's steps as cards, in the order in which they act. */
export function Desk() {
  const desk = useStudio((s) => s.desk)
  const station = useStudio((s) => s.station)
  const look = useStudio((s) => s.look)
  if (!desk || !look) return <aside aria-label="Desk" className="h-full border-l border-line" />
  const info = desk.stations.find((s) => s.id === station)!
  const kinds = desk.kinds.filter((k) => k.station === station)
  const on = stationOn(look, station)
  const switchable = kinds.some((k) => !k.fixed)
  return (
    <aside aria-label="Desk" className="h-full overflow-y-auto border-l border-line px-3 py-2.5">
      <div className="mb-2.5 flex h-6 items-center gap-2.5">
        {switchable && <Toggle on={on} label={`${info.label} on`} onChange={(v) => studio.edit({ op: v ? 'on' : 'off', station })} />}
        <h2 className="text-base font-semibold">{info.label}</h2>
        <span className="grow" />
        {switchable && (
          <Tip help="Every step of this station back to how it is when it is off" side="left">
            <button type="button" className="rounded-sm px-1.5 text-dim hover:text-text" onClick={() => studio.edit({ op: 'clear', station })}>
              reset
            </button>
          </Tip>
        )}
        {station === 'finish' && (
          <Tip help="Put the whole shot back to how it came; undo brings this back" side="left">
            <button type="button" className="rounded-sm px-1.5 text-dim hover:text-text" onClick={() => studio.edit({ op: 'restart' })}>
              reset everything
            </button>
          </Tip>
        )}
      </div>
      {station === 'intake' && <Passport />}
      <div className={`grid gap-2.5 ${on ? '' : 'opacity-60'}`}>
        {kinds.map((k) => (
          <Card key={k.id} kind={k} />
        ))}
      </div>
    </aside>
  )
}
