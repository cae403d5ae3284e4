import type { Edit } from '../api/types.gen'

interface Waiting {
  shot: number
  edit: Edit
}

/** Whether two edits are one movement of a hand on one thing, so that the later says all. */
function sameMovement(a: Edit, b: Edit) {
  return !!b.gesture && (['gesture', 'op', 'setting', 'kind', 'name', 'level'] as const).every((f) => a[f] === b[f])
}

/** Edits on their way to the disk, one after the other. While one is on its way, later ones of the same movement replace each other. */
export class EditQueue {
  private waiting: Waiting[] = []
  private sending = false

  /** send writes one edit; last tells whether nothing waits behind it. */
  constructor(
    private send: (shot: number, edit: Edit, last: () => boolean) => Promise<void>,
    private busy: (busy: boolean) => void,
  ) {}

  get empty() {
    return this.waiting.length === 0
  }

  push(shot: number, edit: Edit) {
    const last = this.waiting[this.waiting.length - 1]
    if (last && this.waiting.length > (this.sending ? 1 : 0) && last.shot === shot && sameMovement(last.edit, edit)) last.edit = edit
    else this.waiting.push({ shot, edit })
    void this.run()
  }

  private async run() {
    if (this.sending) return
    this.sending = true
    this.busy(true)
    for (let next = this.waiting[0]; next; next = this.waiting[0]) {
      await this.send(next.shot, next.edit, () => this.waiting.length <= 1)
      this.waiting.shift()
    }
    this.sending = false
    this.busy(false)
  }

  /** Waits until every change is on the disk. */
  async settled() {
    while (this.sending) await new Promise((done) => setTimeout(done, 20))
  }
}
