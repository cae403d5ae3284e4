import { useEffect, useRef } from 'react'
import type { Desk, Look } from '../api/types.gen'
import { Canvas } from '../controls/Canvas'
import { addsUp, homeOf, upwards, wholeOf, type Docs } from '../model/levels'
import { stationActs, stationOn } from '../model/look'
import { shotOf, studio, useStudio } from '../state/studio'
import { KeyTip } from './KeyTip'
import type { Command } from '../state/keymap'

const HEIGHT = 62

const about: Record<string, string> = {
  intake: 'The camera’s code values as they were recorded: flat, because log keeps room.',
  balance: 'The scene made natural, by the neutral scale.',
  lens: 'What the lens does to the light.',
  negative: 'The negative as it hangs before a lamp.',
  print: 'The print as it is projected.',
  screen: 'The print placed on the display.',
  finish: 'The picture as it is delivered.',
}

/** The beam: one ribbon that shows this frame as it leaves each station. */
export function Beam() {
  const ribbon = useStudio((s) => s.ribbon)
  const desk = useStudio((s) => s.desk)
  const docs = useStudio((s) => s.docs)
  const station = useStudio((s) => s.station)
  const encoding = useStudio((s) => shotOf(s)?.encoding)
  const box = useRef<HTMLDivElement>(null)

  useEffect(() => {
    const element = box.current!
    const watch = new ResizeObserver(() => {
      const dpr = window.devicePixelRatio
      studio.setBand(Math.max(8, Math.round((element.clientWidth * dpr) / 7)), Math.round(HEIGHT * dpr))
    })
    watch.observe(element)
    return () => watch.disconnect()
  }, [])

  return (
    <nav aria-label="Light path" className="border-b border-line px-3.5 pb-1.5 pt-2">
      <div ref={box} className="relative" style={{ height: HEIGHT }}>
        <Canvas picture={ribbon} className="absolute inset-0 h-full w-full rounded-[2px]" data-testid="beam" />
        <div className="absolute inset-0 grid grid-cols-7" role="tablist" aria-label="Stations">
          {desk?.stations.map((s, i) => (
            <KeyTip key={s.id} help={about[s.id] ?? s.label} command={`station-${i + 1}` as Command}>
              <button
                type="button"
                role="tab"
                aria-selected={station === s.id}
                aria-label={s.label}
                className="h-full w-full cursor-pointer"
                onClick={() => studio.chooseStation(s.id)}
              />
            </KeyTip>
          ))}
        </div>
      </div>
      <div className="grid grid-cols-7">
        {desk?.stations.map((s) => {
          const word = stateWord(s.id, desk, docs, encoding)
          const chosen = station === s.id
          return (
            <button
              key={s.id}
              type="button"
              tabIndex={-1}
              className={`mt-1 flex min-w-0 items-baseline justify-between border-t-2 pr-3 pt-1 text-left ${chosen ? 'border-plum' : 'border-line'}`}
              onClick={() => studio.chooseStation(s.id)}
            >
              <span className={chosen ? 'font-medium' : 'text-soft'}>{s.label}</span>
              <span className={`truncate text-xs ${word === 'undeclared' ? 'text-amber' : 'text-dim'}`}>{word}</span>
            </button>
          )
        })}
      </div>
    </nav>
  )
}

/** The one word that matters under a band. */
function stateWord(station: string, desk: Desk, docs: Docs, encoding?: string): string {
  const look = wholeOf(docs)
  if (!look) return ''
  if (station === 'intake') return encoding || 'undeclared'
  const setting = (kind: string, fallback: string) => {
    const step = look.stations[station]?.steps?.find((x) => x.kind === kind)
    return (step?.settings?.['id'] as string | undefined) ?? fallback
  }
  const called = (kind: string, fallback: string) => {
    const id = setting(kind, fallback)
    const choice = desk.kinds.find((k) => k.station === station && k.id === kind)?.settings[0]?.choices?.find((c) => c.id === id)
    return (choice?.label ?? id).replace(/ \d.*/, '').toLowerCase()
  }
  if (station === 'screen') return setting('display', 'bt1886').replace(/-.*/, '')
  const home = homeOf(docs, station)
  const acts = (of: Look | null) => !!of && stationOn(of, station) && stationActs(of, desk.kinds, station)
  const from = (word: string) => (home === 'shot' ? word : `${word} · ${home}`)
  if (addsUp(station))
    return (
      upwards
        .filter((l) => acts(docs[l]))
        .map((l) => (l === 'shot' ? 'own' : l))
        .join(' + ') || 'off'
    )
  if (!acts(look)) return from('off')
  const has = (kind: string) => look.stations[station]?.steps?.some((x) => x.kind === kind && x.on)
  if (station === 'negative' && has('stock')) return from(called('stock', 'aubade-250d'))
  if (station === 'print' && has('medium')) return from(called('medium', 'rideau'))
  return home === 'shot' ? 'own' : home
}
