/** The name of this window among those that are open, kept while its tab is. */
export const windowId: string = (() => {
  const kept = sessionStorage.getItem('window')
  if (kept) return kept
  const id = crypto.getRandomValues(new Uint32Array(2)).join('-')
  sessionStorage.setItem('window', id)
  return id
})()

let gestures = 0
/** A new name for one movement of the hand, so that it undoes as one. */
export function newGesture() {
  return `${Date.now().toString(36)}-${++gestures}`
}
