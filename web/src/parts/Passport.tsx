import { Button } from '../controls/Button'
import { NameField } from '../controls/TextField'
import { Tip } from '../controls/Tip'
import { Chooser } from '../controls/Chooser'
import { Cuts } from './Cuts'
import { declare, removeShot, setDeclaring } from '../state/footage'
import { changeShots } from '../state/reels'
import { shotOf, useStudio } from '../state/studio'

/** What the file says of itself, how it is declared to have been recorded, and what speaks against that. */
export function Passport() {
  const shot = useStudio(shotOf)
  const encodings = useStudio((s) => s.desk?.encodings)
  if (!shot || !encodings) return null
  const rows: [string, string][] = [
    ['Picture', `${shot.width} × ${shot.height}`],
    ['File', shot.says || 'says nothing of its colour'],
  ]
  if (shot.frames > 1)
    rows.splice(1, 0, [
      'Length',
      `${shot.frames} frames at ${Number(shot.rate.toFixed(3))}, ${(shot.frames / (shot.rate || 24)).toFixed(1)} s`,
    ])
  if (shot.timecode) rows.push(['Time code', shot.timecode])
  if (shot.first) rows.push(['First file', String(shot.first)])
  if (shot.gaps.length > 0)
    rows.push([
      'Gaps',
      shot.gaps
        .map((g) => (g.first === g.last ? String(shot.first + g.first) : `${shot.first + g.first}–${shot.first + g.last}`))
        .join(', '),
    ])
  return (
    <section aria-label="Footage" className="mb-2.5 rounded-[4px] border border-line bg-wall px-2.5 py-2">
      <div className="mb-1.5 grid grid-cols-[84px_minmax(0,1fr)] items-center gap-x-2 gap-y-1">
        <span className="text-soft">Name</span>
        <NameField
          label="Name"
          className="h-6 min-w-0 rounded-sm border border-line bg-room px-1.5 text-text"
          value={shot.name}
          onName={(name) => void changeShots([shot.id], { name })}
        />
        <span className="text-soft">Note</span>
        <NameField
          label="Note"
          className="h-6 min-w-0 rounded-sm border border-line bg-room px-1.5 text-text"
          value={shot.note}
          onName={(note) => void changeShots([shot.id], { note })}
        />
      </div>
      <dl className="m-0 grid grid-cols-[84px_minmax(0,1fr)] gap-x-2 gap-y-0.5">
        {rows.map(([name, text]) => (
          <div key={name} className="contents">
            <dt className="text-soft">{name}</dt>
            <dd className={`m-0 ${name === 'Gaps' ? 'text-amber' : 'text-text'}`}>{text}</dd>
          </div>
        ))}
      </dl>
      <div className="mt-1.5">
        <Chooser
          label="Recorded as"
          help="The curve and gamut that the camera recorded. A wrong one spoils everything after it: greys lift or sink, skin turns. It belongs to the shot and never travels with a look."
          choices={encodings}
          value={shot.encoding}
          empty="Not declared: choose"
          onChange={(id) => void declare(id)}
        />
      </div>
      {shot.doubt && <p className="m-0 mt-1.5 text-amber">{shot.doubt}</p>}
      <div className="mt-2 flex flex-wrap gap-2">
        <Tip help="This frame under every encoding, side by side" side="left">
          <Button onClick={() => setDeclaring(true)}>Compare encodings</Button>
        </Tip>
        <span className="grow" />
        <Tip help="Take the shot out of its reel; its files stay where they are" side="left">
          <Button onClick={() => void removeShot(shot.id)}>Remove</Button>
        </Tip>
        <Cuts />
      </div>
    </section>
  )
}
