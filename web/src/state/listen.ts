import { windowId } from '../api/gesture'
import type { Notice } from '../api/types.gen'
import { noteDelivery } from './deliveries'
import { loadPins } from './pins'
import { loadKept } from './assets'
import { loadReels } from './reels'
import type { studio } from './studio'

/** What becomes of what happens elsewhere: in other windows, and in deliveries. */
export function listen(to: typeof studio) {
  to.wire.onProblem = (text) => to.tell(text)
  to.wire.onNotice = (notice: Notice) => {
    switch (notice.type) {
      case 'shot':
        if (notice.window !== windowId) to.meet(notice.shot)
        break
      case 'levels':
        if (notice.window !== windowId) to.meetLevels(notice.levels)
        break
      case 'reels':
        to.meetReel().catch((e) => to.complain(e))
        loadReels().catch((e) => to.complain(e))
        break
      case 'assets':
        void Promise.all([loadKept(), loadPins()]).then(() => to.refresh(false))
        break
      case 'delivery':
        noteDelivery(notice.delivery)
        break
      case 'wait':
        if (notice.of === 'picture') to.set({ waits: notice.place })
        break
    }
  }
}
