import { Cell } from '../../controls/Cell'
import { newGesture } from '../../api/gesture'
import { channelMarks, change, dialOf, numberOf, settingOf, type EditorProps } from './editor'

const lights = [
  { id: 'red', key: 'R' },
  { id: 'green', key: 'G' },
  { id: 'blue', key: 'B' },
  { id: 'all', key: 'A' },
]

/** Printer lights: a letter adds a point, with Shift it takes one away; the card needs focus, not the mouse. */
export function PrinterLights(p: EditorProps) {
  const total = (id: string) => numberOf(p, id) + numberOf(p, 'all')
  return (
    <>
      <div className="grid grid-cols-4 gap-1" role="group" aria-label="Points">
        {lights.map(({ id, key }) => {
          const d = dialOf(p, id)
          return (
            <div key={id}>
              <div className="mb-0.5 flex justify-between text-xs">
                <span className="text-soft">{d.label}</span>
                <kbd className="text-dim">{key}</kbd>
              </div>
              <Cell {...d} mark={channelMarks[d.label]} />
            </div>
          )
        })}
      </div>
      <div className="mt-1 flex items-center justify-between text-xs text-dim">
        <span>In total, points</span>
        <output aria-label="Total points" className="text-soft">
          {lights
            .slice(0, 3)
            .map(({ id }) => signed(total(id)))
            .join(' · ')}
        </output>
      </div>
      <p className="m-0 text-xs text-dim">Letters add a point, with Shift they take one; 12 points are a stop.</p>
    </>
  )
}

const signed = (v: number) => (v > 0 ? '+' : '') + Math.round(v * 100) / 100

/** The printer lights' keys, while a card of theirs is active. */
export function pressLight(p: EditorProps, letter: string, shift: boolean): boolean {
  const light = lights.find((l) => l.key === letter.toUpperCase())
  if (!light) return false
  const s = settingOf(p.kind, light.id)
  change(p, { [light.id]: Math.max(s.min, Math.min(s.max, numberOf(p, light.id) + (shift ? -1 : 1))) }, newGesture())
  return true
}

export default PrinterLights
