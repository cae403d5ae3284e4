import type { Look } from '../api/types.gen'

/** A look with the film of a recipe in place of its own, as the server does it. */
export function withFilm(look: Look, film: Look): Look {
  const stations = { ...look.stations }
  for (const s of ['lens', 'negative', 'print']) {
    const own = film.stations[s]
    if (own) stations[s] = own
    else delete stations[s]
  }
  const finish = stations['finish']
  const rest = finish?.steps?.filter((p) => p.kind !== 'overall') ?? []
  const overall = film.stations['finish']?.steps ?? []
  if (finish || overall.length > 0) stations['finish'] = { ...(finish ?? { on: true, strength: 1 }), steps: [...rest, ...overall] }
  return { ...look, stations }
}

/** A look with the stations of another that has something in them in place of its own, about as the server lays it. */
export function laid(on: Look, look: Look, strength: number): Look {
  const stations = { ...on.stations }
  for (const [s, st] of Object.entries(look.stations)) {
    if (s === 'intake' || !st.steps?.length) continue
    stations[s] = s === 'balance' || s === 'screen' || strength === 1 ? st : { ...st, strength: st.strength * strength }
  }
  return { ...on, stations, mattes: { ...on.mattes, ...look.mattes } }
}
