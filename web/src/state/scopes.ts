import type { Box, Reading, ScopeAsk, ScopeReply } from '../api/types.gen'
import { remembered, Store } from './store'

export type ScopeId = 'waveform' | 'parade' | 'vector' | 'histogram' | 'chroma'
export type Place = 'below' | 'above' | 'left' | 'right'

/** What the browser remembers of the dock. */
export interface Dock {
  open: boolean
  place: Place
  /** Height in pixels when it lies below or above, width when it stands aside. */
  size: number
  scopes: ScopeId[]
  tap: string
  luma: boolean
  nits: boolean
  log: boolean
  zoom: number
  /** The other side's traces lie beneath. */
  under: boolean
}

/** A scope's answer: what it says, and its drawing. */
export interface Trace {
  reply: ScopeReply
  image: ImageData | null
}

interface Scopes {
  dock: Dock
  traces: Record<string, Trace>
  unders: Record<string, Trace>
  sizes: Record<string, { width: number; height: number }>
  reading: Reading | null
  box: Box | null
  /** That of the other side, where it has one of its own. */
  otherBox: Box | null
}

const usual: Dock = {
  open: true,
  place: 'below',
  size: 150,
  scopes: ['parade', 'waveform', 'vector'],
  tap: 'finish',
  luma: false,
  nits: false,
  log: false,
  zoom: 1,
  under: false,
}

export const scopes = new Store<Scopes>({
  dock: remembered('scopes', usual),
  traces: {},
  unders: {},
  sizes: {},
  reading: null,
  box: null,
  otherBox: null,
})

export const allScopes: { id: ScopeId; label: string; help: string }[] = [
  {
    id: 'parade',
    label: 'Parade',
    help: 'Red, green and blue side by side, each across the picture: a cast shows as a difference in height.',
  },
  { id: 'waveform', label: 'Waveform', help: 'How bright the picture is, column by column.' },
  { id: 'vector', label: 'Vectorscope', help: 'Hue as direction, saturation as distance. Skin of every tone lies along the line.' },
  { id: 'histogram', label: 'Histogram', help: 'How much of the picture has each tone, dark on the left.' },
  { id: 'chroma', label: 'Chromaticity', help: 'The colours of the light in the CIE 1976 diagram, with the display’s gamut.' },
]

/** What of the dock goes into a request for a picture, of this side or of the other. */
export function asks(other = false): ScopeAsk[] {
  const { dock, sizes, box: own, otherBox } = scopes.get()
  const box = other ? (otherBox ?? own) : own
  if (!dock.open) return []
  const list: ScopeAsk[] = []
  for (const id of dock.scopes) {
    const size = sizes[id]
    if (!size || size.width < 16 || size.height < 16) continue
    const square = Math.min(size.width, size.height, 512)
    const round = id === 'vector' || id === 'chroma'
    list.push({
      id,
      tap: dock.tap,
      luma: dock.luma,
      nits: dock.nits,
      zoom: dock.zoom,
      width: round ? square : Math.min(size.width, 1024),
      height: round ? square : Math.min(size.height, 512),
      box: box ?? undefined,
    })
  }
  return list
}

export function receiveTrace(which: 'traces' | 'unders', reply: ScopeReply, image: ImageData | null) {
  const list = { ...scopes.get()[which], [reply.scope.ask.id]: { reply, image } }
  scopes.set(which === 'traces' ? { traces: list } : { unders: list })
}
