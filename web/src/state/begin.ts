import { api } from '../api/client'
import { assets } from './assets'
import { deliveries } from './deliveries'
import { listen } from './listen'
import { loadPins } from './pins'
import { reelPage } from './reels'
import { studio } from './studio'

/** Opens the window's socket, loads what there is, and opens the shot that was open last. */
export async function begin() {
  studio.wire.onState = (connected) => studio.set({ connected })
  listen(studio)
  studio.wire.open()
  try {
    const [desk, page, list] = await Promise.all([api.desk(), api.reels(), api.deliveries()])
    studio.set({ desk })
    deliveries.set({ list })
    reelPage.set({ page })
    const remembered = Number(localStorage.getItem('reel'))
    const there = page.reels.filter((r) => !r.archived)
    const reel = page.reels.find((r) => r.id === remembered) ?? there.find((r) => r.count > 0) ?? there[0]
    if (reel) await studio.openReel(reel.id)
    await loadPins()
    assets.set({ kept: (await api.assets()).kept })
  } catch (error) {
    studio.complain(error)
  }
}
