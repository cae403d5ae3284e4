import { useEffect, useRef, useState, type WheelEvent } from 'react'
import type { Kind, Setting } from '../api/types.gen'
import { Button } from '../controls/Button'
import { NameField } from '../controls/TextField'
import { Canvas } from '../controls/Canvas'
import { FullScreenDialog } from '../controls/FullScreenDialog'
import { Menu } from '../controls/Menu'
import { stepOf } from '../model/look'
import {
  axisOf,
  closeStrip,
  enlarge,
  keepInReach,
  ofStocks,
  openStrip,
  setAxes,
  filtered,
  standBeside,
  testStrip,
  takePatch,
  variable,
  wholeFilms,
  wholeLooks,
  type Axis,
  type Patch,
} from '../state/testStrip'
import { useStudio } from '../state/studio'
import { likening } from '../state/likeness'
import { LikenessBar } from './LikenessBar'
import { LooksBar } from './LooksBar'
import { TestStripFilter } from './TestStripFilter'
import { Versus } from './Versus'

/** This very frame under every value of a setting, or of two crossed, to choose by eye. */
export function TestStrip() {
  const { open, down, across, patches, columns, large, beside, filter } = testStrip.use((s) => s)
  const favourites = useStudio((s) => s.desk?.favourites) ?? []
  const list = filtered({ patches, filter }, favourites)
  const kinds = useStudio((s) => s.desk?.kinds) ?? []
  const shot = useStudio((s) => s.shotId)
  if (!shot) return null
  const across_ = columns || (patches.length > 12 ? 3 : 2)
  const patch = patches.find((p) => p.id === large)
  return (
    <FullScreenDialog
      title="Test strip"
      about="Point to see one large; turn the wheel to set it against the picture as it is, or stand two beside each other. Press to take it: one undo brings it back."
      open={open}
      onOpen={(o) => (o ? openStrip() : closeStrip())}
      trigger={<Button title="The frame under every stock, print, or a bracket of any setting (T)">Strip</Button>}
      head={
        <>
          <Pick label="Vary" axis={down} kinds={kinds} onPick={(a) => setAxes(a, across)} />
          {down && <Range axis={down} kinds={kinds} onChange={(a) => setAxes(a, across)} />}
          <span className="text-dim">against</span>
          <Pick label="Vary a second" axis={across} kinds={kinds} none onPick={(a) => down && setAxes(down, a)} />
          {across && <Range axis={across} kinds={kinds} onChange={(a) => down && setAxes(down, a)} />}
        </>
      }
    >
      {ofStocks(down, across) && <LikenessBar />}
      {down === wholeFilms && <LooksBar />}
      <TestStripFilter />
      <div className="flex min-h-0 grow gap-4">
        <Large patch={patch} now={patches.find((p) => p.now)} second={patches.find((p) => p.id === beside)} />
        <ul
          className="m-0 grid min-h-0 w-[38%] content-start gap-2 overflow-y-auto p-0.5"
          style={{ gridTemplateColumns: `repeat(${across_}, minmax(0, 1fr))` }}
          data-testid="test-strip"
        >
          {list.length === 0 && <li className="col-span-full text-dim">Nothing is like that here. Take a word away.</li>}
          {list.map((p) => (
            <Cell key={p.id} patch={p} />
          ))}
        </ul>
      </div>
    </FullScreenDialog>
  )
}

function Large({ patch, now, second }: { patch: Patch | undefined; now: Patch | undefined; second: Patch | undefined }) {
  const picture = testStrip.use((s) => s.enlarged)
  const other = testStrip.use((s) => s.second)
  const last = useRef('')
  const [table, setTable] = useState(false)
  const like = likening.use((s) => (s.side && !second ? s.picture : null))
  const first = patch ?? now
  useEffect(() => {
    if (patch) last.current = patch.id
  }, [patch])
  if (table && first?.says && second?.says)
    return (
      <div className="flex min-h-0 min-w-0 grow flex-col gap-2">
        <Versus ids={[String(first.values[0]!.value), String(second.values[0]!.value)]} labels={[first.label, second.label]} />
        <button type="button" className="self-start rounded-sm px-1 text-dim hover:text-text" onClick={() => setTable(false)}>
          back to the pictures
        </button>
      </div>
    )
  return (
    <div
      className={`grid min-w-0 grow gap-2 ${second || like ? 'grid-rows-[minmax(0,1fr)_minmax(0,1fr)]' : 'grid-rows-[minmax(0,1fr)]'}`}
      onWheel={(e) => enlarge(e.deltaY > 0 ? '' : last.current)}
    >
      <figure className="m-0 flex min-h-0 min-w-0 flex-col">
        <div className="flex min-h-0 grow items-center justify-center bg-room">
          <Canvas picture={picture} className="max-h-full max-w-full object-contain" />
        </div>
        <figcaption className="mt-1.5 flex h-5 items-baseline gap-2 text-soft">
          <span className="shrink-0 text-text" data-testid="enlarged">
            {patch ? patch.label : 'As it is now'}
          </span>
          {picture?.reply.stage === 'draft' && <span className="text-dim">draft</span>}
          {patch?.note && <span className="truncate">{patch.note}</span>}
        </figcaption>
        <Character patch={first} low={!!second || !!like} />
      </figure>
      {like && (
        <figure className="m-0 flex min-h-0 min-w-0 flex-col">
          <div className="flex min-h-0 grow items-center justify-center bg-room">
            <Canvas picture={like} className="max-h-full max-w-full object-contain" data-testid="like" />
          </div>
          <figcaption className={`mt-1.5 text-soft ${first?.says ? 'h-[100px]' : 'h-5'}`}>What it is to be like</figcaption>
        </figure>
      )}
      {second && (
        <figure className="m-0 flex min-h-0 min-w-0 flex-col">
          <div className="flex min-h-0 grow items-center justify-center bg-room">
            <Canvas picture={other} className="max-h-full max-w-full object-contain" data-testid="beside" />
          </div>
          <figcaption className="mt-1.5 flex h-5 items-baseline gap-2 text-soft">
            <span className="shrink-0 text-text">{second.label}</span>
            {second.note && <span className="grow truncate">{second.note}</span>}
            {first?.says && second.says && (
              <button type="button" className="shrink-0 rounded-sm px-1 text-dim hover:text-text" onClick={() => setTable(true)}>
                colour by colour
              </button>
            )}
            <button type="button" className="shrink-0 rounded-sm px-1 text-dim hover:text-text" onClick={() => standBeside('')}>
              take away
            </button>
          </figcaption>
          <Character patch={second} low />
        </figure>
      )}
    </div>
  )
}

/** What makes a stock itself: drawn, and in the words of its card. */
function Character({ patch, low }: { patch: Patch | undefined; low: boolean }) {
  if (!patch?.says) return null
  return (
    <div className={`mt-1 flex shrink-0 gap-4 text-xs text-soft ${low ? 'h-[76px]' : 'h-[112px]'}`} data-testid="character">
      <img
        src={`/api/v1/stocks/${patch.values[0]!.value}/character.svg?dark=1`}
        alt={`The character of ${patch.label}`}
        className="h-full shrink-0"
      />
      <ul
        className="m-0 grid min-w-0 list-none auto-cols-max grid-flow-col content-start gap-x-4 overflow-hidden p-0 leading-[17px]"
        style={{ gridTemplateRows: `repeat(${low ? 4 : 6}, auto)` }}
      >
        {patch.says.map((line) => (
          <li key={line}>{line}</li>
        ))}
      </ul>
    </div>
  )
}

function Cell({ patch }: { patch: Patch }) {
  const picture = testStrip.use((s) => s.pictures[patch.id])
  const large = testStrip.use((s) => s.large === patch.id)
  const beside = testStrip.use((s) => s.beside === patch.id)
  const kept = useStudio((s) => !!patch.key && !!s.desk?.favourites.includes(patch.key))
  const wheel = (e: WheelEvent) => {
    const list = e.currentTarget.closest('ul')!
    if (list.scrollHeight <= list.clientHeight) enlarge(e.deltaY > 0 ? '' : patch.id) // a long list scrolls
  }
  return (
    <li className="relative list-none">
      <button
        type="button"
        aria-pressed={patch.now}
        data-patch={patch.values.map((v) => v.value).join('/')}
        className="block w-full text-left"
        onPointerEnter={() => enlarge(patch.id)}
        onFocus={() => enlarge(patch.id)}
        onWheel={wheel}
        onClick={() => takePatch(patch.id)}
      >
        <div
          className={`aspect-video overflow-hidden rounded-[2px] bg-black outline ${patch.now ? 'outline-2 outline-plum' : large ? 'outline-1 outline-text' : 'outline-1 outline-line'}`}
        >
          <Canvas picture={picture} className={`h-full w-full object-contain ${picture ? '' : 'opacity-0'}`} />
        </div>
        <div className={`mt-0.5 truncate pr-9 text-xs ${patch.now ? 'text-text' : 'text-soft'}`}>
          {patch.label}
          {patch.now && <span className="ml-1 text-dim">now</span>}
          {patch.apart !== undefined && <span className="ml-1 text-dim">{patch.apart.toFixed(1)}</span>}
        </div>
      </button>
      <span className="absolute bottom-0 right-0 flex">
        <Mark
          on={beside}
          label={`Stand ${patch.label} beside`}
          help="Stand it beside the one that is pointed at"
          onPress={() => standBeside(patch.id)}
        >
          <svg viewBox="0 0 12 12" width="11" height="11" fill="none" stroke="currentColor" className="mx-auto" aria-hidden>
            <path d="M1 2.5h4v7H1zM7 2.5h4v7H7z" />
          </svg>
        </Mark>
        {patch.key && (
          <Mark
            on={kept}
            label={`Keep ${patch.label} in reach`}
            help={kept ? 'No longer keep it in reach' : 'Keep it in reach'}
            onPress={() => void keepInReach(patch.key!, !kept)}
          >
            {kept ? '●' : '○'}
          </Mark>
        )}
      </span>
    </li>
  )
}

function Mark({
  on,
  label,
  help,
  onPress,
  children,
}: {
  on: boolean
  label: string
  help: string
  onPress: () => void
  children: React.ReactNode
}) {
  return (
    <button
      type="button"
      aria-pressed={on}
      aria-label={label}
      title={help}
      className={`h-[18px] w-4 text-xs leading-none ${on ? 'text-plum' : 'text-dim hover:text-text'}`}
      onClick={onPress}
    >
      {children}
    </button>
  )
}

function named(kind: Kind, setting: Setting) {
  return kind.label === setting.label ? kind.label : `${kind.label}: ${setting.label.toLowerCase()}`
}

/** The setting that is varied. */
function Pick({
  label,
  axis,
  kinds,
  none,
  onPick,
}: {
  label: string
  axis: Axis | null
  kinds: Kind[]
  none?: boolean
  onPick: (axis: Axis | null) => void
}) {
  const stations = useStudio((s) => s.desk?.stations) ?? []
  const look = useStudio((s) => s.look)
  const groups = stations.map((st) => ({
    title: st.label,
    items: kinds
      .filter((k) => k.station === st.id && (!k.group || (look && stepOf(look, k))))
      .flatMap((k) => k.settings.filter(variable).map((s) => ({ id: `${k.station}.${k.id}.${s.id}`, label: named(k, s) }))),
  }))
  groups.unshift({
    title: '',
    items: none
      ? [{ id: '', label: 'nothing else' }]
      : [
          { id: 'recipe', label: 'Recipes' },
          { id: 'look', label: 'Looks' },
        ],
  })
  const id = axis === wholeLooks ? 'look' : axis === wholeFilms ? 'recipe' : axis ? `${axis.station}.${axis.kind}.${axis.setting}` : ''
  function pick(chosen: string) {
    if (chosen === 'look') return onPick(wholeLooks)
    if (chosen === 'recipe') return onPick(wholeFilms)
    const [station, kindId, settingId] = chosen.split('.')
    const kind = kinds.find((k) => k.station === station && k.id === kindId)
    const setting = kind?.settings.find((s) => s.id === settingId)
    onPick(kind && setting ? axisOf(kind, setting) : null)
  }
  return (
    <Menu label={label} value={id} groups={groups} onChange={pick}>
      <span className="max-w-44 truncate">{groups.flatMap((g) => g.items).find((i) => i.id === id)?.label ?? 'choose'}</span>
    </Menu>
  )
}

/** How many values of a number, and between which. */
function Range({ axis, kinds, onChange }: { axis: Axis; kinds: Kind[]; onChange: (axis: Axis) => void }) {
  const setting = kinds.find((k) => k.station === axis.station && k.id === axis.kind)?.settings.find((s) => s.id === axis.setting)
  if (!setting || setting.choices) return null
  const end = (which: 'from' | 'to') => (
    <NameField
      label={which === 'from' ? 'From' : 'To'}
      value={String(axis[which])}
      className="h-6 w-12 rounded-sm border border-line bg-transparent px-1 text-right text-text"
      onName={(text) => {
        const v = Number(text.replace(',', '.'))
        if (Number.isFinite(v)) onChange({ ...axis, words: false, [which]: Math.max(setting.min, Math.min(setting.max, v)) })
      }}
    />
  )
  return (
    <span className="flex items-center gap-1.5 text-dim">
      {end('from')} to {end('to')} {setting.unit} in
      {[5, 7].map((n) => (
        <Button
          key={n}
          className="px-2"
          active={!axis.words && axis.count === n}
          onClick={() => onChange({ ...axis, words: false, count: n })}
        >
          {n}
        </Button>
      ))}
    </span>
  )
}
