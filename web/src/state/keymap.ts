import { remember, remembered, Store } from './store'

const stations = ['Intake', 'Balance', 'Lens', 'Negative', 'Print', 'Screen', 'Finish']
export type StationCommand = `station-${1 | 2 | 3 | 4 | 5 | 6 | 7}`

/** What a key can do anywhere on the page, with its usual keys. A key is written as modifiers and a name: "w", "Shift+w", "Ctrl+z", "Space". */
export const commands = [
  ...stations.map((name, i) => ({
    id: `station-${i + 1}` as StationCommand,
    group: 'Stations',
    label: `Open ${name}`,
    usual: [`${i + 1}`],
  })),
  { id: 'back', group: 'Picture', label: 'Back to the picture', usual: ['Escape'] },
  { id: 'zoom', group: 'Picture', label: 'Fit, or one to one', usual: ['z'] },
  { id: 'closer', group: 'Picture', label: 'Larger', usual: ['+', '='] },
  { id: 'farther', group: 'Picture', label: 'Smaller', usual: ['-'] },
  { id: 'alone', group: 'Picture', label: 'Nothing but the picture', usual: ['f'] },
  { id: 'surround', group: 'Picture', label: 'Surround: black, dark, grey, white', usual: ['b'] },
  { id: 'before', group: 'Comparing', label: 'The other side in place of the picture, while held', usual: ['\\'] },
  { id: 'wipe', group: 'Comparing', label: 'Wipe', usual: ['w'] },
  { id: 'beside', group: 'Comparing', label: 'Side by side', usual: ['Shift+w'] },
  { id: 'difference', group: 'Comparing', label: 'Difference to the other side', usual: ['d'] },
  { id: 'pin', group: 'Comparing', label: 'Pin this frame', usual: ['p'] },
  { id: 'strip', group: 'Comparing', label: 'Test strip', usual: ['t'] },
  { id: 'tap', group: 'Judging', label: 'Keep the picture as it leaves the open station; again lets it go', usual: ['k'] },
  { id: 'treatment', group: 'Judging', label: 'All of the treatment off, and on again', usual: ['m'] },
  { id: 'scopes', group: 'Judging', label: 'Scopes', usual: ['g'] },
  { id: 'false-colour', group: 'Judging', label: 'False colour', usual: ['x'] },
  { id: 'clipping', group: 'Judging', label: 'Clipping on the display', usual: ['c'] },
  { id: 'clipping-film', group: 'Judging', label: 'Clipping of the film', usual: ['Shift+c'] },
  { id: 'far', group: 'Judging', label: 'The step under the pointer at the top of its range, while held', usual: ['e'] },
  { id: 'hide-above', group: 'Judging', label: 'Hide what comes from scene and reel; again shows it', usual: ['v'] },
  { id: 'hide-own', group: 'Judging', label: 'Hide what is the shot’s own; again shows it', usual: ['Shift+v'] },
  { id: 'trial', group: 'Changes', label: 'The next trial', usual: ['a'] },
  { id: 'trial-back', group: 'Changes', label: 'The trial before', usual: ['Shift+a'] },
  { id: 'level', group: 'Changes', label: 'Work at the next level: shot, scene, reel', usual: ['l'] },
  { id: 'mark', group: 'Changes', label: 'The next step that came from another picture', usual: ['n'] },
  { id: 'play', group: 'Time', label: 'Play, stop', usual: ['Space'] },
  { id: 'play-still', group: 'Time', label: 'Play this frame as a still: grain alone moves', usual: ['h'] },
  { id: 'frame-back', group: 'Time', label: 'A frame back', usual: [','] },
  { id: 'frame-on', group: 'Time', label: 'A frame forward', usual: ['.'] },
  { id: 'in', group: 'Time', label: 'In at this frame; again takes it away', usual: ['i'] },
  { id: 'out', group: 'Time', label: 'Out at this frame; again takes it away', usual: ['o'] },
  { id: 'undo', group: 'Changes', label: 'Undo', usual: ['Ctrl+z'] },
  { id: 'redo', group: 'Changes', label: 'Redo', usual: ['Ctrl+Shift+z'] },
  { id: 'copy', group: 'Changes', label: 'Copy the step of the card, or all that are chosen', usual: ['Ctrl+c'] },
  { id: 'paste', group: 'Changes', label: 'Paste what was copied', usual: ['Ctrl+v'] },
  { id: 'keys', group: 'Changes', label: 'These keys', usual: ['?'] },
] as const satisfies readonly { id: string; group: string; label: string; usual: readonly string[] }[]

export type Command = (typeof commands)[number]['id']

/** Keys that a person has chosen; an empty list switches a command's key off. */
type Own = Partial<Record<Command, string[]>>

export const keymap = new Store<{ own: Own }>({ own: remembered<Own>('keys', {}) })

/** What of a press tells keys apart. */
export interface Press {
  key: string
  ctrlKey: boolean
  metaKey: boolean
  altKey: boolean
  shiftKey: boolean
}

const modifiers = ['Control', 'Meta', 'Alt', 'AltGraph', 'Shift']

/** The key of a press as it is written, '' for a modifier alone. Shift is part of what a sign or a digit is, not of its key: some keyboards need it for digits. */
export function written(e: Press): string {
  if (modifiers.includes(e.key)) return ''
  const name = e.key === ' ' ? 'Space' : e.key.length === 1 ? e.key.toLowerCase() : e.key
  const shifts = name.length > 1 || /^\p{L}$/u.test(name)
  return `${e.ctrlKey || e.metaKey ? 'Ctrl+' : ''}${e.altKey ? 'Alt+' : ''}${e.shiftKey && shifts ? 'Shift+' : ''}${name}`
}

/** The keys of a command as they are now. */
export function keysOf(id: Command, own = keymap.get().own): readonly string[] {
  return own[id] ?? commands.find((c) => c.id === id)!.usual
}

/** The command that a key has, if any. */
export function commandOf(key: string, own = keymap.get().own): Command | undefined {
  return commands.find((c) => keysOf(c.id, own).includes(key))?.id
}

/** How the first key of a command reads, '' for none. */
export function keyLabel(id: Command, own = keymap.get().own): string {
  const key = keysOf(id, own)[0] ?? ''
  return key.replace(/\+(?=.)/g, ' ').replace(/(^| )(.)$/, (all) => all.toUpperCase())
}

function keep(own: Own) {
  keymap.set({ own })
  remember('keys', own)
}

/** Gives a command a key, which another that had it loses; without one its key is switched off. */
export function bind(id: Command, key: string | null) {
  const own = { ...keymap.get().own }
  if (key)
    for (const c of commands) {
      const keys = keysOf(c.id, own)
      if (c.id !== id && keys.includes(key)) own[c.id] = keys.filter((k) => k !== key)
    }
  own[id] = key ? [key] : []
  keep(own)
}

/** Every key as it usually is. */
export function usualKeys() {
  keep({})
}
