import { api } from '../api/client'
import type { Standing, Trial } from '../api/types.gen'
import { upwards, type Level } from '../model/levels'
import { studio, useStudio, type State } from './studio'

const none: Trial[] = []

/** What of the state trials depend on. */
type Of = Pick<State, 'reel' | 'open' | 'shotId' | 'docs'>

/** The trials of the open shot, or of a level above it, in order. */
export function trialsAt(s: Of, level: Level): Trial[] {
  const of = { shot: s.shotId, scene: s.open?.sceneId, reel: s.reel?.id }[level]
  return s.reel?.trials.filter((t) => t.level === level && t.of === of) ?? none
}

/** All trials that bear on the open shot, nearest first. */
export const trialsOf = (s: Of): Trial[] => upwards.flatMap((level) => trialsAt(s, level))

/** The trial of a level that is in use. */
export function inUse(s: Of, level: Level): Trial | undefined {
  return trialsAt(s, level).find((t) => t.number === s.docs[level]?.trial)
}

/** Reads in a part what trials depend on. */
export function useOfTrials(): Of {
  return {
    reel: useStudio((s) => s.reel),
    open: useStudio((s) => s.open),
    shotId: useStudio((s) => s.shotId),
    docs: useStudio((s) => s.docs),
  }
}

/** A trial as it is told: its name, and a tick on the answer. */
export const called = (t: Trial) => (t.answer ? `${t.name} ✓` : t.name)

async function on(act: (shot: number) => Promise<Standing>) {
  const { shotId } = studio.get()
  try {
    await studio.settled()
    studio.meetStanding(await act(shotId), true)
  } catch (error) {
    studio.complain(error)
  }
}

export const addTrial = (level: Level) => on((shot) => api.addTrial(shot, level))
export const putInUse = (trial: number) => on((shot) => api.useTrial(shot, trial))
export const nameTrial = (trial: number, name: string) => on((shot) => api.changeTrial(shot, trial, { name }))
export const markAnswer = (trial: number, answer: boolean) => on((shot) => api.changeTrial(shot, trial, { answer }))
export const removeTrial = (trial: number) => on((shot) => api.changeTrial(shot, trial, { removed: true }))

/** The next trial, or the one before: of the level that is worked at, or of the nearest that has some. */
export function nextTrial(by: 1 | -1) {
  const s = studio.get()
  const level = [s.level, ...upwards].find((l) => trialsAt(s, l).length > 1)
  if (!level) return studio.tell('There is one version alone. Begin a trial on the desk, beside the level')
  const list = trialsAt(s, level)
  const at = list.findIndex((t) => t.number === s.docs[level]?.trial)
  return void putInUse(list[(at + by + list.length) % list.length]!.id)
}
