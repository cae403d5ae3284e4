import { desk } from './desk'
import { receiveBack, receivePick } from './steps'
import { judge } from './judge'
import { windowId } from '../api/hand'
import { loadPins, pinboard } from './pins'
import { player } from './player'
import { receiveTrace, scopes } from './scopes'
import { loadKept } from './shelf'
import { strip } from './strip'
import type { studio } from './studio'

/** What becomes of the server's answers, channel by channel. */
export function listen(to: typeof studio) {
  to.wire.listen('picture', (reply, image) => {
    if (reply.problem) to.set({ message: reply.problem })
    else if (image && !player.get().playing) {
      to.set({ picture: { reply, image } })
      if (reply.bands) judge.set({ bands: reply.bands })
    }
  })
  to.wire.listen('other', (reply, image) => {
    if (reply.problem) to.set({ message: reply.problem })
    else if (image) judge.set({ other: { reply, image } })
  })
  to.wire.listen('ribbon', (reply, image) => image && to.set({ ribbon: { reply, image } }))
  to.wire.listen('thumb', (reply, image) => {
    if (image) to.set({ thumbs: { ...to.get().thumbs, [Number(reply.channel.slice(6))]: { reply, image } } })
  })
  to.wire.listen('strip', (reply, image) => {
    if (image) to.set({ strip: { ...to.get().strip, [reply.channel.slice(6)]: { reply, image } } })
  })
  to.wire.listen('pin', (reply, image) => {
    if (image) pinboard.set({ pictures: { ...pinboard.get().pictures, [Number(reply.channel.slice(4))]: { reply, image } } })
  })
  to.wire.listen('try', (reply, image) => {
    if (image) strip.set({ pictures: { ...strip.get().pictures, [reply.channel.slice(4)]: { reply, image } } })
  })
  to.wire.listen(
    'large',
    (reply, image) => image && strip.set(reply.channel === 'large' ? { enlarged: { reply, image } } : { second: { reply, image } }),
  )
  to.wire.listen('scope', (reply, image) => receiveTrace('traces', reply, image))
  to.wire.listen('under', (reply, image) => receiveTrace('unders', reply, image))
  to.wire.listen('probe', (reply) => reply.reading && scopes.set({ reading: reply.reading }))
  to.wire.listen('pick', (reply) => {
    if (reply.problem) to.set({ message: reply.problem })
    else if (reply.picked) receivePick(reply.picked)
  })
  to.wire.listen('tones', (reply) => reply.tones && desk.set({ tones: { ...desk.get().tones, [reply.channel.slice(6)]: reply.tones } }))
  to.wire.listen('skin', (reply) => reply.skin && desk.set({ skin: { ...desk.get().skin, [reply.channel.slice(5)]: reply.skin } }))
  to.wire.listen('back', (reply) => {
    if (reply.problem) to.set({ message: reply.problem })
    else if (reply.skin) receiveBack(reply.skin)
  })
  to.wire.listen('rests', (reply) => reply.rests && judge.set({ rests: reply.rests }))
  to.wire.listen('event', (reply) => {
    if (reply.shot && reply.window !== windowId) to.meet(reply.shot)
    if (reply.reels) to.meetReels().catch((e) => to.complain(e))
    if (reply.assets) void Promise.all([loadKept(), loadPins()]).then(() => to.look(false))
  })
  to.wire.listen('delivery', (reply) => reply.delivery && to.noteDelivery(reply.delivery))
}
