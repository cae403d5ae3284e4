import type { Look } from '../api/types.gen'
import { Button } from '../controls/Button'
import { Check } from '../controls/Check'
import { Choice, type Option } from '../controls/Choice'
import { Drawer } from '../controls/Drawer'
import { nameOf, titleOf } from '../model/look'
import { carrying, carryOver, from, openCarry, takePart, takeStep, targets } from '../state/carry'
import { pinboard } from '../state/pins'
import { shotsOf, studio, useStudio } from '../state/studio'

const stationOfPart: Record<string, string> = {
  balance: 'balance',
  lens: 'lens',
  film: 'negative',
  print: 'print',
  finish: 'finish',
  screen: 'screen',
}

/** Takes parts of a shot, a pin or a look over to the chosen shots. */
export function CarrySheet() {
  const state = carrying.use((s) => s)
  const shots = useStudio(shotsOf)
  const shotId = useStudio((s) => s.shotId)
  const selection = useStudio((s) => s.selection)
  const parts = useStudio((s) => s.desk?.parts) ?? []
  const pins = pinboard.use((s) => s.pins)
  const to = targets(state.from, selection, shotId)
  const options: Option[] = [
    ...shots
      .map((s) => ({ id: `shot:${s.id}`, label: s.name, group: s.id === shotId ? 'The open shot' : 'Shots' }))
      .sort((a, b) => Number(b.id === `shot:${shotId}`) - Number(a.id === `shot:${shotId}`)),
    ...pins.filter((p) => !p.reference).map((p) => ({ id: `pin:${p.id}`, label: p.name, group: 'Pins' })),
    ...state.looks.filter((l) => !l.id.startsWith('pin:')).map((l) => ({ id: `look:${l.id}`, label: l.label, group: 'Looks' })),
  ]
  const none = state.parts.length + state.steps.length === 0
  return (
    <Drawer
      title="Take over"
      about="Parts of one shot’s settings, put on the chosen shots as one change. How a shot was recorded, its in and out never go along."
      open={state.open}
      onOpen={openCarry}
    >
      <div className="grid gap-3">
        <div className="flex items-center gap-2">
          <span className="w-14 shrink-0 text-soft">From</span>
          <Choice label="From" className="grow" options={options} value={state.from} onChange={(id) => void from(id)} />
        </div>
        <fieldset className="m-0 grid gap-1.5 border-0 p-0" aria-label="Parts">
          {parts.map((p) => (
            <Check key={p.id} on={state.parts.includes(p.id)} label={p.label} onChange={(on) => takePart(p.id, on)}>
              {p.label} <span className="text-dim">{saysOf(state.look, p.id) ?? p.note}</span>
            </Check>
          ))}
        </fieldset>
        <Steps look={state.look} chosen={state.steps} />
        <div className="flex items-center gap-2" role="radiogroup" aria-label="How">
          <Button
            role="radio"
            aria-checked={!state.add}
            active={!state.add}
            title="What comes takes the place of what these parts have on the chosen shots"
            onClick={() => carrying.set({ add: false })}
          >
            Replace
          </Button>
          <Button
            role="radio"
            aria-checked={state.add}
            active={state.add}
            title="What comes acts after what is there; a film, which there is one of, is replaced step by step"
            onClick={() => carrying.set({ add: true })}
          >
            Add after
          </Button>
          <span className="grow" />
          <Button active disabled={to.length === 0 || none} onClick={() => void carryOver()}>
            {to.length === 0
              ? 'Choose other shots'
              : to.length === 1
                ? `Take to ${shots.find((s) => s.id === to[0])?.name ?? '1 shot'}`
                : `Take to ${to.length} shots`}
          </Button>
        </div>
        <p className="m-0 text-xs text-dim">
          Exposures, tones at which something begins, places and mattes were found on another picture: they are marked on the shots that get
          them until they have been looked at.
        </p>
      </div>
    </Drawer>
  )
}

/** What a part of a look holds, in words. */
function saysOf(look: Look | null, part: string): string | null {
  const station = stationOfPart[part]
  const kinds = studio.get().desk?.kinds ?? []
  if (!look || !station) return null
  const of = look.stations[station]
  if (of?.follows) return 'follows what is above'
  const steps = of?.steps ?? []
  if (steps.length === 0) return 'nothing'
  return steps
    .map((s) =>
      titleOf(
        kinds.find((k) => k.station === station && k.id === s.kind)!,
        s,
      ).toLowerCase(),
    )
    .join(', ')
}

/** Single steps, for who wants no whole part. */
function Steps({ look, chosen }: { look: Look | null; chosen: string[] }) {
  const kinds = studio.get().desk?.kinds ?? []
  const list = Object.entries(look?.stations ?? {}).flatMap(([station, st]) =>
    (st.steps ?? []).flatMap((s) => {
      const kind = kinds.find((k) => k.station === station && k.id === s.kind)
      return kind && kind.id !== 'compress' ? [{ path: `${station}.${nameOf(s)}`, label: `${titleOf(kind, s)}`, station }] : []
    }),
  )
  if (list.length === 0) return null
  return (
    <details className="rounded-sm border border-line px-2 py-1">
      <summary className="cursor-default text-soft">
        Single steps{chosen.length > 0 && <span className="text-plum"> {chosen.length}</span>}
      </summary>
      <div className="grid grid-cols-2 gap-1 py-1">
        {list.map((s) => (
          <Check key={s.path} on={chosen.includes(s.path)} label={s.label} onChange={(on) => takeStep(s.path as never, on)}>
            {s.label} <span className="text-dim">{s.station}</span>
          </Check>
        ))}
      </div>
    </details>
  )
}
