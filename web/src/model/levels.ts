import type { Look } from '../api/types.gen'

/** Where a setting lives. */
export type Level = 'shot' | 'scene' | 'reel'

/** The looks of the open shot's levels; there is none of a scene for a shot that is in none. */
export interface Docs {
  shot: Look | null
  scene: Look | null
  reel: Look | null
}

/** From the nearest to the picture upwards. */
export const upwards: Level[] = ['shot', 'scene', 'reel']

/** Stations that follow the level above or are a level's own; in the others that have levels the steps of all add up. */
export const canFollow = (station: string) => ['lens', 'negative', 'print', 'screen'].includes(station)
export const addsUp = (station: string) => station === 'balance' || station === 'finish'

export const follows = (look: Look | null, station: string) => look?.stations[station]?.follows ?? false

/** The levels from one upwards that there are. */
const above = (docs: Docs, from: Level) => upwards.slice(upwards.indexOf(from)).filter((l) => docs[l])

/** The level that a station of a level is of: its own, or the first above that does not follow. */
export function homeOf(docs: Docs, station: string, from: Level = 'shot'): Level {
  if (!canFollow(station)) return from
  const list = above(docs, from)
  return list.find((l) => !follows(docs[l], station)) ?? list[list.length - 1] ?? from
}

/** Where a change of a station lands, while a level is worked at. */
export function landing(docs: Docs, level: Level, station: string): Level {
  if (station === 'intake') return 'shot'
  return homeOf(docs, station, docs[level] ? level : 'shot')
}

/** A step's path as the server tells steps of all levels apart. */
export function pathAt<T extends string>(level: Level, path: T): T {
  const [station = '', name = ''] = [path.slice(0, path.indexOf('.')), path.slice(path.indexOf('.') + 1)]
  return (level !== 'shot' && addsUp(station) ? `${station}.${level}:${name}` : path) as T
}

const wholes = new WeakMap<Docs, Look | null>()

/** The open shot's look with each station as the level has it that the station is of; of those that add up, the shot's own. */
export function wholeOf(docs: Docs): Look | null {
  if (!wholes.has(docs)) {
    const { shot } = docs
    const stations = shot ? { ...shot.stations } : {}
    for (const s of ['lens', 'negative', 'print', 'screen']) {
      const own = docs[homeOf(docs, s)]?.stations[s]
      if (own && !own.follows) stations[s] = own
      else delete stations[s]
    }
    wholes.set(docs, shot && { ...shot, stations })
  }
  return wholes.get(docs)!
}
