// Made from the Go types by `go generate ./server`. Do not edit.

export interface Choice {
  id: string
  label: string
  note?: string
}

export interface Delivery {
  id: number
  shotId: number
  format: string
  path: string
  state: string
  done: number
  total: number
  note: string
}

export interface Desk {
  stations: StationInfo[]
  kinds: Kind[]
  formats: Format[]
  engine: string
}

export interface Edit {
  op: string
  station?: string
  kind?: string
  setting?: string
  value?: unknown
  look?: unknown
  gesture?: string
}

export interface Format {
  id: string
  label: string
  note: string
  whole: boolean
  table: boolean
}

export interface FrameAt {
  frame: number
}

export interface Kind {
  id: string
  station: string
  label: string
  purpose: string
  settings: Setting[]
  mixes: boolean
  fixed?: boolean
  film?: boolean
  when?: string
  idle?: string
  spatial?: boolean
}

export interface Look {
  velours: number
  name: string
  stations: Record<string, StationInLook>
}

export interface NewDelivery {
  format: string
  frame: number
}

export interface NewShot {
  path: string
}

export interface Problem {
  type: string
  title: string
  status: number
  detail: string
}

export interface Reel {
  id: number
  name: string
  shots: Shot[]
}

export interface Reply {
  channel: string
  seq: number
  stage: string
  width: number
  height: number
  sourceWidth: number
  sourceHeight: number
  ms: number
  problem?: string
  delivery?: Delivery
}

export interface Request {
  channel: string
  seq: number
  view: View
  bandWidth?: number
  bandHeight?: number
}

export interface Setting {
  id: string
  label: string
  unit?: string
  min: number
  max: number
  default: number
  step?: number
  choices?: Choice[]
  names?: Record<string, number>
  curve?: number
  help: string
}

export interface Shot {
  id: number
  name: string
  scene: string
  kind: string
  width: number
  height: number
  frames: number
  rate: number
  depth: number
  codec: string
  encoding: string
  look: Look
  frame: number
  undo: string
  redo: string
}

export interface StationInLook {
  on: boolean
  strength: number
  steps: Step[]
}

export interface StationInfo {
  id: string
  label: string
}

export interface Step {
  kind: string
  on: boolean
  strength: number
  settings: Record<string, unknown>
  matte: string | null
}

export interface View {
  shot: number
  frame: number
  look?: Look
  compare?: string
  width: number
  height: number
  x?: number
  y?: number
  cropWidth?: number
  cropHeight?: number
  draft?: boolean
}
