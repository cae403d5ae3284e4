import type { Notice, PictureReply, Replies, Reply, Request } from './types.gen'

/** A picture from the server, ready for a canvas. */
export interface Picture {
  reply: PictureReply
  image: ImageData
}

/** What is asked for; its number is given to it on the way. */
export type Ask = Request extends infer R ? (R extends Request ? Omit<R, 'seq'> : never) : never

/** What becomes of a reply to a request of a type, with the pixels behind it. */
export type Hear<T extends Request['type']> = (reply: Replies[T], image: ImageData | null) => void

interface Asked {
  request: Request
  hear: (reply: never, image: ImageData | null) => void
  problem?: (text: string) => void
}

/** The window's socket. On each channel only the newest request counts; answers to older ones are dropped. */
export class Wire {
  private socket: WebSocket | null = null
  private latest = new Map<string, Asked>()
  private seq = 0
  private wait = 250
  onState: (open: boolean) => void = () => {}
  onNotice: (notice: Notice) => void = () => {}
  /** What is wrong with a message that belongs to no request. */
  onProblem: (text: string) => void = () => {}

  open() {
    const scheme = location.protocol === 'https:' ? 'wss' : 'ws'
    const socket = new WebSocket(`${scheme}://${location.host}/api/v1/window`)
    socket.binaryType = 'arraybuffer'
    this.socket = socket
    socket.onopen = () => {
      this.wait = 250
      this.onState(true)
      for (const { request } of this.latest.values()) socket.send(JSON.stringify(request))
    }
    socket.onmessage = (event: MessageEvent<ArrayBuffer>) => this.receive(event.data)
    socket.onclose = () => {
      if (this.socket !== socket) return
      this.onState(false)
      setTimeout(() => this.open(), this.wait)
      this.wait = Math.min(this.wait * 2, 4000)
    }
  }

  close() {
    const socket = this.socket
    this.socket = null
    socket?.close()
  }

  /** Asks, in the place of what was asked on the same channel. */
  ask<R extends Ask>(request: R, hear: Hear<R['type']>, problem?: (text: string) => void) {
    const full = { ...request, seq: ++this.seq }
    this.latest.set(request.channel, { request: full, hear, problem })
    this.send(full)
  }

  /** Ends the work of every channel whose name begins so, and forgets what was asked. */
  stop(channel: string) {
    for (const name of this.latest.keys()) if (name.startsWith(channel)) this.latest.delete(name)
    this.send({ type: 'stop', channel, seq: ++this.seq })
  }

  private send(request: Request) {
    if (this.socket?.readyState === WebSocket.OPEN) this.socket.send(JSON.stringify(request))
  }

  private receive(data: ArrayBuffer) {
    const size = new DataView(data).getUint32(0, true)
    const message = JSON.parse(new TextDecoder().decode(new Uint8Array(data, 4, size))) as Reply | Notice
    if (!('channel' in message)) return this.onNotice(message)
    const newest = this.latest.get(message.channel)
    if (message.type === 'problem') {
      if (!newest) this.onProblem(message.problem)
      else if (message.seq === newest.request.seq) newest.problem?.(message.problem)
      return
    }
    if (message.seq !== newest?.request.seq) return
    const image =
      'width' in message && message.width > 0
        ? new ImageData(new Uint8ClampedArray(data, 4 + size, 4 * message.width * message.height), message.width, message.height)
        : null
    newest.hear(message as never, image)
  }
}
