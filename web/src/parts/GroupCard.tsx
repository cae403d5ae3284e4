import { useState, type ReactNode } from 'react'
import type { Edit } from '../api/types.gen'
import { Menu } from '../controls/Menu'
import { NameField } from '../controls/TextField'
import { Tip } from '../controls/Tip'
import { Toggle } from '../controls/Toggle'
import { nameOf } from '../model/look'
import { activate, groupPath } from '../state/desk'
import { startMatte } from '../state/steps'
import { studio, useStudio } from '../state/studio'
import { MatteEditor, matteChoices } from './MatteSection'
import { StrengthDial } from './StrengthDial'

/** A group of steps: one switch, strength and matte, and how it is laid over what stands above it. */
export function GroupCard({ station, name, first, children }: { station: string; name: string; first: boolean; children: ReactNode }) {
  const group = useStudio((s) => s.look?.stations[station]?.groups?.[name])
  const inside = useStudio((s) => s.look?.stations[station]?.steps?.find((x) => x.group === name))
  const mattes = useStudio((s) => s.look?.mattes) ?? {}
  const desk = useStudio((s) => s.desk)!
  const [naming, setNaming] = useState(false)
  if (!group) return children
  const edit = (e: Omit<Edit, 'station' | 'group'>, hurry = false) => studio.edit({ ...e, station, group: name }, hurry)
  const path = groupPath(station, name)
  const lays = ['balance', 'lens', 'finish'].includes(station) && (!first || !!group.lay)
  const lay = desk.lays.find((y) => y.id === (group.lay ?? ''))!
  const current = group.matte && mattes[group.matte] ? group.matte : ''

  function take(id: string) {
    if (id === 'none') edit({ op: 'matte', name: '' })
    else if (id.startsWith('use ')) edit({ op: 'matte', name: id.slice(4) })
    else startMatte(path, `${group!.title} matte`, id.slice(4))
  }
  return (
    <section
      aria-label={`Group ${group.title}`}
      data-group={name}
      onPointerDown={(e) => !(e.target as Element).closest('[data-kind]') && activate(path)}
      className={`rounded-[4px] border-l-2 pl-2 ${group.on ? 'border-plum' : 'border-line'}`}
    >
      <div className="flex h-6 items-center gap-1.5">
        <Toggle on={group.on} label={`${group.title} on`} onChange={(v) => edit({ op: v ? 'on' : 'off' })} />
        {naming ? (
          <NameField
            label="Name of the group"
            focused
            className="h-5 min-w-0 grow rounded-sm bg-raise px-1 text-text"
            value={group.title}
            onName={(text) => edit({ op: 'title', name: text })}
            onDone={() => setNaming(false)}
          />
        ) : (
          <Tip help="A group: its steps are switched, mixed and covered together. Double press to name it." side="left">
            <h3
              className={`min-w-0 grow truncate font-semibold ${group.on ? 'text-text' : 'text-soft'}`}
              onDoubleClick={() => setNaming(true)}
            >
              {group.title}
            </h3>
          </Tip>
        )}
        {lays && (
          <Menu
            label={`How ${group.title} is laid`}
            help="In turn after what stands above, or beside it: from the same picture, and laid over it"
            value={lay.id}
            className="flex h-5 items-center gap-1 rounded-sm px-1 text-xs text-soft hover:bg-raise hover:text-text"
            groups={[{ title: '', items: desk.lays }]}
            onChange={(id) => edit({ op: 'lay', name: id })}
          >
            {lay.label.toLowerCase()} <span className="text-dim">▾</span>
          </Menu>
        )}
        <Menu
          bare
          label={`More for the group ${group.title}`}
          value=""
          groups={[
            {
              title: '',
              items: [
                { id: 'name', label: 'Name' },
                { id: 'ungroup', label: 'Ungroup', note: 'its steps stay' },
              ],
            },
          ]}
          onChange={(id) => (id === 'name' ? setNaming(true) : edit({ op: 'ungroup' }))}
        >
          <span className="text-dim">⋮</span>
        </Menu>
      </div>
      <StrengthDial
        help="How much of the group is mixed in. 0 is as if it were off."
        share={group.strength}
        dim={!group.on}
        onShare={(value, gesture, hurry) => edit({ op: 'strength', value, gesture }, hurry)}
      />
      <div className="mb-1.5 flex h-6 items-center gap-2">
        <span className="w-[84px] text-soft">Matte</span>
        <Menu
          label={`Matte of the group ${group.title}`}
          value={current ? `use ${current}` : 'none'}
          groups={matteChoices(desk.mattes, mattes, current)}
          onChange={take}
        >
          <span className="max-w-32 truncate">{current || 'everywhere'}</span>
        </Menu>
        {current && (
          <button
            type="button"
            className="rounded-sm px-1 text-xs text-dim hover:text-text"
            aria-pressed={!!group.outside}
            onClick={() => edit({ op: 'outside', value: !group.outside })}
          >
            {group.outside ? 'outside' : 'inside'}
          </button>
        )}
      </div>
      {current && inside && <MatteEditor path={path} name={current} asks={`${station}.${nameOf(inside)}`} />}
      <div className="grid grid-cols-[minmax(0,1fr)] gap-2.5">{children}</div>
    </section>
  )
}
