import { DropdownMenu } from 'radix-ui'
import type { ReactNode } from 'react'

export interface MenuItem<T extends string = string> {
  id: T
  label: string
  note?: string
  /** Help that shows when the pointer rests on it. */
  hover?: string
}

/** A choice behind one word: groups of options, the chosen one in the accent. */
export function Menu<T extends string>({
  label,
  help,
  value,
  groups,
  onChange,
  bare,
  className,
  children,
}: {
  bare?: boolean
  /** How it looks, in place of the usual. */
  className?: string
  label: string
  help?: string
  value: T | ''
  groups: { title: string; items: MenuItem<T>[] }[]
  onChange: (id: T) => void
  children: ReactNode
}) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        aria-label={label}
        title={help}
        className={
          className ??
          (bare
            ? 'flex h-5 w-4 items-center justify-center rounded-sm hover:bg-raise'
            : 'flex h-6 min-w-0 items-center gap-1.5 rounded-sm border border-line px-2 text-sm text-soft hover:border-dim hover:text-text')
        }
      >
        {children}
        {!bare && !className && <span className="text-dim">▾</span>}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          sideOffset={3}
          collisionPadding={8}
          className="z-50 max-h-[70vh] min-w-44 max-w-72 overflow-y-auto rounded-sm border border-line bg-raise py-1 shadow-lg"
        >
          {groups
            .filter((g) => g.items.length > 0)
            .map((g) => (
              <DropdownMenu.Group key={g.title}>
                {g.title && <DropdownMenu.Label className="px-3 pb-0.5 pt-1.5 text-xs text-dim">{g.title}</DropdownMenu.Label>}
                {g.items.map((o) => (
                  <DropdownMenu.Item
                    key={o.id}
                    title={o.hover}
                    className={`cursor-default px-3 ${groups.flatMap((g) => g.items).length > 14 ? 'py-px' : 'py-1'} outline-none data-[highlighted]:bg-plumdeep data-[highlighted]:text-text ${o.id === value ? 'text-plum' : ''}`}
                    onSelect={() => onChange(o.id)}
                  >
                    {o.label}
                    {o.note && <div className="text-xs text-dim">{o.note}</div>}
                  </DropdownMenu.Item>
                ))}
              </DropdownMenu.Group>
            ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}
