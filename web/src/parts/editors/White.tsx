import { Button } from '../../controls/Button'
import { Dial } from '../../controls/Dial'
import { Tip } from '../../controls/Tip'
import { desk } from '../../state/desk'
import { pick } from '../../state/steps'
import { change, dialOf, numberOf, pathOf, settingOf, type EditorProps } from './editor'

/** Temperature and tint, the light they are right for, and a grey picked from the picture. */
export function White(p: EditorProps) {
  const path = pathOf(p)
  const picking = desk.use((s) => s.picking?.path === path)
  const base = settingOf(p.kind, 'temperature').kelvin!
  const kelvin = 1e6 / (base - numberOf(p, 'temperature'))
  const hold = (id: string, v: number) => Math.max(settingOf(p.kind, id).min, Math.min(settingOf(p.kind, id).max, v))
  return (
    <>
      <Dial {...dialOf(p, 'temperature')} />
      <Dial {...dialOf(p, 'tint')} />
      <div className="flex h-6 items-center gap-2">
        <Tip
          help="Then press on something in the picture that should be neutral: a grey card, a white shirt, asphalt. What is brightest is rarely the best."
          side="left"
        >
          <Button
            active={picking}
            onClick={() =>
              pick(
                path,
                'neutral',
                (v) => v.mired !== undefined && change(p, { temperature: hold('temperature', v.mired), tint: hold('tint', v.tint!) }),
              )
            }
          >
            Pick neutral
          </Button>
        </Tip>
        <span className="grow" />
        <Tip help="The light under which white comes out neutral, against the working white at 6000 K." side="left">
          <output aria-label="Balanced for" className="text-xs text-dim">
            for light of {Math.round(kelvin / 10) * 10} K
          </output>
        </Tip>
      </div>
    </>
  )
}

export default White
