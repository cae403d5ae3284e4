import type { ComponentProps } from 'react'
import { Tip } from '../controls/Tip'
import { keyLabel, keymap, type Command } from '../state/keymap'

/** Hover help on what a command does, with the key that it has now. */
export function KeyTip({ command, ...rest }: { command: Command } & Omit<ComponentProps<typeof Tip>, 'keys'>) {
  const keys = keymap.use((s) => keyLabel(command, s.own))
  return <Tip {...rest} keys={keys} />
}
