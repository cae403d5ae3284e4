import { api } from '../api/client'
import type { KeepLook } from '../api/types.gen'
import { desk } from './desk'
import { Store } from './store'
import { studio } from './studio'
import { layOut, testStrip } from './testStrip'

/** Keeping the look of the open shot, or saying something else of a kept one (by its number): what is typed, and which of it. */
export const keeping = new Store<{
  open: boolean
  kept: number
  name: string
  mood: string
  note: string
  what: 'whole' | 'film' | 'chosen'
}>({
  open: false,
  kept: 0,
  name: '',
  mood: '',
  note: '',
  what: 'whole',
})

async function reload() {
  testStrip.set({ looks: await api.looks() })
  layOut()
}

/** Keeps the look of the open shot in the library, or what is said of one that is there. */
export async function keepLook() {
  const { kept, name, mood, note, what } = keeping.get()
  const { shotId, frame } = studio.get()
  try {
    await studio.settled()
    if (kept) await api.describeLook(kept, { name, mood, note })
    else await api.keepLook({ shot: shotId, frame, name, mood, note, ...partsOf(what) })
    keeping.set({ open: false, kept: 0, name: '', mood: '', note: '' })
    await reload()
  } catch (error) {
    studio.complain(error)
  }
}

/** What of the look is kept: all of it, its film, or the steps that are chosen on the desk. */
function partsOf(what: string): Pick<KeepLook, 'parts' | 'steps'> {
  const { station } = studio.get()
  if (what === 'film') return { parts: ['lens', 'film', 'print'] }
  return what === 'chosen' ? { steps: desk.get().chosen.map((name) => studio.pathOf(`${station}.${name}`)) } : {}
}

/** Brings looks of files in. */
export async function loadLooks(files: File[]) {
  try {
    const got = await api.keepFiles(files, '', studio.reel?.id ?? 0)
    if (got.problems.length > 0) studio.tell(got.problems.join('\n'))
    await reload()
  } catch (error) {
    studio.complain(error)
  }
}

export async function dropLook(id: number) {
  try {
    await api.removeKept(id)
    await reload()
  } catch (error) {
    studio.complain(error)
  }
}
