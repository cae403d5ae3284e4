// Made from the Go types by `go generate ./server`. Do not edit.

export interface Added {
  shots: Shot[]
  problems: string[]
}

export interface AlikeReply {
  type: 'alike'
  channel: string
  seq: number
  done: number
  shots?: number[]
  found?: boolean
}

export interface AlikeRequest {
  type: 'alike'
  channel: string
  seq: number
  shot: number
}

export interface Area {
  x: number
  y: number
  width: number
  height: number
}

export interface AskedTrial {
  window?: string
  revision?: number
  change?: number
  trial: number
}

export interface AssetList {
  kept: Kept[]
}

export interface AssetsNotice {
  type: 'assets'
}

export interface Author {
  window?: string
  revision?: number
  change?: number
}

export interface Axis {
  unit: string
  lo: number
  hi: number
  log?: boolean
  ref?: number
  marks: Mark[]
  strong: number
}

export interface Band {
  id: string
  label: string
  use: string
  from: number
  to: number
  ink?: [number, number, number]
}

export interface Box {
  x0: number
  y0: number
  x1: number
  y1: number
}

export interface Card {
  velours: number
  id: string
  label: string
  from: string
  codes: string
  width: number
  tones: number[]
  deviation: [number, number, number][]
  own?: OwnTones[]
  correlation: [number, number, number]
  across: [number[], number[], number[]]
  down: [number[], number[], number[]]
  spot: [number, number, number]
  hold: number
  trust: Trust
}

export interface CardAsk {
  card: unknown
}

export interface CarryAsk {
  window?: string
  revision?: number
  change?: number
  parts?: string[]
  steps?: StepPath[]
  add?: boolean
  from: CarrySource
  to: number[]
}

export interface CarrySource {
  shot?: number
  pin?: number
  look?: string
}

export interface Change {
  id: number
  label: string
  window: string
  of: string
}

export interface ChartPlace {
  columns: number
  rows: number
  corners: [[number, number], [number, number], [number, number], [number, number]]
}

export interface Choice {
  id: string
  label: string
  note?: string
  says?: string[]
  group?: string
  tags?: string[]
  away?: boolean
}

export interface Compared {
  logE: number
  measured: [number, number, number]
  fitted: [number, number, number]
}

export interface CutsReply {
  type: 'cuts'
  channel: string
  seq: number
  done: number
  cuts?: number[]
  found?: boolean
}

export interface CutsRequest {
  type: 'cuts'
  channel: string
  seq: number
  shot: number
}

export interface Declaration {
  window?: string
  revision?: number
  change?: number
  shots: number[]
  encoding: string
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
  trial?: string
}

export interface DeliveryNotice {
  type: 'delivery'
  delivery: Delivery
}

export interface Desk {
  stations: StationInfo[]
  kinds: Kind[]
  encodings: Choice[]
  mattes: MatteKind[]
  matteSettings: Setting[]
  families: Family[]
  formats: Format[]
  parts: PartInfo[]
  lays: LayInfo[]
  engine: string
  favourites: string[]
}

export interface Drawn {
  cycles: number
  measured: number
  fitted: number
  layers: [number, number, number]
}

export interface Edit {
  op: Op
  station?: string
  kind?: string
  setting?: string
  value?: unknown
  values?: Record<string, unknown>
  names?: string[]
  name?: string
  group?: string
  steps?: Step[]
  mattes?: Record<string, Matte>
  matte?: Matte
  look?: unknown
  level?: string
  gesture?: string
  window?: string
  revision?: number
  change?: number
}

export interface Entry {
  name: string
  path: string
  kind: string
  frames: number
  missing: number
}

export interface Family {
  id: string
  label: string
  hue: number
}

export interface Favourite {
  key: string
  on: boolean
}

export interface FillReply {
  type: 'fill'
  channel: string
  seq: number
  kept: [number, number][]
  decoded: [number, number][]
}

export interface FillRequest {
  type: 'fill'
  channel: string
  seq: number
  view: View
  stretch: Stretch
  playing?: boolean
}

export interface FilmAsk {
  name: string
  like?: string
  grey?: number
  status?: string
  wedges?: WedgeText[]
  pictures?: FilmPicture[]
}

export interface FilmPicture {
  shows: string
  digital?: number
  film: number
  stops?: number
  width?: number
  places?: ChartPlace[]
}

export interface FilmReading {
  film: Sensitometer | null
  other?: Sensitometer
  figures: [string, string][]
  others?: [string, string][]
  light: Tones | null
  plots: PlotArea[]
}

export interface Fitted {
  card: unknown
  label: string
  report: Report | null
  placed?: PlacedChart[]
}

export interface Format {
  id: string
  label: string
  note: string
  group: string
  whole: boolean
  table: boolean
}

export interface FrameAt {
  frame: number
}

export interface Gap {
  first: number
  last: number
}

export interface Glowing {
  radius: number
  measured: [number, number, number]
  fitted: [number, number, number]
}

export interface GrainAsk {
  shot: number
  pin?: number
  shown?: boolean
  frame: number
  frames?: number
  boxes?: Area[]
  name?: string
}

export interface GrainReply {
  type: 'grain'
  channel: string
  seq: number
  done: number
  measured?: MeasuredGrain
}

export interface GrainRequest {
  type: 'grain'
  channel: string
  seq: number
  grain: GrainAsk
}

export interface Group {
  title: string
  on: boolean
  strength: number
  matte: string | null
  outside?: boolean
  lay?: string
}

export interface Histogram {
  count: [number[], number[], number[], number[]]
}

export interface Judged {
  name: string
  ofScene: boolean
  mean: number
  keptOut: number
  exposure: number
  uneven: number
}

export interface KeepLook {
  parts?: string[]
  steps?: StepPath[]
  add?: boolean
  shot: number
  frame: number
  name: string
  mood?: string
  note?: string
}

export interface Kept {
  id: number
  kind: string
  key: string
  name: string
  file: string
  after: string
  own?: Own
  ready?: OwnReady
}

export interface KeptFiles {
  kept: Kept[]
  problems: string[]
}

export interface Key {
  frame: number
  settings: Record<string, unknown>
}

export interface Kind {
  id: string
  station: string
  label: string
  purpose: string
  settings: Setting[]
  hasStrength: boolean
  fixed?: boolean
  film?: boolean
  precondition?: string
  unmet?: string
  provides?: string
  lead?: string[]
  wants?: string
  spatial?: boolean
  repeatable?: boolean
  masks?: boolean
  keyed?: string[]
  range?: Range
  gains?: ToneGains
  scatters?: boolean
  group?: string
  editor?: string
  tool?: string
  ready?: Ready[]
}

export interface LayInfo {
  id: string
  label: string
  note: string
}

export interface Levels {
  id: number
  look: Look
  revision: number
  scenes: Scene[]
  trials: Trial[]
}

export interface LevelsNotice {
  type: 'levels'
  window: string
  levels: Levels
}

export interface LikenedFilm {
  stock: string
  stockLabel: string
  medium: string
  mediumLabel: string
  exposure: number
  lights: [number, number, number]
  apart: number
  says: string[]
  look: Look
}

export interface Likeness {
  same: boolean
  near: boolean
  says: string
  rendered?: number
  films: LikenedFilm[]
  level?: string
}

export interface LikenessReply {
  type: 'likeness'
  channel: string
  seq: number
  done: number
  likeness?: Likeness
}

export interface LikenessRequest {
  type: 'likeness'
  channel: string
  seq: number
  view: View
}

export interface Listing {
  folder: string
  parent: string
  entries: Entry[]
}

export interface Look {
  velours: number
  name: string
  stations: Record<string, StationInLook>
  mattes?: Record<string, Matte>
  treatment?: Treatment
  trial?: number
  made?: Made
  unread?: Record<string, Unread>
}

export interface LookWords {
  name: string
  mood: string
  note: string
}

export interface Made {
  process: number
  stations?: Record<string, number>
  defaults?: Record<string, Record<string, unknown>>
  cards?: Record<string, string>
}

export interface Mark {
  at: number
  label: string
}

export interface MatchAsk {
  window?: string
  revision?: number
  change?: number
  card: string
}

export interface MatchTo {
  window?: string
  revision?: number
  change?: number
  side: Side
  frame: number
  box?: Box
  theirs?: Box
}

export interface MatchedGrain {
  was?: Card
  aim: Card | null
  is?: Card
  why?: string
  shot: Shot
}

export interface Matte {
  parts: MattePart[]
  grow?: number
  blur?: number
  refine?: number
  invert?: boolean
}

export interface MatteKind {
  id: string
  label: string
  purpose: string
  settings: Setting[]
  shape?: boolean
  picks?: boolean
}

export interface MattePart {
  kind: string
  join?: string
  invert?: boolean
  settings: Record<string, unknown>
  keys?: Key[]
}

export interface MeasureReply {
  type: 'measure'
  channel: string
  seq: number
  doing?: string
  fitted?: Fitted
}

export interface MeasureRequest {
  type: 'measure'
  channel: string
  seq: number
  film: FilmAsk
}

export interface MeasuredGrain {
  card: Card | null
  patch: string
}

export interface Met {
  shot: Shot
  same: boolean
  was: number
  is: number
  says: string
}

export interface Named {
  window?: string
  revision?: number
  change?: number
  name: string
}

export interface NewDelivery {
  format: string
  shots?: number[]
  frame: number
  placed?: boolean
}

export interface NewProgramme {
  window?: string
  revision?: number
  change?: number
  path: string
  rate?: string
  handles: number
}

export interface NewScene {
  window?: string
  revision?: number
  change?: number
  name: string
  shots: number[]
}

export interface NewShots {
  paths: string[]
}

export interface NewTrial {
  window?: string
  revision?: number
  change?: number
  level: string
}

export interface NoEffectReply {
  type: 'no-effect'
  channel: string
  seq: number
  reasons: Record<string, string>
}

export interface NoEffectRequest {
  type: 'no-effect'
  channel: string
  seq: number
  view: View
}

export type Op = 'set' | 'reset' | 'clear' | 'on' | 'off' | 'strength' | 'add' | 'remove' | 'move' | 'title' | 'paste' | 'matte' | 'outside' | 'source' | 'key' | 'unkey' | 'cover' | 'uncover' | 'rename' | 'group' | 'ungroup' | 'lay' | 'treat' | 'seen' | 'follow' | 'own' | 'lift' | 'declare' | 'restart' | 'look'

export interface Own {
  veloursEncoding: number
  name: string
  base: number
  logSlope: number
  logOffset: number
  linSlope: number
  linOffset: number
  break: number | null
  linearSlope: number | null
  red: [number, number]
  green: [number, number]
  blue: [number, number]
  white: [number, number]
}

export interface OwnReady {
  kind: string
  name: string
  values: Record<string, unknown>
}

export interface OwnTones {
  from: number
  to: number
  deviation: number[]
}

export interface Part {
  of: string
  measured: boolean
  from: string
  sure?: string
  problem?: string
}

export interface PartInfo {
  id: string
  label: string
  note: string
  usual: boolean
}

export interface Patch {
  pair: number
  scene: [number, number, number]
  measured: [number, number, number]
  fitted: [number, number, number]
  error: number
  keptOut: boolean
  shown: [[number, number, number], [number, number, number]]
}

export interface PickReply {
  type: 'pick'
  channel: string
  seq: number
  picked: Picked
}

export interface PickRequest {
  type: 'pick'
  channel: string
  seq: number
  view: View
  probe: Probe
}

export interface Picked {
  light: [number, number, number]
  stops: number
  hue: number
  chroma: number
  mired?: number
  tint?: number
}

export interface PictureReply {
  type: 'picture'
  channel: string
  seq: number
  width: number
  height: number
  stage: Stage
  share?: number
  sourceWidth: number
  sourceHeight: number
  ms: number
  note?: string
  bands?: Band[]
}

export interface PictureRequest {
  type: 'picture'
  channel: string
  seq: number
  view: View
  exact?: boolean
  inTurn?: boolean
  scopes?: ScopeAsk[]
}

export interface Pin {
  id: number
  reelId: number
  name: string
  reference: boolean
  shotId: number
  shot: string
  frame: number
  encoding: string
  display: string
  width: number
  height: number
}

export interface PinName {
  name: string
}

export interface PinRequest {
  type: 'pin'
  channel: string
  seq: number
  pin: number
  width: number
  height: number
}

export interface Pins {
  pins: Pin[]
  problems: string[]
}

export interface PixelReading {
  scene: [number, number, number]
  stops: [number, number, number]
  read: [number, number, number]
  density: number[]
  light?: number[]
  code: [number, number, number]
}

export interface PlaceBefore {
  window?: string
  revision?: number
  change?: number
  before: number
}

export interface PlacedChart {
  places: ChartPlace[]
}

export interface Placing {
  window?: string
  revision?: number
  change?: number
  shots: number[]
  scene: number
  before: number
}

export interface PlayRequest {
  type: 'play'
  channel: string
  seq: number
  view: View
  within?: number
}

export interface Plot {
  curve: [number, number][]
  grey: number
  black: number
  above: number
  below: number
  problem: string
  locus: [number, number][]
}

export interface PlotArea {
  id: string
  x: number
  y: number
  w: number
  h: number
  from: number
  to: number
  low: number
  high: number
  unit: string
  side: string
}

export interface Probe {
  x: number
  y: number
  scopes?: ScopeAsk[]
}

export interface ProbeReply {
  type: 'probe'
  channel: string
  seq: number
  reading: Reading
}

export interface ProbeRequest {
  type: 'probe'
  channel: string
  seq: number
  view: View
  probe: Probe
}

export interface Problem {
  type: string
  title: string
  status: number
  detail: string
}

export interface ProblemReply {
  type: 'problem'
  channel: string
  seq: number
  problem: string
}

export interface Range {
  low: string
  high?: string
  knee: string
  fold?: string
}

export interface Reading {
  x: number
  y: number
  code: [number, number, number]
  code10: [number, number, number]
  nits: number
  stops?: number
  density?: [number, number, number]
  lightness: number
  chroma: number
  hue: number
  marks: ScopeMark[]
}

export interface Readings {
  low: [number, number, number]
  high: [number, number, number]
  mean: [number, number, number]
}

export interface Ready {
  id: string
  label: string
  note?: string
  values: Record<string, unknown>
}

export interface ReadyFilm {
  id: string
  label: string
  note: string
  era: string
  tags: string[]
  look: Look
}

export interface ReadyLook {
  id: string
  label: string
  mood?: string
  note: string
  kept?: number
  look: Look
}

export interface Reel {
  id: number
  look: Look
  revision: number
  scenes: Scene[]
  trials: Trial[]
  name: string
  demo: boolean
  shots: ShotCard[]
  undo: Change
  redo: Change
}

export interface ReelChange {
  window?: string
  revision?: number
  change?: number
  name?: string
  removed?: boolean
  archived?: boolean
  flag?: boolean
  note?: string
}

export interface ReelHead {
  id: number
  name: string
  demo: boolean
  archived: boolean
  count: number
  cover: number
}

export interface ReelPage {
  reels: ReelHead[]
  undo: Change
  redo: Change
}

export interface ReelsNotice {
  type: 'reels'
}

export interface Report {
  grey: number
  like: string
  rms: number
  worst: number
  steps?: Compared[]
  patches?: Patch[]
  pairs?: Judged[]
  mean?: number
  meanKeptOut?: number
  casts?: [number, number, number]
  parts?: Part[]
  drawn?: Drawn[]
  speckles?: Speckle[]
  ring?: Ring
  limits: string[]
}

export interface RibbonRequest {
  type: 'ribbon'
  channel: string
  seq: number
  view: View
  bandWidth: number
  bandHeight: number
}

export interface Ring {
  radius: number
  seen: boolean
  share: [number, number, number]
  hue: number
  known: boolean
  profile: Glowing[]
}

export interface Scene {
  id: number
  name: string
  look: Look
  revision: number
}

export interface ScopeAsk {
  id: string
  tap?: string
  luma?: boolean
  nits?: boolean
  zoom?: number
  width: number
  height: number
  box?: Box
}

export interface ScopeMark {
  id: string
  x: number
  y: number[]
}

export interface ScopeReply {
  type: 'scope'
  channel: string
  seq: number
  width: number
  height: number
  stage: Stage
  scope: ScopeView
}

export interface ScopeView {
  ask: ScopeAsk
  axis: Axis
  histogram?: Histogram
  readings: Readings
  targets?: Target[]
  skin?: [number, number]
  reach?: number
  triangle?: [number, number][]
  horseshoe?: [number, number][]
  white?: [number, number]
  empty?: string
}

export interface Sensitometer {
  stock: string
  medium: string
  positive: boolean
  mono: boolean
  layers: [Sensitometry, Sensitometry, Sensitometry]
  aim: [number, number, number]
  gamma: number
  printMin: number
  printMax: number
  steps: WedgeStep[]
  wavelengths: number[]
  sensitivities: [number[], number[], number[]]
  dyes: [number[], number[], number[]]
  base: number[]
  pixel?: PixelReading
}

export interface Sensitometry {
  gamma: number
  gradient: number
  below: number
  above: number
  dmin: number
  dmax: number
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
  points?: string
  kelvin?: number
  group?: string
  column?: string
  only?: string[]
  pick?: string
  pickTint?: string
  away?: string
  fold?: string
}

export interface Shot {
  id: number
  reel: number
  name: string
  sceneId: number
  flag: boolean
  note: string
  own: string[]
  trial: number
  marked: boolean
  kind: string
  width: number
  height: number
  frames: number
  rate: number
  depth: number
  codec: string
  says: string
  doubt: string
  suggests: Suggestion
  gaps: Gap[]
  first: number
  timecode: string
  in: number
  out: number
  encoding: string
  frame: number
  revision: number
  look: Look
  undo: Change
  redo: Change
}

export interface ShotCard {
  id: number
  reel: number
  name: string
  sceneId: number
  flag: boolean
  note: string
  own: string[]
  trial: number
  marked: boolean
  kind: string
  width: number
  height: number
  frames: number
  rate: number
  depth: number
  codec: string
  says: string
  doubt: string
  suggests: Suggestion
  gaps: Gap[]
  first: number
  timecode: string
  in: number
  out: number
  encoding: string
  frame: number
  revision: number
}

export interface ShotNotice {
  type: 'shot'
  window: string
  shot: Shot
}

export interface ShotsChange {
  window?: string
  revision?: number
  change?: number
  name?: string
  removed?: boolean
  archived?: boolean
  flag?: boolean
  note?: string
  shots: number[]
}

export type Show = '' | 'adds' | 'matte' | 'solo' | 'alone' | 'source' | 'far' | 'wedge' | 'placed' | 'zones' | 'difference' | 'false' | 'clip-display' | 'clip-film' | 'delivery'

export type Side = '' | 'film' | 'entered' | 'previous' | StepPath | `station:${string}` | `shot:${number}` | `onto:${number}` | `pin:${number}` | `trial:${number}`

export interface SkinMove {
  share: number
  hue: number
  chroma: number
  lightness: number
  deltaE: number
  line: number
  back?: Record<string, number>
}

export interface SkinReply {
  type: 'skin'
  channel: string
  seq: number
  skin: SkinMove
}

export interface SkinRequest {
  type: 'skin'
  channel: string
  seq: number
  view: View
  back?: boolean
}

export interface Span {
  window?: string
  revision?: number
  change?: number
  in: number
  out: number
}

export interface Speckle {
  density: [number, number, number]
  measured: [number, number, number]
  fitted: [number, number, number]
  readings: number
}

export interface Splitting {
  window?: string
  revision?: number
  change?: number
  at: number[]
}

export type Stage = 'draft' | 'exact'

export interface Standing {
  shot: Shot
  levels?: Levels
}

export interface StationInLook {
  on: boolean
  strength: number
  steps: Step[]
  groups?: Record<string, Group>
  follows?: boolean
  unread?: Unread[]
}

export interface StationInfo {
  id: string
  label: string
}

export interface Step {
  kind: string
  id?: string
  title?: string
  on: boolean
  strength: number
  settings: Record<string, unknown>
  group?: string
  matte: string | null
  outside?: boolean
  source?: boolean
  keys?: Key[]
  again?: string[]
  unread?: Record<string, unknown>
}

export type StepPath = `${string}.${string}`

export interface StopRequest {
  type: 'stop'
  channel: string
  seq: number
}

export interface Stretch {
  from: number
  to: number
  still?: boolean
}

export interface Suggestion {
  encoding: string
  why: string
}

export interface TakenLook {
  window?: string
  revision?: number
  change?: number
  look: string
  level?: string
  strength: number
}

export interface TakenPin {
  window?: string
  revision?: number
  change?: number
  pin: number
}

export interface Target {
  label: string
  cb: number
  cr: number
  level: number
}

export interface Told {
  name: string
  treatment?: string
  stations: ToldStation[]
  mattes: ToldMatte[]
}

export interface ToldMatte {
  name: string
  parts: string[]
}

export interface ToldStation {
  station: string
  label: string
  off?: boolean
  strength: number
  groups?: string[]
  steps: ToldStep[]
}

export interface ToldStep {
  kind: string
  called: string
  level?: string
  group?: string
  off?: boolean
  strength: number
  matte?: string
  outside?: boolean
  source?: boolean
  values: ToldValue[]
}

export interface ToldValue {
  id: string
  label: string
  says: string
  frame: number
}

export interface ToneGains {
  low: string
  mids: string
  high: string
  middle: string
  reach: string
  fold: string
}

export interface Tones {
  from: number
  to: number
  count: [number[], number[], number[], number[]]
}

export interface TonesReply {
  type: 'tones'
  channel: string
  seq: number
  tones: Tones
}

export interface TonesRequest {
  type: 'tones'
  channel: string
  seq: number
  view: View
}

export interface Treatment {
  on: boolean
  strength: number
}

export interface Trial {
  id: number
  level: string
  of: number
  number: number
  name: string
  answer: boolean
}

export interface TrialChanged {
  window?: string
  revision?: number
  change?: number
  trial: number
  name?: string
  answer?: boolean
  removed?: boolean
}

export interface Trust {
  pairs: number
  blocks: number
  clipped: number
  moving: number
  from: number
  to: number
  within: number
  why?: string[]
}

export interface Unread {
  at?: number
  why: string
  part: unknown
}

export interface VersusRow {
  name: string
  sides: [VersusSide, VersusSide]
  apart: number
}

export interface VersusSide {
  lightness: number
  chroma: number
  hue: number
  colour: string
}

export interface View {
  shot: number
  frame: number
  number?: number
  look?: Look
  above?: Record<string, Look>
  hide?: string
  side?: Side
  encoding?: string
  show?: Show
  tap?: string
  step?: StepPath
  against?: Side
  codec?: string
  megabits?: number
  gain?: number
  black?: boolean
  width: number
  height: number
  x?: number
  y?: number
  cropWidth?: number
  cropHeight?: number
  keep?: boolean
  draft?: boolean
  share?: number
}

export interface WaitNotice {
  type: 'wait'
  of: string
  place: number
}

export interface WedgeStep {
  stops: number
  density: [number, number, number]
  read: [number, number, number]
  print?: number
  code: [number, number, number]
}

export interface WedgeText {
  file: string
  text: string
}

export type Request = PictureRequest | RibbonRequest | PinRequest | PlayRequest | FillRequest | ProbeRequest | PickRequest | TonesRequest | SkinRequest | NoEffectRequest | LikenessRequest | GrainRequest | AlikeRequest | CutsRequest | MeasureRequest | StopRequest

export type Reply = ProblemReply | PictureReply | ScopeReply | FillReply | ProbeReply | PickReply | TonesReply | SkinReply | NoEffectReply | LikenessReply | GrainReply | AlikeReply | CutsReply | MeasureReply

export type Notice = ShotNotice | LevelsNotice | ReelsNotice | AssetsNotice | DeliveryNotice | WaitNotice

/** What answers each request, if no problem does. */
export interface Replies {
  'picture': PictureReply | ScopeReply
  'ribbon': PictureReply
  'pin': PictureReply
  'play': PictureReply
  'fill': FillReply
  'probe': ProbeReply
  'pick': PickReply
  'tones': TonesReply
  'skin': SkinReply
  'no-effect': NoEffectReply
  'likeness': LikenessReply
  'grain': GrainReply
  'alike': AlikeReply
  'cuts': CutsReply
  'measure': MeasureReply
  'stop': never
}
