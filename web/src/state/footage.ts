import { api, send } from '../api/client'
import type { Added } from '../api/types.gen'
import { changeShots } from './reels'
import { shotsOf, studio } from './studio'

/** The reel that a person's own shots go to: the open one, or where that is the demo reel the first other, which is opened. */
async function home(): Promise<number> {
  const open = studio.reel
  if (open && !open.demo) return open.id
  const page = await api.reels()
  const other = page.reels.find((r) => !r.demo && !r.archived) ?? (await api.addReel('Rushes'))
  return other.id
}

/** Chooses a shot: alone, in or out of the selection, or all from the open one to it. */
export function choose(id: number, how: 'one' | 'toggle' | 'range') {
  const { selection, shotId } = studio.get()
  const ids = shotsOf(studio.get()).map((s) => s.id)
  if (how === 'one') studio.set({ selection: [id] })
  else if (how === 'range') {
    const [a, b] = [ids.indexOf(shotId), ids.indexOf(id)].sort((x, y) => x - y)
    studio.set({ selection: ids.slice(a, b! + 1) })
  } else if (id !== shotId)
    return studio.set({ selection: selection.includes(id) ? selection.filter((x) => x !== id) : [...selection, id] })
  if (how === 'one') void studio.openShot(id)
}

/** Declares the encoding of the open shot, or of all that are chosen with it. */
export async function declare(id: string) {
  const { selection, shotId } = studio.get()
  try {
    for (const shot of await api.declare(selection.includes(shotId) ? selection : [shotId], id)) {
      studio.replaceShot(shot, true)
      studio.askThumb(shot)
    }
    studio.set({ declaring: false })
    studio.refresh(false)
  } catch (error) {
    studio.complain(error)
  }
}

export function setDeclaring(declaring: boolean) {
  studio.set({ declaring, encodingPictures: {} })
}

/** Asks for the open frame under every encoding. */
export function askEncodings() {
  const { desk, shotId, frame, look } = studio.get()
  const encodings = desk?.encodings
  if (!look || !encodings) return
  const looks = studio.looks()
  for (const e of encodings)
    studio.askPicture(
      `encoding:${e.id}`,
      { shot: shotId, frame, ...looks, encoding: e.id, width: 320, height: 320, draft: true },
      (picture) => studio.set({ encodingPictures: { ...studio.get().encodingPictures, [e.id]: picture } }),
    )
}

export async function addShots(paths: string[]): Promise<boolean> {
  try {
    const reel = await home()
    return await take(reel, await api.addShots(reel, paths))
  } catch (error) {
    studio.complain(error)
    return false
  }
}

/** Brings in what an edit list shows, event by event. */
export async function addProgramme(path: string, rate: string, handles: number): Promise<boolean> {
  try {
    const reel = await home()
    return await take(reel, await api.addProgramme(reel, path, rate, handles))
  } catch (error) {
    studio.complain(error)
    return false
  }
}

let sending: { stop: () => void } | null = null
export async function upload(files: File[]) {
  if (files.length === 0) return
  studio.set({ sending: 0 })
  try {
    const reel = await home()
    const job = send(reel, files, (share) => studio.set({ sending: share }))
    sending = job
    await take(reel, await job.done)
  } catch (error) {
    studio.complain(error)
  } finally {
    studio.set({ sending: null })
  }
}
export function stopUpload() {
  sending?.stop()
}

/** Shows what came in, and tells what did not. */
async function take(reel: number, added: Added): Promise<boolean> {
  const first = added.shots[0]
  if (first) {
    await studio.openReel(reel, first.id)
    studio.set({ selection: added.shots.map((s) => s.id) })
  }
  if (added.problems.length > 0)
    studio.tell(added.problems.slice(0, 3).join('\n') + (added.problems.length > 3 ? `\nand ${added.problems.length - 3} more` : ''))
  return added.shots.length > 0
}

export async function removeShot(id: number) {
  await changeShots([id], { removed: true })
}

/** Puts in or out at the open frame; where it is already, takes it away. */
export async function mark(which: 'in' | 'out') {
  const shot = studio.shot
  if (!shot || shot.frames < 2) return
  const { frame } = studio.get()
  const span = { in: shot.in, out: shot.out }
  if (which === 'in') span.in = shot.in === frame ? 0 : frame
  else span.out = shot.out === frame + 1 ? 0 : frame + 1
  if (span.out !== 0 && span.in >= span.out) span[which === 'in' ? 'out' : 'in'] = 0
  try {
    studio.replaceShot(await api.span(shot.id, span))
  } catch (error) {
    studio.complain(error)
  }
}
