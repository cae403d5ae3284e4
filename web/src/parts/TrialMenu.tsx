import { useState } from 'react'
import { Menu } from '../controls/Menu'
import { NameField } from '../controls/TextField'
import { Tip } from '../controls/Tip'
import type { Level } from '../model/levels'
import { setLayout, setSide } from '../state/judging'
import { judge } from '../state/judge'
import { keyLabel } from '../state/keymap'
import { addTrial, called, inUse, markAnswer, nameTrial, putInUse, removeTrial, trialsAt, useOfTrials } from '../state/trials'

type Act = 'add' | 'name' | 'answer' | 'remove' | `use:${number}` | `beside:${number}`

/** Which of a level's trials is in use, and what can be done with them. */
export function TrialMenu({ level, name }: { level: Level; name: string }) {
  const of = useOfTrials()
  const trials = trialsAt(of, level)
  const now = inUse(of, level)
  const [naming, setNaming] = useState(false)
  if (trials.length === 0)
    return (
      <Tip
        help={`Keep what ${name} has now as Trial 1, and go on in a copy: Trial 2. ${keyLabel('trial')} goes from one to the other`}
        side="left"
      >
        <button
          type="button"
          aria-label="Begin a trial"
          className="shrink-0 rounded-sm px-1 text-xs text-dim hover:text-text"
          onClick={() => void addTrial(level)}
        >
          + trial
        </button>
      </Tip>
    )
  if (naming && now)
    return (
      <NameField
        label="Name of the trial"
        focused
        className="h-[22px] w-24 rounded-sm border border-plum bg-raise px-1 text-xs text-text"
        value={now.name}
        onName={(to) => void nameTrial(now.id, to)}
        onDone={() => setNaming(false)}
      />
    )
  function act(what: Act) {
    const [verb, id] = what.split(':')
    if (verb === 'add') void addTrial(level)
    else if (verb === 'use') void putInUse(Number(id))
    else if (verb === 'beside') {
      setSide(`trial:${Number(id)}`)
      if (judge.get().layout === 'one') setLayout('beside')
    } else if (verb === 'name') setNaming(true)
    else if (verb === 'answer') void markAnswer(now!.id, !now!.answer)
    else void removeTrial(now!.id)
  }
  const others = trials.filter((t) => t.id !== now?.id)
  return (
    <Menu<Act>
      label={`Trials of ${name}`}
      help={`Versions of ${name}; ${keyLabel('trial')} goes to the next`}
      value={now ? `use:${now.id}` : ''}
      className="flex h-[22px] min-w-0 items-center gap-1 rounded-sm border border-line px-1.5 text-xs text-soft hover:border-dim hover:text-text"
      groups={[
        {
          title: `Trials of ${name}`,
          items: trials.map((t) => ({ id: `use:${t.id}` as Act, label: called(t), note: t.answer ? 'the answer' : undefined })),
        },
        {
          title: 'Beside the picture',
          items: others.map((t) => ({ id: `beside:${t.id}` as Act, label: t.name })),
        },
        {
          title: now?.name ?? '',
          items: [
            { id: 'add', label: 'New trial from here' },
            ...(now
              ? [
                  { id: 'name' as Act, label: 'Name' },
                  { id: 'answer' as Act, label: now.answer ? 'No longer the answer' : 'This is the answer' },
                  { id: 'remove' as Act, label: 'Remove', note: 'undo brings it back' },
                ]
              : []),
          ],
        },
      ]}
      onChange={act}
    >
      <span className="truncate" data-testid="trial">
        {now ? called(now) : 'no trial'}
      </span>
      <span className="text-dim">▾</span>
    </Menu>
  )
}
