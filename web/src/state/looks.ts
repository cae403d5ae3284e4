import { api } from '../api/client'
import type { ReadyLook } from '../api/types.gen'
import { Store } from './store'
import { studio } from './studio'
import { layOut, testStrip } from './testStrip'

/** Keeping the look of the open shot: what is typed, and which of it. */
export const keeping = new Store<{ open: boolean; name: string; mood: string; note: string; what: 'whole' | 'film' }>({
  open: false,
  name: '',
  mood: '',
  note: '',
  what: 'whole',
})

async function reload() {
  testStrip.set({ looks: await api.looks() })
  layOut()
}

/** Keeps the look of the open shot in the library. */
export async function keepLook() {
  const { name, mood, note, what } = keeping.get()
  const { shotId, frame } = studio.get()
  try {
    await studio.settled()
    await api.keepLook({ shot: shotId, frame, name, mood, note, parts: what === 'film' ? ['lens', 'film', 'print'] : undefined })
    keeping.set({ open: false, name: '', mood: '', note: '' })
    await reload()
  } catch (error) {
    studio.complain(error)
  }
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

export async function describeLook(look: ReadyLook, change: { name?: string; mood?: string; note?: string }) {
  try {
    await api.describeLook(look.kept!, { name: look.label, mood: look.mood ?? '', note: look.note, ...change })
    await reload()
  } catch (error) {
    studio.complain(error)
  }
}
