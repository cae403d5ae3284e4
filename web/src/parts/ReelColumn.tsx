import { useVirtualizer } from '@tanstack/react-virtual'
import { useEffect, useRef, useState, type KeyboardEvent, type MouseEvent, type PointerEvent } from 'react'
import type { Reel, Scene, ShotCard } from '../api/types.gen'
import { Button } from '../controls/Button'
import { Canvas } from '../controls/Canvas'
import { drag } from '../controls/drag'
import { Menu } from '../controls/Menu'
import { NameField } from '../controls/TextField'
import { Tip } from '../controls/Tip'
import { ProgressBar } from '../controls/ProgressBar'
import { chooseAlike, searching, stopAlike } from '../state/alike'
import { openCarry } from '../state/carry'
import { choose, setDeclaring } from '../state/footage'
import { changeScene, changeShots, groupShots, moveShots, openPage, placeScene, placeShots, reelPage } from '../state/reels'
import { studio, useStudio } from '../state/studio'
import { called } from '../state/trials'

/** A line of the column: the heading of a scene (null for shots that are in none), or a shot. */
type Row = { scene: Scene | null; shots: ShotCard[] } | { shot: ShotCard }

/** The reel's shots by scene. Headings stand where there are scenes. */
function rowsOf(reel: Reel): Row[] {
  const rows: Row[] = []
  for (const scene of [...reel.scenes, null]) {
    const shots = reel.shots.filter((s) => s.sceneId === (scene?.id ?? 0))
    if (scene || (reel.scenes.length > 0 && shots.length > 0)) rows.push({ scene, shots })
    rows.push(...shots.map((shot) => ({ shot })))
  }
  return rows
}

const missingOf = (shot: ShotCard) => shot.gaps.reduce((n, g) => n + g.last - g.first + 1, 0)

/** What stands under a frame: what is wrong, in amber, or what the shot has of its own. */
function wordsOf(shot: ShotCard, reel: Reel | null): { warn: string[]; say: string } {
  const missing = missingOf(shot)
  const warn = [
    ...(shot.encoding ? [] : ['undeclared']),
    ...(shot.doubt ? ['in doubt'] : []),
    ...(shot.marked ? ['look again'] : []),
    ...(missing > 0 ? [missing === 1 ? '1 frame missing' : `${missing} missing`] : []),
  ]
  const film = shot.own.includes('negative') || shot.own.includes('print')
  const trial = reel?.trials.find((t) => t.level === 'shot' && t.of === shot.id && t.number === shot.trial)
  const own = film ? 'own film' : shot.own.includes('lens') ? 'own lens' : ''
  return { warn, say: trial ? called(trial) : own }
}

const HEADING = 24
const frameHeight = (shot: ShotCard, reel: Reel | null) => {
  const { warn, say } = wordsOf(shot, reel)
  return 82 + 15 * (warn.length || (say ? 1 : 0))
}
const heightOf = (row: Row, reel: Reel | null) => ('shot' in row ? frameHeight(row.shot, reel) : HEADING)

/** The shots as frames on a strip, by scene. Only those that are seen are there, however long the reel is. */
export function ReelColumn() {
  const reel = useStudio((s) => s.reel)
  const shotId = useStudio((s) => s.shotId)
  const selection = useStudio((s) => s.selection)
  const box = useRef<HTMLDivElement>(null)
  const [at, setAt] = useState<number | null>(null)
  const [naming, setNaming] = useState(0)
  const rows = reel ? rowsOf(reel) : []
  // the compiler that warns here is not in use
  // eslint-disable-next-line react-hooks/incompatible-library
  const list = useVirtualizer({
    count: rows.length,
    getScrollElement: () => box.current,
    estimateSize: (i) => heightOf(rows[i]!, reel),
    getItemKey: (i) => {
      const row = rows[i]!
      return 'shot' in row ? row.shot.id : `scene ${row.scene?.id ?? 0}`
    },
    overscan: 4,
  })
  const heights = rows.map((r) => heightOf(r, reel)).join()
  useEffect(() => list.measure(), [list, heights])
  const open = rows.findIndex((r) => 'shot' in r && r.shot.id === shotId)
  useEffect(() => {
    if (open >= 0) list.scrollToIndex(open, { align: 'auto' })
  }, [list, open])

  /** The line before which a drop at a height on the screen falls. */
  function placeOf(y: number): number {
    const top = box.current!.getBoundingClientRect().top - box.current!.scrollTop + 8
    let edge = top
    for (const [i, row] of rows.entries()) {
      const h = heightOf(row, reel)
      if (y < edge + h / 2) return i
      edge += h
    }
    return rows.length
  }
  /** Puts shots before a line; before a heading is the end of what stands above it. */
  function drop(ids: number[], at: number) {
    const row = rows[at]
    if (row && 'shot' in row) return placeShots(ids, row.shot.sceneId, firstAfter(at, ids))
    const above = rows.slice(0, at).findLast((r) => 'scene' in r)
    const scene = above && 'scene' in above ? (above.scene?.id ?? 0) : (reel?.scenes[0]?.id ?? 0)
    return placeShots(ids, scene, at === 0 ? firstAfter(1, ids) : 0)
  }
  /** The first shot from a line on, in its scene, that does not move itself. */
  function firstAfter(at: number, ids: number[]): number {
    for (const row of rows.slice(at)) {
      if (!('shot' in row)) return 0
      if (!ids.includes(row.shot.id)) return row.shot.id
    }
    return 0
  }
  const moving = (id: number) => (selection.includes(id) ? selection : [id])
  function grip(id: number) {
    return (e: PointerEvent<HTMLElement>, moved: () => void) => {
      if (e.button !== 0 || e.shiftKey || e.ctrlKey || e.metaKey) return
      const y = e.clientY
      let far = false
      drag(e, (now, rest) => {
        far ||= Math.abs(now.clientY - y) > 6
        if (!far) return
        moved()
        setAt(rest ? null : placeOf(now.clientY))
        if (rest) void drop(moving(id), placeOf(now.clientY))
      })
    }
  }
  return (
    <aside aria-label="Reel" className="flex h-full flex-col border-r border-line">
      <ReelName reel={reel} />
      <div ref={box} className="min-h-0 grow overflow-y-auto px-2 py-2" data-testid="column">
        {reel && reel.shots.length === 0 && <p className="text-dim">No shots yet. Drop files here, or press Add.</p>}
        <div className="relative w-full" style={{ height: list.getTotalSize() }}>
          {list.getVirtualItems().map((v) => {
            const row = rows[v.index]!
            return (
              <div key={v.key} className="absolute inset-x-0 top-0" style={{ height: v.size, transform: `translateY(${v.start}px)` }}>
                {at === v.index && <div className="absolute inset-x-0 -top-[3px] h-[2px] rounded-full bg-plum" aria-hidden />}
                {'shot' in row ? (
                  <Frame
                    shot={row.shot}
                    onGrip={grip(row.shot.id)}
                    naming={naming === row.shot.id}
                    onName={(on) => setNaming(on ? row.shot.id : 0)}
                    moving={moving}
                  />
                ) : (
                  <Heading scene={row.scene} shots={row.shots} reel={reel!} />
                )}
              </div>
            )
          })}
          {at === rows.length && <div className="absolute inset-x-0 bottom-0 h-[2px] rounded-full bg-plum" aria-hidden />}
        </div>
      </div>
      {reel && shotId > 0 && <Chosen reel={reel} ids={selection.length > 0 ? selection : [shotId]} onName={setNaming} />}
    </aside>
  )
}

/** The reel's name, which opens the page of all reels. */
function ReelName({ reel }: { reel: Reel | null }) {
  const open = reelPage.use((s) => s.open)
  return (
    <Tip help="All reels: open another, make one, name, archive or remove one" side="right">
      <button
        type="button"
        aria-label="Reels"
        aria-expanded={open}
        className="flex h-7 shrink-0 items-center gap-1 border-b border-line px-2 text-left text-soft hover:text-text"
        onClick={() => openPage(true)}
      >
        <span className="min-w-0 grow truncate font-medium" data-testid="reel-name">
          {reel?.name ?? 'Reels'}
        </span>
        <span className="text-dim">▾</span>
      </button>
    </Tip>
  )
}

type SceneAct = 'name' | 'up' | 'down' | 'remove'

/** The heading of a scene: press to choose all its shots. */
function Heading({ scene, shots, reel }: { scene: Scene | null; shots: ShotCard[]; reel: Reel }) {
  const [naming, setNaming] = useState(false)
  const ids = shots.map((s) => s.id)
  const at = reel.scenes.findIndex((c) => c.id === scene?.id)
  function act(what: SceneAct) {
    if (!scene) return
    if (what === 'name') setNaming(true)
    if (what === 'remove') void changeScene(scene.id, { removed: true })
    if (what === 'up') void placeScene(scene.id, reel.scenes[at - 1]!.id)
    if (what === 'down') void placeScene(scene.id, reel.scenes[at + 2]?.id ?? 0)
  }
  if (naming && scene)
    return (
      <NameField
        label="Name of the scene"
        focused
        className="h-5 w-full rounded-sm border border-plum bg-raise px-1 text-xs text-text"
        value={scene.name}
        onName={(name) => void changeScene(scene.id, { name })}
        onDone={() => setNaming(false)}
      />
    )
  return (
    <div className="flex h-5 items-center text-xs text-dim">
      <Tip help={`Choose the ${shots.length === 1 ? 'shot' : `${shots.length} shots`} of ${scene?.name ?? 'no scene'}`} side="right">
        <button type="button" className="min-w-0 grow truncate text-left hover:text-text" onClick={() => studio.set({ selection: ids })}>
          {scene?.name ?? 'no scene'}
        </button>
      </Tip>
      {scene && (
        <Menu<SceneAct>
          bare
          label={`Scene ${scene.name}`}
          value=""
          groups={[
            {
              title: '',
              items: [
                { id: 'name', label: 'Name' },
                ...(at > 0 ? [{ id: 'up' as const, label: 'Move up' }] : []),
                ...(at < reel.scenes.length - 1 ? [{ id: 'down' as const, label: 'Move down' }] : []),
                { id: 'remove', label: 'Dissolve', note: 'its shots stay in the reel' },
              ],
            },
          ]}
          onChange={act}
        >
          <span className="text-dim">▾</span>
        </Menu>
      )}
    </div>
  )
}

function Frame({
  shot,
  onGrip,
  naming,
  onName,
  moving,
}: {
  shot: ShotCard
  onGrip: (e: PointerEvent<HTMLElement>, moved: () => void) => void
  naming: boolean
  onName: (on: boolean) => void
  moving: (id: number) => number[]
}) {
  const open = useStudio((s) => s.shotId === shot.id)
  const chosen = useStudio((s) => s.selection.includes(shot.id))
  const thumb = useStudio((s) => s.thumbs[shot.id])
  const dragged = useRef(false)
  useEffect(() => {
    if (!studio.get().thumbs[shot.id]) studio.askThumb(shot)
    // once for each shot that comes into view
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [shot.id])
  const press = (e: MouseEvent) => {
    if (!dragged.current) choose(shot.id, e.shiftKey ? 'range' : e.ctrlKey || e.metaKey ? 'toggle' : 'one')
    dragged.current = false
  }
  const key = (e: KeyboardEvent) => {
    if (e.altKey && (e.key === 'ArrowUp' || e.key === 'ArrowDown')) {
      e.preventDefault()
      e.stopPropagation()
      void moveShots(moving(shot.id), e.key === 'ArrowUp' ? -1 : 1)
    }
  }
  const { warn, say } = wordsOf(
    shot,
    useStudio((s) => s.reel),
  )
  return (
    <>
      <Tip
        help={`${shot.name}: ${shot.width} × ${shot.height}, ${shot.frames > 1 ? `${shot.frames} frames` : 'a still'}. ${shot.says}${shot.note ? ` — ${shot.note}` : ''}`}
        side="right"
      >
        <button
          type="button"
          aria-label={shot.name}
          aria-pressed={open}
          data-chosen={chosen}
          className="block w-full cursor-default text-left"
          onClick={press}
          onKeyDown={key}
          onPointerDown={(e) => onGrip(e, () => (dragged.current = true))}
          onDoubleClick={() => onName(true)}
        >
          <div
            className={`relative aspect-video w-full overflow-hidden rounded-[2px] bg-black outline ${open ? 'outline-2 outline-plum' : chosen ? 'outline-1 outline-text' : 'outline-1 outline-line'}`}
          >
            <Canvas picture={thumb} className="h-full w-full object-contain" />
            {shot.flag && <span className="absolute right-1 top-1 h-2 w-2 rounded-[1px] bg-amber" title="flagged" aria-label="flagged" />}
          </div>
          {!naming && (
            <div className={`mt-1 truncate ${open ? 'text-text' : 'text-soft'}`}>
              {shot.name}
              {shot.note && <span className="text-dim"> ✎</span>}
            </div>
          )}
          {!naming &&
            (warn.length > 0 ? warn : say ? [say] : []).map((word) => (
              <div key={word} className={`truncate text-xs ${warn.length > 0 ? 'text-amber' : 'text-dim'}`}>
                {word}
              </div>
            ))}
        </button>
      </Tip>
      {naming && (
        <NameField
          label="Name of the shot"
          focused
          className="mt-1 h-5 w-full rounded-sm border border-plum bg-raise px-1 text-text"
          value={shot.name}
          onName={(name) => void changeShots([shot.id], { name })}
          onDone={() => onName(false)}
        />
      )}
    </>
  )
}

type Act = 'name' | 'alike' | 'take' | 'scene' | 'flag' | 'unflag' | 'remove' | `to:${number}`

/** What can be done with the chosen shots. */
function Chosen({ reel, ids, onName }: { reel: Reel; ids: number[]; onName: (id: number) => void }) {
  const shots = reel.shots.filter((s) => ids.includes(s.id))
  const looking = searching.use((s) => s.done)
  const flagged = shots.every((s) => s.flag)
  function act(what: Act) {
    if (what === 'name') onName(ids[0]!)
    else if (what === 'alike') chooseAlike(ids[0]!)
    else if (what === 'take') openCarry(true)
    else if (what === 'scene') void groupShots(ids)
    else if (what === 'flag' || what === 'unflag') void changeShots(ids, { flag: what === 'flag' })
    else if (what === 'remove') void changeShots(ids, { removed: true })
    else void placeShots(ids, Number(what.slice(3)), 0)
  }
  const to = reel.scenes.filter((c) => shots.some((s) => s.sceneId !== c.id)).map((c) => ({ id: `to:${c.id}` as Act, label: c.name }))
  const out = shots.some((s) => s.sceneId !== 0) ? [{ id: 'to:0' as Act, label: 'none' }] : []
  if (looking !== null)
    return (
      <div className="grid shrink-0 gap-1.5 border-t border-line p-2">
        <ProgressBar label="Looking for shots like this" done={looking} />
        <Button onClick={stopAlike}>Stop</Button>
      </div>
    )
  return (
    <div className="grid shrink-0 gap-1.5 border-t border-line p-2">
      <Menu<Act>
        label="Chosen shots"
        help="What can be done with the chosen shots: choose more with Ctrl or Shift, drag them to another place, or move them with Alt and the arrows"
        value=""
        groups={[
          {
            title: '',
            items: [
              ...(ids.length === 1 ? [{ id: 'name' as Act, label: 'Name' }] : []),
              ...(ids.length === 1
                ? [{ id: 'alike' as Act, label: 'Choose those that look like this', note: 'of the same camera and light, as they came in' }]
                : []),
              { id: 'take', label: 'Take settings over', note: 'from a shot, a pin or a look, by parts' },
              { id: 'scene', label: 'Group into a new scene' },
              flagged ? { id: 'unflag', label: 'Take the flag away' } : { id: 'flag', label: 'Flag', note: 'to be looked at again' },
              { id: 'remove', label: 'Remove from the reel', note: 'files stay; undo brings it back' },
            ],
          },
          { title: 'Move into the scene', items: [...to, ...out] },
        ]}
        onChange={act}
      >
        <span className="min-w-0 grow truncate text-left">{ids.length === 1 ? '1 shot' : `${ids.length} chosen`}</span>
      </Menu>
      {ids.length > 1 && (
        <Tip help="Say how the camera recorded all chosen shots, in one act" side="right">
          <Button onClick={() => setDeclaring(true)}>Declare</Button>
        </Tip>
      )}
    </div>
  )
}
