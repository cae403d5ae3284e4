import { Tooltip } from 'radix-ui'
import type { ReactNode } from 'react'

/** Hover help on anything: what it does, and its key. */
export function Tip({
  help,
  keys,
  side = 'bottom',
  children,
}: {
  help: string
  keys?: string
  side?: 'top' | 'right' | 'bottom' | 'left'
  children: ReactNode
}) {
  return (
    <Tooltip.Root>
      <Tooltip.Trigger asChild>{children}</Tooltip.Trigger>
      <Tooltip.Portal>
        <Tooltip.Content
          side={side}
          sideOffset={6}
          collisionPadding={8}
          className="z-50 max-w-72 rounded-sm border border-line bg-raise px-2.5 py-2 text-sm leading-snug text-text shadow-lg"
        >
          {help}
          {keys && <span className="ml-1.5 rounded-sm border border-line px-1 text-xs text-soft">{keys}</span>}
        </Tooltip.Content>
      </Tooltip.Portal>
    </Tooltip.Root>
  )
}
