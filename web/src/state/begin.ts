import { api } from '../api/client'
import { listen } from './listen'
import { loadPins } from './pins'
import { studio } from './studio'

/** Opens the window's socket, loads what there is, and opens the shot that was open last. */
export async function begin() {
  studio.wire.onState = (connected) => studio.set({ connected })
  listen(studio)
  studio.wire.open()
  try {
    const [desk, reels, deliveries] = await Promise.all([api.desk(), api.reels(), api.deliveries()])
    studio.set({ desk, reels, deliveries })
    const remembered = Number(localStorage.getItem('shot'))
    const shots = reels.flatMap((r) => r.shots)
    const shot = shots.find((s) => s.id === remembered) ?? shots[0]
    if (shot) studio.openShot(shot.id)
    for (const s of shots) studio.askThumb(s)
    await loadPins()
  } catch (error) {
    studio.complain(error)
  }
}
