import { api } from '../api/client'
import { newGesture } from '../api/gesture'
import type { StepPath } from '../api/types.gen'
import { Menu } from '../controls/Menu'
import { NameField } from '../controls/TextField'
import { desk } from '../state/desk'
import { assets, loadKept, removeKept } from '../state/assets'
import { studio } from '../state/studio'
import { change, type EditorProps } from './editors/editor'

/** Settings of a step that are ready to be taken: those that ship with its kind, and a person's own. */
export function ReadySettings({ editing, title }: { editing: EditorProps; title: string }) {
  const { kind } = editing
  const path = `${kind.station}.${kind.id}`
  const own = assets.use((s) => s.kept).filter((k) => k.ready?.kind === path)
  const step = editing.step
  const here: StepPath = `${kind.station}.${editing.name}`
  const naming = desk.use((s) => s.keepingReady === here)
  const setNaming = (on: boolean) => desk.set({ keepingReady: on ? here : '' })
  const set = step?.settings && Object.keys(step.settings).length > 0
  if (!kind.ready && own.length === 0 && !naming) return null
  async function keep(name: string) {
    try {
      await api.keepReady({ kind: path, name, values: step!.settings })
      await loadKept()
    } catch (error) {
      studio.complain(error)
    }
  }
  function act(id: string) {
    const [verb, rest] = [id.slice(0, 4), id.slice(5)]
    if (verb === 'keep') setNaming(true)
    else if (verb === 'drop') void removeKept(Number(rest))
    else {
      const values =
        verb === 'mine' ? own.find((k) => k.id === Number(rest))!.ready!.values : kind.ready!.find((r) => r.id === rest)!.values
      change(editing, values as Record<string, number>, newGesture())
    }
  }
  return (
    <div className="flex h-6 items-center gap-2">
      <span className="w-[84px] text-soft">Ready</span>
      {naming ? (
        <NameField
          label="Name of the ready settings"
          focused
          className="h-5 min-w-0 grow rounded-sm bg-raise px-1 text-text"
          value=""
          onName={(name) => name && void keep(name)}
          onDone={() => setNaming(false)}
        />
      ) : (
        <Menu
          label={`Ready settings of ${title}`}
          value=""
          groups={[
            { title: '', items: (kind.ready ?? []).map((r) => ({ id: `ship:${r.id}`, label: r.label, note: r.note })) },
            { title: 'Your own', items: own.map((k) => ({ id: `mine:${k.id}`, label: k.name })) },
            { title: '', items: set ? [{ id: 'keep', label: 'Keep these settings ready' }] : [] },
            { title: 'Remove', items: own.map((k) => ({ id: `drop:${k.id}`, label: k.name })) },
          ]}
          onChange={act}
        >
          <span>take one</span>
        </Menu>
      )}
    </div>
  )
}
