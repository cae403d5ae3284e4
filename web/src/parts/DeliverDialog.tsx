import { useState } from 'react'
import type { Delivery } from '../api/types.gen'
import { Button } from '../controls/Button'
import { Drawer } from '../controls/Drawer'
import { Tip } from '../controls/Tip'
import { Toggle } from '../controls/Toggle'
import { upwards } from '../model/levels'
import { cancelDelivery, deliver, deliverSheet, deliveries } from '../state/deliveries'
import { shotOf, useStudio } from '../state/studio'
import { inUse, trialsAt, useOfTrials } from '../state/trials'

const groups = [
  ['frame', 'This frame'],
  ['movie', 'A movie of the shot, in to out'],
  ['sequence', 'A file a frame, in to out'],
  ['table', 'The colour of the look; bloom, halation and grain stay out'],
  ['sheet', 'A contact sheet: the chosen shots, each under its trials'],
] as const

/** What to deliver, and how far each delivery is. */
export function DeliverDialog() {
  const [open, setOpen] = useState(false)
  const [placed, setPlaced] = useState(false)
  const shot = useStudio(shotOf)
  const formats = useStudio((s) => s.desk?.formats)
  const list = deliveries.use((s) => s.list)
  const running = list.some((d) => d.state === 'running')
  return (
    <Drawer
      title="Deliver"
      about="Deliveries go on when this page is closed. What is cancelled or fails leaves nothing half-written."
      open={open}
      onOpen={setOpen}
      trigger={
        <Button active={running || open} className="border-plum text-text">
          Deliver
        </Button>
      }
    >
      <Held />
      {groups.map(([group, title]) => (
        <section key={group} aria-label={title}>
          <h3 className="mb-1 mt-2.5 text-soft">{title}</h3>
          <ul className="grid grid-cols-3 gap-1">
            {formats
              ?.filter((f) => f.group === group)
              .map((f) => (
                <li key={f.id}>
                  <Tip help={f.note} side="left">
                    <button
                      type="button"
                      className="w-full truncate rounded-sm border border-line px-2 py-1 text-left hover:border-plum"
                      onClick={() => void (f.group === 'sheet' ? deliverSheet(f.id) : deliver(f.id, placed && f.group !== 'table'))}
                    >
                      {f.label}
                    </button>
                  </Tip>
                </li>
              ))}
          </ul>
        </section>
      ))}
      <div className="mt-3 flex items-center gap-2 border-t border-line pt-2">
        <Toggle on={placed} label="Place every cloud of grain" onChange={setPlaced} />
        <span className={placed ? 'text-text' : 'text-soft'}>Place every cloud of grain</span>
        <span className="text-xs text-dim">{shot && `about ${told((shot.width * shot.height) / PLACED)} a frame`}</span>
      </div>
      <h3 className="mb-1.5 mt-4 text-soft">Deliveries</h3>
      {list.length === 0 && <p className="text-dim">None yet. Choose a form above; the file appears here.</p>}
      <ul className="grid gap-2" data-testid="deliveries">
        {list.slice(0, 12).map((d) => (
          <Row key={d.id} d={d} label={formats?.find((f) => f.id === d.format)?.label ?? d.format} />
        ))}
      </ul>
    </Drawer>
  )
}

/** How many pixels a second are made of clouds that are placed one by one (make bench). */
const PLACED = 70_000

const told = (seconds: number) => (seconds < 90 ? `${Math.max(1, Math.round(seconds))} s` : `${Math.round(seconds / 60)} min`)

/** Which trials a delivery would hold, in amber where another is the answer. */
function Held() {
  const state = useOfTrials()
  return upwards.map((level) => {
    const now = inUse(state, level)
    const answer = trialsAt(state, level).find((t) => t.answer)
    if (!now) return null
    const where = level === 'shot' ? '' : `of the ${level}, `
    return (
      <p key={level} className={`mt-1 text-xs ${answer && answer.id !== now.id ? 'text-amber' : 'text-soft'}`} data-testid="held">
        {where}
        {now.name} is in use
        {answer && (answer.id === now.id ? ': the answer' : `; the answer is ${answer.name}`)}
      </p>
    )
  })
}

function Row({ d, label }: { d: Delivery; label: string }) {
  const single = d.state === 'done' && !d.path.includes('%')
  return (
    <li className="rounded-sm bg-card px-2.5 py-1.5" data-state={d.state}>
      <div className="flex items-baseline gap-2">
        <span className="grow">{label}</span>
        <span className={d.state === 'failed' ? 'text-amber' : 'text-dim'}>
          {d.state === 'running' ? `${d.done} of ${d.total}` : d.state}
        </span>
        {d.state === 'running' && <Button onClick={() => void cancelDelivery(d.id)}>Cancel</Button>}
        {single && (
          <a className="rounded-sm border border-line px-2 text-soft hover:text-text" href={`/api/v1/deliveries/${d.id}/file`}>
            Save
          </a>
        )}
      </div>
      {d.state === 'running' && (
        <div className="mt-1.5 h-[3px] bg-line" role="progressbar" aria-valuenow={d.done} aria-valuemax={d.total} aria-label={label}>
          <div className="h-full bg-plum" style={{ width: `${(100 * d.done) / d.total}%` }} />
        </div>
      )}
      {d.trial && <div className="mt-0.5 truncate text-xs text-soft">{d.trial}</div>}
      <div className="mt-0.5 truncate text-xs text-dim" title={d.path}>
        {d.path}
      </div>
      {d.note && <div className={`text-xs ${d.state === 'failed' ? 'text-amber' : 'text-soft'}`}>{d.note}</div>}
    </li>
  )
}
