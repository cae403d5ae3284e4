import { api } from '../api/client'
import type { Pin } from '../api/types.gen'
import type { Picture } from '../api/window'
import { judge } from './judge'
import { setSide } from './judging'
import { Store } from './store'
import { studio } from './studio'

/** The pinboard: frozen frames with their settings, and stills from elsewhere. */
export const pinboard = new Store<{ open: boolean; pins: Pin[]; pictures: Record<number, Picture> }>({
  open: false,
  pins: [],
  pictures: {},
})

function askPicture(pin: number) {
  studio.ask({ type: 'pin', channel: `pin:${pin}`, pin, width: 384, height: 384 }, (reply, image) => {
    if (image) pinboard.set({ pictures: { ...pinboard.get().pictures, [pin]: { reply, image } } })
  })
}

export async function loadPins() {
  try {
    const { pins } = await api.pins()
    pinboard.set({ pins })
    for (const p of pins) if (!pinboard.get().pictures[p.id]) askPicture(p.id)
    // mattes may name pins, so what can be chosen has changed
    if (studio.get().desk) studio.set({ desk: await api.desk() })
  } catch (error) {
    studio.complain(error)
  }
}

export async function pinFrame() {
  const shot = studio.shot
  if (!shot) return
  try {
    await studio.settled()
    await api.addPin(shot.id, studio.get().frame)
    await loadPins()
    pinboard.set({ open: true })
  } catch (error) {
    studio.complain(error)
  }
}

export async function addReferences(files: File[]) {
  const reel = studio.reel
  if (!reel || files.length === 0) return
  try {
    const got = await api.addReferences(reel.id, files)
    if (got.problems.length > 0) studio.tell(got.problems.join('\n'))
    await loadPins()
  } catch (error) {
    studio.complain(error)
  }
}

export async function renamePin(id: number, name: string) {
  try {
    await api.renamePin(id, name)
  } catch (error) {
    studio.complain(error)
  }
  await loadPins()
}

export async function removePin(id: number) {
  if (judge.get().side === `pin:${id}`) setSide('film')
  try {
    await api.removePin(id)
  } catch (error) {
    studio.complain(error)
  }
  await loadPins()
}

/** Gives the open shot a pin's settings. */
export async function takePin(id: number) {
  const shot = studio.shot
  if (!shot) return
  try {
    studio.take(await api.takePin(shot.id, shot.revision, id))
  } catch (error) {
    studio.complain(error)
  }
}
