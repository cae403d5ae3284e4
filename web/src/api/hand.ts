/** The name of this window among those that are open, kept while its tab is. */
export const windowId: string = (() => {
  const kept = sessionStorage.getItem('window')
  if (kept) return kept
  const id = crypto.getRandomValues(new Uint32Array(2)).join('-')
  sessionStorage.setItem('window', id)
  return id
})()
