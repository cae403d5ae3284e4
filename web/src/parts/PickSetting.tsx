import type { Picked, Setting } from '../api/types.gen'
import { newGesture } from '../api/gesture'
import { Tip } from '../controls/Tip'
import { tidy } from '../model/number'
import { desk } from '../state/desk'
import { pick } from '../state/steps'
import { change, pathOf, settingOf, type EditorProps } from './editors/editor'

/** How colourful, over its lightness, a place is whose tint is taken whole: the engine's own full tint. */
const FULL = 0.22

/** Reads a setting off a place of the picture: a hue, with how much of it there is, or a tone. */
export function PickSetting({ editing, setting }: { editing: EditorProps; setting: Setting }) {
  const path = pathOf(editing)
  const what = setting.pick === 'hue' ? 'a hue' : 'a tone'
  const waits = desk.use((s) => s.picking?.path === path && s.picking.setting === setting.id)
  const within = (s: Setting, v: number) => Math.max(s.min, Math.min(s.max, tidy(v, s.step ?? 0.01)))
  function take(picked: Picked) {
    if (setting.pick === 'stops') return change(editing, { [setting.id]: within(setting, picked.stops) }, newGesture())
    const values: Record<string, number> = { [setting.id]: within(setting, ((picked.hue % 360) + 360) % 360) }
    if (setting.pickTint) {
      const tint = settingOf(editing.kind, setting.pickTint)
      values[tint.id] = within(tint, Math.max(10, (100 * picked.chroma) / FULL))
    }
    change(editing, values, newGesture())
  }
  return (
    <Tip
      help={what === 'a hue' ? 'Pick it from the picture: its hue, and how much of it there is.' : 'Pick a tone from the picture.'}
      side="left"
    >
      <button
        type="button"
        aria-label={`Pick ${setting.label} from the picture`}
        aria-pressed={waits}
        className={`shrink-0 rounded-sm px-0.5 text-xs ${waits ? 'text-plum' : 'text-dim hover:text-text'}`}
        onClick={() => pick(path, what, take, setting.id)}
      >
        pick
      </button>
    </Tip>
  )
}
