import { api } from '../api/client'
import type { Kept, Own } from '../api/types.gen'
import { Store } from './store'
import { studio } from './studio'

/** Encodings and tables that a person has added. */
export const assets = new Store<{ kept: Kept[] }>({ kept: [] })

export async function loadKept() {
  try {
    const [{ kept }, desk] = await Promise.all([api.assets(), api.desk()])
    assets.set({ kept })
    studio.set({ desk })
  } catch (error) {
    studio.complain(error)
  }
}

export async function keepEncoding(own: Own): Promise<boolean> {
  try {
    await api.keepEncoding(own)
    await loadKept()
    studio.refresh(false)
    return true
  } catch (error) {
    studio.complain(error)
    return false
  }
}

export async function keepFiles(files: File[], after: string) {
  try {
    const got = await api.keepFiles(files, after)
    if (got.problems.length > 0) studio.tell(got.problems.join('\n'))
    await loadKept()
  } catch (error) {
    studio.complain(error)
  }
}

export async function removeKept(id: number) {
  try {
    await api.removeKept(id)
  } catch (error) {
    studio.complain(error)
  }
  await loadKept()
}
