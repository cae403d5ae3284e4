import type { Box } from '../api/types.gen'
import { judge } from './judge'
import { allScopes, asks, scopes, type Dock, type ScopeId } from './scopes'
import { remember } from './store'
import { studio } from './studio'

export function setDock(change: Partial<Dock>) {
  const dock = { ...scopes.get().dock, ...change }
  scopes.set({ dock })
  if ('under' in change) scopes.set({ unders: {} })
  remember('scopes', dock)
  if (!('size' in change)) studio.refresh(false)
}

export function toggleScope(id: ScopeId) {
  const { dock } = scopes.get()
  const on = dock.scopes.includes(id)
  if (on && dock.scopes.length === 1) return setDock({ open: false })
  setDock({ scopes: allScopes.map((s) => s.id).filter((s) => (s === id ? !on : dock.scopes.includes(s))) })
}

export function setScopeSize(id: string, width: number, height: number) {
  const old = scopes.get().sizes[id]
  if (old && old.width === width && old.height === height) return
  scopes.set({ sizes: { ...scopes.get().sizes, [id]: { width, height } } })
  studio.refreshSoon()
}

/** Restricts the scopes to a box, on this side or on the other; one on this side counts for both until the other has its own. */
export function setBox(box: Box | null, other = false) {
  scopes.set(other ? { otherBox: box } : { box, ...(box ? {} : { otherBox: null }) })
  studio.refresh(false)
}

let asked = 0
let waiting: { x: number; y: number } | null = null
/** Reads the pixel under the pointer; the newest place counts. */
export function probe(at: { x: number; y: number } | null) {
  if (!at) {
    waiting = null
    studio.unask('probe')
    if (scopes.get().reading) scopes.set({ reading: null })
    return
  }
  waiting = at
  if (asked) return
  asked = requestAnimationFrame(() => {
    asked = 0
    if (waiting && !judge.get().before) studio.askProbe({ ...waiting, scopes: asks() })
  })
}
