import type { Reel } from '../api/types.gen'
import { Menu } from '../controls/Menu'
import { Tip } from '../controls/Tip'
import { addsUp, canFollow, follows, homeOf, landing, upwards, type Docs, type Level } from '../model/levels'
import { shotOf, studio, useStudio } from '../state/studio'
import { TrialMenu } from './TrialMenu'

/** How many shots a change of a station touches at a level. */
function touched(reel: Reel, docs: Docs, sceneId: number, station: string, level: Level): number {
  if (level === 'shot') return 1
  const own = (id: number) => canFollow(station) && reel.shots.find((s) => s.id === id)!.own.includes(station)
  const shots = reel.shots.filter((s) => !own(s.id))
  if (level === 'scene') return shots.filter((s) => s.sceneId === sceneId).length
  return shots.filter((s) => {
    const scene = reel.scenes.find((c) => c.id === s.sceneId)
    const look = s.sceneId === sceneId ? docs.scene : (scene?.look ?? null)
    return !canFollow(station) || !look || follows(look, station)
  }).length
}

type Act = 'follow' | Level

/** Which level a change of the open station lands on and how many shots it touches, and the way to another. */
export function LevelBar() {
  const station = useStudio((s) => s.station)
  const level = useStudio((s) => s.level)
  const docs = useStudio((s) => s.docs)
  const reel = useStudio((s) => s.reel)
  const shot = useStudio(shotOf)
  if (!reel || !shot || station === 'intake') return null
  const scene = reel.scenes.find((c) => c.id === shot.sceneId)
  const lands = landing(docs, level, station)
  const names: Record<Level, string> = { shot: shot.name, scene: scene?.name ?? '', reel: reel.name }
  const count = touched(reel, docs, shot.sceneId, station, lands)
  const home = homeOf(docs, station)
  const apart = canFollow(station) && upwards.indexOf(lands) > upwards.indexOf(home)
  const mayFollow = canFollow(station) && lands !== 'reel' && !follows(docs[lands], station)
  const follow = mayFollow && (lands === 'scene' || !docs.scene || follows(docs.scene, station) ? 'reel' : 'scene')

  const gives = mayFollow ? upwards.slice(upwards.indexOf(lands) + 1).filter((l) => docs[l]) : []

  function act(what: Act) {
    if (what === 'follow') studio.edit({ op: 'follow', station }, false, lands)
    else studio.edit({ op: 'lift', station, value: what }, false, lands)
    studio.setLevel('shot')
  }
  function go(to: Level) {
    studio.setLevel(to)
    // the shot's place in a station that follows is a look of its own
    if (canFollow(station) && to !== 'reel' && follows(docs[to], station)) studio.edit({ op: 'own', station }, false, to)
  }
  const help: Record<Level, string> = {
    shot:
      canFollow(station) && follows(docs.shot, station)
        ? `Give ${shot.name} its own ${station}, as it is now: it leaves what is above`
        : `Changes land on ${shot.name} alone`,
    scene:
      canFollow(station) && docs.scene && follows(docs.scene, station)
        ? `Give the scene its own ${station}, as it is now`
        : `Changes land on all shots of ${names.scene}${addsUp(station) ? ', after their own' : ''}`,
    reel: `Changes land on the whole reel${addsUp(station) ? ', after the shots’ own' : ', wherever it is followed'}`,
  }
  return (
    <div className="mt-1.5 flex h-6 items-center gap-2" data-testid="level">
      <div role="radiogroup" aria-label="Level" className="flex shrink-0 overflow-hidden rounded-sm border border-line">
        {upwards
          .filter((l) => l !== 'scene' || scene)
          .map((l) => (
            <Tip key={l} help={help[l]} side="left">
              <button
                type="button"
                role="radio"
                aria-checked={lands === l}
                className={`h-[22px] px-2 text-sm capitalize ${lands === l ? 'bg-plumdeep text-text' : 'text-soft hover:text-text'}`}
                onClick={() => go(l)}
              >
                {l}
              </button>
            </Tip>
          ))}
      </div>
      <span
        className={`shrink-0 truncate text-xs ${count > 1 ? 'text-plum' : 'text-dim'}`}
        data-testid="lands"
        title={`What is changed here lands on the ${lands} ${names[lands]}: ${count} of ${reel.shots.length} shots`}
      >
        {lands === 'shot' ? 'this shot' : count === reel.shots.length ? `all ${count} shots` : count === 1 ? '1 shot' : `${count} shots`}
        {apart && ', not this one'}
      </span>
      <span className="grow" />
      <TrialMenu level={lands} name={lands === 'shot' ? names.shot : `the ${lands} ${names[lands]}`} />
      {(follow || gives.length > 0) && (
        <Menu<Act>
          bare
          label={`Level of ${station}`}
          value=""
          groups={[
            {
              title: '',
              items: [
                ...(follow
                  ? [{ id: 'follow' as Act, label: `Follow the ${follow} again`, note: 'what it has of its own goes; undo brings it back' }]
                  : []),
                ...gives.map((l) => ({
                  id: l,
                  label: `Give it to the ${l}`,
                  note: `all of the ${l} that follow get it, and so does this`,
                })),
              ],
            },
          ]}
          onChange={act}
        >
          <span className="text-dim">⋮</span>
        </Menu>
      )}
    </div>
  )
}
