import { api } from '../api/client'
import type { Delivery } from '../api/types.gen'
import { Store } from './store'
import { studio } from './studio'

/** What is being delivered and what was, the newest first. */
export const deliveries = new Store<{ list: Delivery[] }>({ list: [] })

/** Takes over how far a delivery is; an end that was told stays one. */
export function noteDelivery(d: Delivery) {
  const { list } = deliveries.get()
  const known = list.find((x) => x.id === d.id)
  if (known && known.state !== 'running' && d.state === 'running') return
  deliveries.set({ list: known ? list.map((x) => (x.id === d.id ? d : x)) : [d, ...list] })
}

/** Begins a delivery once every change is on the disk. */
async function begin(ask: () => Promise<Delivery>) {
  try {
    await studio.settled()
    noteDelivery(await ask())
  } catch (error) {
    studio.complain(error)
  }
}

/** Delivers the open shot, or its frame. */
export async function deliver(format: string, placed: boolean) {
  const { shotId, frame } = studio.get()
  if (studio.shot) await begin(() => api.deliver(shotId, format, frame, placed))
}

/** Makes a contact sheet of the chosen shots, in the order of the reel. */
export async function deliverSheet(format: string) {
  const { selection, shotId, reel } = studio.get()
  const chosen = selection.length > 0 ? selection : [shotId]
  const inOrder = (reel?.shots ?? []).map((s) => s.id).filter((id) => chosen.includes(id))
  if (inOrder.length > 0) await begin(() => api.deliverSheet(inOrder, format))
}

export async function cancelDelivery(id: number) {
  await api.cancel(id).catch((e) => studio.complain(e))
}
