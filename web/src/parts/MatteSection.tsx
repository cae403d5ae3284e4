import { useState } from 'react'
import type { Kind, Matte, MatteKind, MattePart, Step, StepPath } from '../api/types.gen'
import { Chooser } from '../controls/Chooser'
import { Dial } from '../controls/Dial'
import { Menu } from '../controls/Menu'
import { NameField } from '../controls/TextField'
import { newGesture } from '../api/gesture'
import { Tip } from '../controls/Tip'
import { desk, startOf } from '../state/desk'
import { changeMatte, pick, startMatte } from '../state/steps'
import { initialOf, scaleOf, titleOf, type Value } from '../model/look'
import { partAt } from '../model/parts'
import { joins, seekKey, setPart, toggleKey, users } from '../state/mattes'
import { studio, useStudio } from '../state/studio'

const word = 'whitespace-nowrap rounded-sm px-1 text-xs text-dim hover:text-text'

/** What can be chosen as the matte of a step or a group: a new one (`new KIND`), one there is (`use NAME`), or `none`. */
export function matteChoices(kinds: MatteKind[], mattes: Record<string, Matte>, current: string) {
  return [
    { title: 'A new matte', items: kinds.map((k) => ({ id: `new ${k.id}`, label: k.label, note: k.purpose })) },
    { title: 'Shared', items: Object.keys(mattes).map((m) => ({ id: `use ${m}`, label: m })) },
    { title: '', items: current ? [{ id: 'none', label: 'Everywhere' }] : [] },
  ]
}

/** Where a step acts: everywhere, or in a matte of parts, which steps can share by its name. */
export function MatteSection({ kind, name, step }: { kind: Kind; name: string; step: Step | undefined }) {
  const kinds = useStudio((s) => s.desk)!.mattes
  const mattes = useStudio((s) => s.look)!.mattes ?? {}
  const current = step?.matte && mattes[step.matte] ? step.matte : ''
  const path: StepPath = `${kind.station}.${name}`
  const start = matteChoices(kinds, mattes, current)
  function take(id: string) {
    if (id === 'none') return studio.edit({ op: 'matte', station: kind.station, kind: name, name: '' })
    const what = id.slice(4)
    if (id.startsWith('use ')) return studio.edit({ op: 'matte', station: kind.station, kind: name, name: what })
    startMatte(path, `${titleOf(kind, step)} matte`, what)
  }
  return (
    <div className="mt-1 border-t border-line pt-1">
      <div className="flex h-6 items-center gap-2">
        <Tip
          help="Where the step acts. Parts of a matte go by tone, hue, a picked colour, skin, a shape on the picture, or another picture."
          side="left"
        >
          <span className="w-[84px] text-soft">Matte</span>
        </Tip>
        <Menu label={`Matte of ${titleOf(kind, step)}`} value={current ? `use ${current}` : 'none'} groups={start} onChange={take}>
          <span className="max-w-36 truncate">{current || 'everywhere'}</span>
        </Menu>
      </div>
      {current && (
        <div className="flex h-6 items-center gap-2">
          <span className="w-[84px] text-soft">Acts</span>
          {kind.scatters && (
            <Tip
              help={
                step!.source
                  ? 'On the source: only this light spreads, and it goes wherever it goes. Press for the result.'
                  : 'On the result: all light spreads, and what spreads is kept here. Press for the source.'
              }
              side="left"
            >
              <button
                type="button"
                className={word}
                aria-pressed={!!step!.source}
                onClick={() => studio.edit({ op: 'source', station: kind.station, kind: name, value: !step!.source })}
              >
                {step!.source ? 'on the source' : 'on the result'}
              </button>
            </Tip>
          )}
          <Tip
            help={
              step!.outside ? 'The step acts outside the matte. Press for inside.' : 'The step acts inside the matte. Press for outside.'
            }
            side="left"
          >
            <button
              type="button"
              className={word}
              aria-pressed={!!step!.outside}
              onClick={() => studio.edit({ op: 'outside', station: kind.station, kind: name, value: !step!.outside })}
            >
              {step!.outside ? 'outside' : 'inside'}
            </button>
          </Tip>
        </div>
      )}
      {current && <MatteEditor path={path} name={current} />}
    </div>
  )
}

/** The parts of a matte. Places that are picked are of the light that enters the step `asks`. */
export function MatteEditor({ path, name, asks = path }: { path: StepPath; name: string; asks?: StepPath }) {
  const matte = useStudio((s) => s.look)!.mattes![name]!
  const info = useStudio((s) => s.desk)!
  const activePart = desk.use((s) => (s.activeStep === path ? s.part : 0))
  const [whole, setWhole] = useState(false)
  const shared = users(name)
  return (
    <div className="mt-1 grid gap-1" role="group" aria-label={`Matte ${name}`}>
      <div className="flex items-center gap-1">
        <Rename name={name} />
        {shared > 1 && <span className="text-xs text-dim">shared by {shared} steps</span>}
        <span className="grow" />
        <Menu
          label="Add a part"
          value=""
          groups={[{ title: '', items: info.mattes.map((k) => ({ id: k.id, label: k.label, note: k.purpose })) }]}
          onChange={(id) => {
            changeMatte(name, (m) => m.parts.push({ kind: id, settings: startOf(id) }))
            desk.set({ activeStep: path, part: matte.parts.length })
          }}
        >
          <span className="text-xs">part</span>
        </Menu>
      </div>
      {matte.parts.map((part, i) => (
        <Part
          key={i}
          path={path}
          asks={asks}
          name={name}
          part={part}
          index={i}
          open={activePart === i}
          kind={info.mattes.find((k) => k.id === part.kind)!}
          last={matte.parts.length === 1}
        />
      ))}
      <div className="flex items-center gap-1">
        <button type="button" className={word} aria-expanded={whole} onClick={() => setWhole(!whole)}>
          {whole ? '▾' : '▸'} edge of the whole
        </button>
        <span className="grow" />
        <button
          type="button"
          className={matte.invert ? 'rounded-sm px-1 text-xs text-plum' : word}
          aria-pressed={!!matte.invert}
          onClick={() => changeMatte(name, (m) => (m.invert = !m.invert))}
        >
          inverted
        </button>
        <Tip help="Takes the matte away from all steps that share it." side="left">
          <button type="button" className={word} onClick={() => studio.edit({ op: 'uncover', name })}>
            remove
          </button>
        </Tip>
      </div>
      {whole &&
        info.matteSettings.map((s) => {
          const id = s.id as 'grow' | 'blur' | 'refine'
          return (
            <Dial
              key={s.id}
              {...scaleOf(s)}
              value={matte[id] ?? 0}
              onChange={(v, g, hurry) => changeMatte(name, (m) => (m[id] = v), g, hurry)}
              onReset={() => changeMatte(name, (m) => (m[id] = 0))}
            />
          )
        })}
    </div>
  )
}

/** The matte's name, which can be typed over. */
function Rename({ name }: { name: string }) {
  return (
    <NameField
      label="Name of the matte"
      className="h-5 w-32 min-w-0 truncate rounded-sm bg-transparent px-1 text-xs text-soft hover:bg-raise focus:bg-raise focus:text-text"
      value={name}
      onName={(value) => value && studio.edit({ op: 'rename', name, value })}
    />
  )
}

function Part({
  path,
  asks,
  name,
  part,
  index,
  open,
  kind,
  last,
}: {
  path: StepPath
  asks: StepPath
  name: string
  part: MattePart
  index: number
  open: boolean
  kind: MatteKind
  last: boolean
}) {
  const frame = useStudio((s) => s.frame)
  const picking = desk.use((s) => s.picking?.path === asks && s.picking.what === `part ${index}`)
  const now = partAt(part, kind.settings, frame)
  const set = (values: Record<string, Value>, gesture = '', hurry = false) => setPart(name, index, kind.settings, values, gesture, hurry)
  const keyed = (part.keys ?? []).some((k) => k.frame === frame)
  const join = part.join || 'add'
  return (
    <div
      className="rounded-sm border border-line px-1.5 py-1"
      data-part={kind.id}
      aria-label={`Part ${index + 1}: ${kind.label}`}
      role="group"
      onFocus={() => desk.get().part !== index && desk.set({ activeStep: path, part: index })}
    >
      <div className="flex h-5 items-center gap-1">
        {(index > 0 || join !== 'add') && (
          <Tip help={joins.find((j) => j.id === join)!.note} side="left">
            <button
              type="button"
              aria-label={`Joins by ${join}`}
              className="w-12 rounded-sm text-left text-xs text-plum"
              onClick={() => changeMatte(name, (m) => (m.parts[index]!.join = joins[(joins.findIndex((j) => j.id === join) + 1) % 3]!.id))}
            >
              {joins.find((j) => j.id === join)!.label}
            </button>
          </Tip>
        )}
        <button
          type="button"
          aria-expanded={open}
          className={`rounded-sm text-xs ${open ? 'text-text' : 'text-soft hover:text-text'}`}
          onClick={() => desk.set({ activeStep: path, part: open ? -1 : index })}
        >
          {kind.label}
        </button>
        <span className="grow" />
        {kind.picks && (
          <Tip help="Then press on the picture: the part takes what is there." side="left">
            <button
              type="button"
              aria-pressed={picking}
              className={picking ? 'rounded-sm px-1 text-xs text-plum' : word}
              onClick={() => pick(asks, `part ${index}`, (v) => set(taken(kind.id, v)))}
            >
              pick
            </button>
          </Tip>
        )}
        {kind.shape && (
          <>
            {(part.keys?.length ?? 0) > 0 && (
              <button type="button" aria-label="Key before" className={word} onClick={() => seekKey(part, -1)}>
                ‹
              </button>
            )}
            <Tip
              help={
                keyed
                  ? 'This frame is a key of the shape. Press to take it away.'
                  : 'Makes this frame a key: between keys the shape moves smoothly.'
              }
              side="left"
            >
              <button
                type="button"
                aria-pressed={keyed}
                aria-label="Key at this frame"
                className={keyed ? 'rounded-sm px-1 text-xs text-plum' : word}
                onClick={() => toggleKey(name, index, kind.settings)}
              >
                key{part.keys?.length ? ` ${part.keys.length}` : ''}
              </button>
            </Tip>
            {(part.keys?.length ?? 0) > 0 && (
              <button type="button" aria-label="Key after" className={word} onClick={() => seekKey(part, 1)}>
                ›
              </button>
            )}
          </>
        )}
        <button
          type="button"
          aria-pressed={!!part.invert}
          className={part.invert ? 'rounded-sm px-1 text-xs text-plum' : word}
          onClick={() => changeMatte(name, (m) => (m.parts[index]!.invert = !m.parts[index]!.invert))}
        >
          not
        </button>
        {!last && (
          <button
            type="button"
            aria-label={`Remove part ${index + 1}`}
            className={word}
            onClick={() => changeMatte(name, (m) => m.parts.splice(index, 1))}
          >
            ×
          </button>
        )}
      </div>
      {open && (
        <div className="mt-1 grid gap-0.5">
          {kind.settings.map((s) =>
            s.points ? (
              <p key={s.id} className="m-0 text-xs text-dim">
                Drag its points on the picture; double-click on a side adds one, on a point takes it away.
              </p>
            ) : s.choices ? (
              <Chooser
                key={s.id}
                label={s.label}
                help={s.help}
                choices={s.choices}
                value={String(now[s.id])}
                onChange={(v) => set({ [s.id]: v })}
              />
            ) : (
              <Dial
                key={s.id}
                {...scaleOf(s)}
                value={now[s.id] as number}
                onChange={(v, g, hurry) => set({ [s.id]: v }, g, hurry)}
                onReset={() => set({ [s.id]: initialOf(s) }, newGesture())}
              />
            ),
          )}
        </div>
      )}
    </div>
  )
}

/** What a part takes from a place on the picture. */
function taken(kind: string, v: { light: [number, number, number]; stops: number; hue: number; chroma: number }): Record<string, Value> {
  const round = (x: number, to: number) => Number(x.toFixed(to))
  if (kind === 'tone') return { low: round(Math.max(-12, v.stops - 0.75), 2), high: round(Math.min(10, v.stops + 0.75), 2) }
  if (kind === 'colour') return { hue: round(v.hue, 1), 'low-chroma': round(Math.max(0, 50 * v.chroma), 1) }
  return { red: round(v.light[0], 5), green: round(v.light[1], 5), blue: round(v.light[2], 5) }
}
