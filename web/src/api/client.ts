import type { Delivery, Desk, Edit, Problem, Reel, Shot } from './types.gen'

/** A refusal in the server's own words. */
export class Refusal extends Error {}

async function call<T>(method: string, path: string, body?: unknown): Promise<T> {
  let response: Response
  try {
    response = await fetch('/api/v1' + path, {
      method,
      headers: body === undefined ? undefined : { 'Content-Type': 'application/json' },
      body: body === undefined ? undefined : JSON.stringify(body),
    })
  } catch {
    throw new Refusal('Velours does not answer. Every change up to here is saved; start it again and reload.')
  }
  if (response.status === 204) return undefined as T
  if (!response.ok) {
    const problem = (await response.json().catch(() => null)) as Problem | null
    throw new Refusal(problem?.detail ?? response.statusText)
  }
  return (await response.json()) as T
}

export const api = {
  desk: () => call<Desk>('GET', '/desk'),
  reels: () => call<Reel[]>('GET', '/reels'),
  addShot: (reel: number, path: string) => call<Shot>('POST', `/reels/${reel}/shots`, { path }),
  edit: (shot: number, edit: Edit) => call<Shot>('POST', `/shots/${shot}/edits`, edit),
  undo: (shot: number) => call<Shot>('POST', `/shots/${shot}/undo`),
  redo: (shot: number) => call<Shot>('POST', `/shots/${shot}/redo`),
  frame: (shot: number, frame: number) => call<void>('PUT', `/shots/${shot}/frame`, { frame }),
  deliver: (shot: number, format: string, frame: number) => call<Delivery>('POST', `/shots/${shot}/deliveries`, { format, frame }),
  deliveries: () => call<Delivery[]>('GET', '/deliveries'),
  cancel: (id: number) => call<void>('DELETE', `/deliveries/${id}`),
}
