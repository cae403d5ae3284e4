import type { Reply, Request } from './types.gen'

/** A picture from the server, ready for a canvas. */
export interface Picture {
  reply: Reply
  image: ImageData
}

type Listener = (reply: Reply, image: ImageData | null) => void

/** The window's socket. On each channel only the newest request counts; answers to older ones are dropped. */
export class Wire {
  private socket: WebSocket | null = null
  private latest = new Map<string, Request>()
  private listeners = new Map<string, Listener>()
  private seq = 0
  private wait = 250
  onState: (open: boolean) => void = () => {}

  open() {
    const scheme = location.protocol === 'https:' ? 'wss' : 'ws'
    const socket = new WebSocket(`${scheme}://${location.host}/api/v1/window`)
    socket.binaryType = 'arraybuffer'
    this.socket = socket
    socket.onopen = () => {
      this.wait = 250
      this.onState(true)
      for (const request of this.latest.values()) socket.send(JSON.stringify(request))
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

  listen(channel: string, listener: Listener) {
    this.listeners.set(channel, listener)
  }

  ask(request: Omit<Request, 'seq'>) {
    const full = { ...request, seq: ++this.seq }
    this.latest.set(request.channel, full)
    if (this.socket?.readyState === WebSocket.OPEN) this.socket.send(JSON.stringify(full))
  }

  /** Ends the work of every channel whose name begins so, and forgets what was asked. */
  stop(channel: string) {
    for (const name of this.latest.keys()) if (name.startsWith(channel)) this.latest.delete(name)
    if (this.socket?.readyState === WebSocket.OPEN)
      this.socket.send(JSON.stringify({ channel, stop: true, seq: ++this.seq, view: { shot: 0, frame: 0, width: 0, height: 0 } }))
  }

  private receive(data: ArrayBuffer) {
    const size = new DataView(data).getUint32(0, true)
    const reply = JSON.parse(new TextDecoder().decode(new Uint8Array(data, 4, size))) as Reply
    const newest = this.latest.get(reply.channel)
    if (newest && reply.seq !== newest.seq) return
    const image =
      reply.width > 0
        ? new ImageData(new Uint8ClampedArray(data, 4 + size, 4 * reply.width * reply.height), reply.width, reply.height)
        : null
    this.listeners.get(reply.channel.split(':')[0]!)?.(reply, image)
  }
}
