import { api, send } from '../api/client'
import type { Added } from '../api/types.gen'
import { studio } from './studio'

/** The reel that a person's own shots go to. */
function rushes() {
  const { reels } = studio.get()
  return reels.find((r) => !r.demo) ?? reels[0]
}

/** Chooses a shot: alone, in or out of the selection, or all from the open one to it. */
export function choose(id: number, how: 'one' | 'toggle' | 'range') {
  const { selection, shotId, reels } = studio.get()
  const ids = reels.flatMap((r) => r.shots.map((s) => s.id))
  if (how === 'one') studio.set({ selection: [id] })
  else if (how === 'range') {
    const [a, b] = [ids.indexOf(shotId), ids.indexOf(id)].sort((x, y) => x - y)
    studio.set({ selection: ids.slice(a, b! + 1) })
  } else if (id !== shotId)
    return studio.set({ selection: selection.includes(id) ? selection.filter((x) => x !== id) : [...selection, id] })
  if (how === 'one') studio.openShot(id)
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
  for (const e of encodings)
    studio.askPicture(`encoding:${e.id}`, { shot: shotId, frame, look, encoding: e.id, width: 320, height: 320, draft: true }, (picture) =>
      studio.set({ encodingPictures: { ...studio.get().encodingPictures, [e.id]: picture } }),
    )
}

export async function addShots(paths: string[]): Promise<boolean> {
  const reel = rushes()
  if (!reel) return false
  try {
    return take(await api.addShots(reel.id, paths))
  } catch (error) {
    studio.complain(error)
    return false
  }
}

let sending: { stop: () => void } | null = null
export async function upload(files: File[]) {
  const reel = rushes()
  if (!reel || files.length === 0) return
  studio.set({ sending: 0 })
  try {
    const job = send(reel.id, files, (share) => studio.set({ sending: share }))
    sending = job
    take(await job.done)
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
function take(added: Added): boolean {
  const reel = rushes()!
  studio.set({ reels: studio.get().reels.map((r) => (r.id === reel.id ? { ...r, shots: [...r.shots, ...added.shots] } : r)) })
  for (const shot of added.shots) studio.askThumb(shot)
  const first = added.shots[0]
  if (first) {
    studio.set({ selection: added.shots.map((s) => s.id) })
    studio.openShot(first.id)
  }
  if (added.problems.length > 0)
    studio.tell(added.problems.slice(0, 3).join('\n') + (added.problems.length > 3 ? `\nand ${added.problems.length - 3} more` : ''))
  return added.shots.length > 0
}

export async function removeShot(id: number) {
  try {
    await api.removeShot(id)
    const reels = studio.get().reels.map((r) => ({ ...r, shots: r.shots.filter((s) => s.id !== id) }))
    studio.set({ reels, selection: [] })
    const next = reels.flatMap((r) => r.shots)[0]
    if (next) studio.openShot(next.id)
    else studio.set({ shotId: 0, look: null, picture: null, ribbon: null })
  } catch (error) {
    studio.complain(error)
  }
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
