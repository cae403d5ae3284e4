import { api, type Facts } from '../api/client'
import type { ReelPage } from '../api/types.gen'
import type { Picture } from '../api/window'
import { Store } from './store'
import { studio } from './studio'

/** The page of reels, with a frame of each. */
export const reelPage = new Store<{ page: ReelPage | null; open: boolean; pictures: Record<number, Picture> }>({
  page: null,
  open: false,
  pictures: {},
})

export async function loadReels() {
  reelPage.set({ page: await api.reels() })
  if (reelPage.get().open) askCovers()
}

function askCovers() {
  for (const r of reelPage.get().page?.reels ?? [])
    if (r.cover)
      studio.askPicture(`cover:${r.id}`, { shot: r.cover, frame: 0, width: 384, height: 384, draft: true, keep: true }, (picture) =>
        reelPage.set({ pictures: { ...reelPage.get().pictures, [r.id]: picture } }),
      )
}

export function openPage(open: boolean) {
  reelPage.set({ open })
  if (open) askCovers()
}

/** Does something to reels, and shows the page as it is then. */
async function on(act: () => Promise<unknown>) {
  try {
    await act()
    await loadReels()
  } catch (error) {
    studio.complain(error)
  }
}

/** Opens a reel, and leaves the page. */
export async function goTo(id: number) {
  await studio.settled()
  await on(() => studio.openReel(id))
  openPage(false)
}

export const newReel = () =>
  on(async () => {
    const made = await api.addReel('New reel')
    await studio.openReel(made.id)
  })
export const copyReel = (id: number) => on(() => api.copyReel(id))
export const changeReel = (id: number, change: Facts) =>
  on(async () => {
    await api.changeReel(id, change)
    if (change.removed && studio.get().reel?.id === id) {
      const rest = (await api.reels()).reels.filter((r) => !r.archived)
      if (rest[0]) await studio.openReel(rest[0].id)
    }
  })
export const placeReel = (id: number, before: number) => on(() => api.placeReel(id, before))
export const travelPage = (way: 'undo' | 'redo') => on(() => api.travelReels(way, reelPage.get().page?.[way].id ?? 0))

/** Does something to what the open reel holds, and shows it as it is then. */
async function within(act: (reel: number) => Promise<unknown>) {
  const reel = studio.reel
  if (!reel) return
  try {
    await act(reel.id)
    await studio.meetReel()
  } catch (error) {
    studio.complain(error)
  }
}

export const changeShots = (shots: number[], change: Facts) => within(() => api.changeShots(shots, change))
export const changeScene = (scene: number, change: Facts) => within(() => api.changeScene(scene, change))
export const placeScene = (scene: number, before: number) => within(() => api.placeScene(scene, before))
export const placeShots = (shots: number[], scene: number, before: number) => within((reel) => api.placeShots(reel, shots, scene, before))

/** Groups shots into a new scene, named after how many there are. */
export const groupShots = (shots: number[]) => within((reel) => api.addScene(reel, `Scene ${(studio.reel?.scenes.length ?? 0) + 1}`, shots))

/** Moves the chosen shots by a place, up or down, past the ends of scenes. */
export function moveShots(shots: number[], by: -1 | 1) {
  const reel = studio.reel
  if (!reel) return
  const all = reel.shots
  const chosen = all.filter((s) => shots.includes(s.id))
  const rest = all.filter((s) => !shots.includes(s.id))
  const edge = by < 0 ? chosen[0] : chosen[chosen.length - 1]
  if (!edge) return
  const order = [...reel.scenes.map((c) => c.id), 0]
  const like = (scene: number) => rest.filter((s) => s.sceneId === scene)
  const here = like(edge.sceneId)
  const passed = here.filter((s) => all.indexOf(s) < all.indexOf(edge)).length // those that stand before it
  if (by < 0 && passed > 0) return placeShots(shots, edge.sceneId, here[passed - 1]!.id)
  if (by > 0 && passed < here.length) return placeShots(shots, edge.sceneId, here[passed + 1]?.id ?? 0)
  const next = order[order.indexOf(edge.sceneId) + by]
  if (next === undefined) return
  return placeShots(shots, next, by > 0 ? (like(next)[0]?.id ?? 0) : 0)
}
