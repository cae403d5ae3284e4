import { Slider } from 'radix-ui'
import { Button } from '../controls/Button'
import { Menu } from '../controls/Menu'
import { Tip } from '../controls/Tip'
import { mark } from '../state/footage'
import type { Show } from '../api/types.gen'
import { judge } from '../state/judge'
import { setDelivery, setShow } from '../state/judging'
import { player } from '../state/player'
import { setDock } from '../state/docking'
import { scopes } from '../state/scopes'
import { shotOf, studio, useStudio } from '../state/studio'
import { KeyTip } from './KeyTip'
import type { Command } from '../state/keymap'

/** Where in the shot we are, and which picture is on the screen. */
export function Transport() {
  const shot = useStudio(shotOf)
  const frame = useStudio((s) => s.frame)
  const { playing, rate: shownRate, kept, decoded, pace, share } = player.use((s) => s)
  const zoom = useStudio((s) => s.zoom)
  const view = useStudio((s) => s.view)
  const stage = useStudio((s) => s.picture?.reply.stage)
  const waits = useStudio((s) => s.waits)
  const ms = useStudio((s) => s.picture?.reply.ms)
  if (!shot) return <div className="border-t border-line" />
  const moving = shot.frames > 1
  const rate = shot.rate || 24
  const two = (n: number) => String(n).padStart(2, '0')
  const seconds = Math.floor(frame / rate)
  const time = `${two(Math.floor(seconds / 3600))}:${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}:${two(Math.floor(frame - seconds * rate))}`
  const place = (f: number) => (100 * Math.max(0, Math.min(shot.frames - 1, f))) / (shot.frames - 1)
  const last = (shot.out || shot.frames) - 1
  const marked = shot.in > 0 || shot.out > 0
  const fitted = Math.round(100 * Math.min(1, view.width / shot.width, view.height / shot.height))
  return (
    <div className="flex h-full items-center gap-2.5 border-t border-line px-3" role="group" aria-label="Transport">
      {moving ? (
        <>
          <KeyTip help="A frame back" command="frame-back" side="top">
            <Button aria-label="Frame back" onClick={() => studio.step(-1)}>
              ‹
            </Button>
          </KeyTip>
          <KeyTip
            help="Play from in to out, round and round. Below the track, plum: exact frames that are ready; grey: frames that are decoded. The others are made while it plays"
            command="play"
            side="top"
          >
            <Button className="w-14" active={playing === 'shot'} onClick={() => player.toggle('shot')}>
              {playing === 'shot' ? 'Stop' : 'Play'}
            </Button>
          </KeyTip>
          <Menu
            label="How it plays"
            help="Keep time, or every frame exact"
            bare
            value={pace}
            groups={[
              {
                title: 'Where the machine cannot keep up',
                items: [
                  { id: 'time', label: 'Keep time', note: 'at a lower raster, which is told' },
                  { id: 'every', label: 'Every frame exact', note: 'slower, at the rate that is told' },
                ],
              },
            ]}
            onChange={(id) => player.setPace(id)}
          >
            <span className="text-dim">▾</span>
          </Menu>
          <KeyTip help="A frame forward" command="frame-on" side="top">
            <Button aria-label="Frame forward" onClick={() => studio.step(1)}>
              ›
            </Button>
          </KeyTip>
          <span className="w-[76px] text-text">{time}</span>
          <span className="w-14 text-dim" data-testid="frame-number">
            {frame} / {shot.frames - 1}
          </span>
          <Slider.Root
            className="relative flex h-5 min-w-0 grow touch-none items-center"
            min={0}
            max={shot.frames - 1}
            value={[frame]}
            onValueChange={([f]) => studio.seek(f!, true)}
            onValueCommit={([f]) => studio.seek(f!)}
          >
            <Slider.Track className="relative h-[3px] grow bg-line">
              <Slider.Range className="absolute h-full bg-dim" />
              {decoded.map(([from, to]) => (
                <span
                  key={from}
                  className="absolute -bottom-[4px] h-[2px] bg-dim/50"
                  style={{ left: `${place(from)}%`, width: `${Math.max(0.3, place(to - 1) - place(from))}%` }}
                  data-testid="decoded"
                />
              ))}
              {kept.map(([from, to]) => (
                <span
                  key={from}
                  className="absolute -bottom-[4px] h-[2px] bg-plumdeep"
                  style={{ left: `${place(from)}%`, width: `${Math.max(0.3, place(to - 1) - place(from))}%` }}
                  data-testid="kept"
                />
              ))}
              {shot.gaps.map((g) => (
                <span
                  key={g.first}
                  className="absolute -top-[2px] h-[7px] bg-amber"
                  style={{ left: `${place(g.first - 0.5)}%`, width: `${Math.max(0.3, place(g.last + 0.5) - place(g.first - 0.5))}%` }}
                />
              ))}
              {marked && (
                <span
                  className="absolute -top-[4px] h-[11px] border-x-2 border-plum"
                  style={{ left: `${place(shot.in)}%`, width: `${place(last) - place(shot.in)}%` }}
                  data-testid="span"
                />
              )}
            </Slider.Track>
            <Slider.Thumb aria-label="Frame" className="block h-[14px] w-[3px] rounded-[1px] bg-text outline-offset-4" />
          </Slider.Root>
          <KeyTip help="The first frame that counts: deliveries begin here. Again takes it away" command="in" side="top">
            <Button active={shot.in > 0} onClick={() => void mark('in')}>
              In
            </Button>
          </KeyTip>
          <KeyTip help="The last frame that counts: deliveries end here. Again takes it away" command="out" side="top">
            <Button active={shot.out > 0} onClick={() => void mark('out')}>
              Out
            </Button>
          </KeyTip>
        </>
      ) : (
        <span className="grow text-dim">
          Still, {shot.width} × {shot.height}
        </span>
      )}
      <KeyTip help="Plays this frame as a still: only grain and what else moves by itself is moving" command="play-still" side="top">
        <Button active={playing === 'still'} onClick={() => player.toggle('still')}>
          Still
        </Button>
      </KeyTip>
      <Views />
      <Tip
        help={
          waits
            ? 'Other pictures take the memory there is; this one is made when its turn comes.'
            : playing
              ? share < 1
                ? `Frames at ${part(share)} of their raster, so that time is kept. Exact ones are made meanwhile: the bar below the track grows.`
                : 'Exact frames, as many a second as are told.'
              : stage === 'exact'
                ? `The exact picture, pixel for pixel, made in ${Math.round(ms ?? 0)} ms.`
                : 'A quick draft; the exact picture follows when the hand rests.'
        }
        side="top"
      >
        <span
          className={`w-[66px] whitespace-nowrap text-right ${playing && share < 1 ? 'text-amber' : stage === 'exact' ? 'text-soft' : 'text-dim'}`}
          data-testid="stage"
        >
          {playing
            ? shownRate
              ? `${shownRate.toFixed(1)} fps${share < 1 ? ` ${part(share)}` : ''}`
              : ''
            : waits
              ? `waits: ${waits}`
              : (stage ?? '')}
        </span>
      </Tip>
      <KeyTip
        help="Fit the frame, or show it one to one: grain is judged there. The wheel over the picture, + and − go on to 2 : 1 and 4 : 1"
        command="zoom"
        side="top"
      >
        <Button className="w-[72px] whitespace-nowrap px-1" onClick={() => studio.setZoom(zoom === 'fit' ? 1 : 'fit')}>
          {zoom === 'fit' ? `fit ${fitted} %` : `${zoom} : 1`}
        </Button>
      </KeyTip>
    </div>
  )
}

/** A share of a raster as a fraction. */
const part = (share: number) => ['⅛', '¼', '⅜', '½', '⅝', '¾', '⅞'][Math.round(8 * share) - 1] ?? ''

const views: { id: Show; label: string; help: string; command: Command }[] = [
  {
    id: 'false',
    label: 'False colour',
    help: 'Scene light in stops from mid grey, in bands that say what they are for',
    command: 'false-colour',
  },
  {
    id: 'clip-display',
    label: 'Clipping',
    help: 'What is black or white on the display, channel by channel; with Shift, what has run out of the negative',
    command: 'clipping',
  },
]

const codecs = [
  { id: 'h264', label: 'H.264' },
  { id: 'h265', label: 'H.265' },
]
const rates = [2, 5, 10, 20, 50, 100]

/** The picture measured, in place of the picture, and the scopes. */
function Views() {
  const show = judge.use((s) => s.show)
  const chosen = judge.use((s) => `${s.codec} ${s.megabits}`)
  const open = scopes.use((s) => s.dock.open)
  return (
    <>
      {views.map((v) => (
        <KeyTip key={v.id} help={v.help} command={v.command} side="top">
          <Button
            className="whitespace-nowrap"
            active={show === v.id || (v.id === 'clip-display' && show === 'clip-film')}
            onClick={(e) => setShow(v.id === 'clip-display' && (e.shiftKey || show === 'clip-film') ? 'clip-film' : v.id)}
          >
            {v.id === 'clip-display' && show === 'clip-film' ? 'Clipping of film' : v.label}
          </Button>
        </KeyTip>
      ))}
      <Menu
        label="As delivered"
        help="The frame as a compressed movie would leave it, one to one"
        value={show === 'delivery' ? chosen : ''}
        groups={[
          { title: '', items: show === 'delivery' ? [{ id: '', label: 'the picture itself' }] : [] },
          ...codecs.map((c) => ({ title: c.label, items: rates.map((r) => ({ id: `${c.id} ${r}`, label: `${r} Mbit/s` })) })),
        ]}
        onChange={(id) => {
          const [codec, rate] = id.split(' ')
          if (codec) setDelivery(codec, Number(rate))
          else setShow('')
        }}
      >
        <span className={`whitespace-nowrap ${show === 'delivery' ? 'text-plum' : ''}`}>As delivered</span>
      </Menu>
      <KeyTip help="Waveform, parade, vectorscope, histogram, chromaticity" command="scopes" side="top">
        <Button active={open} onClick={() => setDock({ open: !open })}>
          Scopes
        </Button>
      </KeyTip>
    </>
  )
}
