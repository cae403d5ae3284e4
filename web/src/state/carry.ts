import { api } from '../api/client'
import type { Look, StepPath } from '../api/types.gen'
import { nameOf } from '../model/look'
import { activate, desk } from './desk'
import { Store } from './store'
import { studio } from './studio'

/** What is to be taken over to the chosen shots, and from where. */
interface Carrying {
  open: boolean
  /** shot:ID, pin:ID or look:ID. */
  from: string
  /** The look of that, to say what its parts are. */
  look: Look | null
  parts: string[]
  steps: StepPath[]
  add: boolean
  /** The looks that there are beside shots and pins. */
  looks: { id: string; label: string; look: Look }[]
}

export const carrying = new Store<Carrying>({ open: false, from: '', look: null, parts: [], steps: [], add: false, looks: [] })

/** Opens the sheet for the chosen shots. */
export function openCarry(open: boolean) {
  carrying.set({ open })
  if (!open) return
  const { desk: declared, shotId, selection, reel } = studio.get()
  // alone, the open shot is given what the one before it has
  const at = reel?.shots.findIndex((s) => s.id === shotId) ?? 0
  const near = reel?.shots[at > 0 ? at - 1 : at + 1]?.id ?? shotId
  const first = selection.length > 1 ? shotId : near
  carrying.set({ parts: (declared?.parts ?? []).filter((p) => p.usual).map((p) => p.id), steps: [], add: false })
  api.looks().then(
    (looks) => {
      carrying.set({ looks })
      void from(`shot:${first}`)
    },
    (e) => studio.complain(e),
  )
}

/** Chooses where it is taken from. */
export async function from(id: string) {
  carrying.set({ from: id, look: null, steps: [] })
  const [kind, name = ''] = [id.slice(0, id.indexOf(':')), id.slice(id.indexOf(':') + 1)]
  try {
    const look =
      kind === 'shot' ? (await api.shot(Number(name))).look : carrying.get().looks.find((l) => l.id === (kind === 'pin' ? id : name))?.look
    if (carrying.get().from === id) carrying.set({ look: look ?? null })
  } catch (error) {
    studio.complain(error)
  }
}

export function takePart(part: string, on: boolean) {
  const { parts } = carrying.get()
  carrying.set({ parts: on ? [...parts, part] : parts.filter((p) => p !== part) })
}

export function takeStep(path: StepPath, on: boolean) {
  const { steps } = carrying.get()
  carrying.set({ steps: on ? [...steps, path] : steps.filter((p) => p !== path) })
}

/** The shots that get it: those that are chosen but for the one that it comes from. */
export function targets(from: string, selection: number[], shotId: number): number[] {
  const all = selection.length > 0 ? selection : [shotId]
  return all.filter((id) => `shot:${id}` !== from)
}

/** Takes it over: one act, one undo. */
export async function carryOver() {
  const { from, parts, steps, add } = carrying.get()
  const { selection, shotId } = studio.get()
  const [kind, name = ''] = [from.slice(0, from.indexOf(':')), from.slice(from.indexOf(':') + 1)]
  try {
    await studio.settled()
    await api.carry({
      from: kind === 'shot' ? { shot: Number(name) } : kind === 'pin' ? { pin: Number(name) } : { look: name },
      to: targets(from, selection, shotId),
      parts,
      steps,
      add,
    })
    carrying.set({ open: false })
    await studio.meetReel()
  } catch (error) {
    studio.complain(error)
  }
}

/** What of a look came from another picture, in the order of the light path. */
export function marksOf(look: Look | null, stations: string[]): { path: StepPath; station: string; name: string; again: string[] }[] {
  return stations.flatMap((station) =>
    (look?.stations[station]?.steps ?? [])
      .filter((s) => s.again && s.again.length > 0)
      .map((s) => ({ path: `${station}.${nameOf(s)}`, station, name: nameOf(s), again: s.again! })),
  )
}

/** Goes to the next step that is to be looked at again, after the one that is open. */
export function nextMark() {
  const { docs, desk: declared, station } = studio.get()
  const marks = marksOf(docs.shot, declared?.stations.map((s) => s.id) ?? [])
  const now = desk.get().activeStep
  const at = marks.findIndex((m) => m.path === now)
  const next = marks[(at + 1) % marks.length]
  if (!next) return
  studio.setLevel('shot')
  if (next.station !== station) studio.chooseStation(next.station)
  activate(next.path)
  desk.set({ focus: next.path })
}

studio.onMarks = () => {
  // once what covers the picture has gone
  setTimeout(nextMark, 300)
}

/** What a step has of another picture is looked at, and suits; goes on to the next. */
export async function seen(station: string, name: string) {
  studio.edit({ op: 'seen', station, kind: name }, false, 'shot')
  await studio.settled()
  nextMark()
}

export function allSeen() {
  studio.edit({ op: 'seen' }, false, 'shot')
}
