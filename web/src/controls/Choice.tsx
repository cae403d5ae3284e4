import { Select } from 'radix-ui'
import type { KeyboardEvent } from 'react'

export interface Option {
  id: string
  label: string
  note?: string
  group?: string
}

/** Letters belong to the page's keys: a list that is closed is not gone through by them. */
function keepLetters(e: KeyboardEvent) {
  if (e.key.length === 1 && e.key !== ' ') e.preventDefault()
}

/** Radix keeps the empty value for a choice that is not made. */
const NONE = ' '

/** One out of a list, each with its sentence, under headings where options have groups. */
export function Choice({
  label,
  options,
  value,
  empty,
  className = '',
  onChange,
}: {
  label: string
  options: Option[]
  value: string
  /** What stands there while nothing is chosen. */
  empty?: string
  className?: string
  onChange: (id: string) => void
}) {
  const groups = [...new Set(options.map((o) => o.group ?? ''))]
  const hasNone = options.some((o) => o.id === '')
  return (
    <Select.Root value={value === '' && hasNone ? NONE : value} onValueChange={(id) => onChange(id === NONE ? '' : id)}>
      <Select.Trigger
        onKeyDown={keepLetters}
        aria-label={label}
        className={`flex h-6 min-w-0 items-center justify-between rounded-sm border border-line px-2 text-left text-text hover:border-dim ${className}`}
      >
        <span className="truncate">
          <Select.Value placeholder={<span className="text-amber">{empty ?? 'Choose'}</span>} />
        </span>
        <Select.Icon className="ml-2 text-dim">▾</Select.Icon>
      </Select.Trigger>
      <Select.Portal>
        <Select.Content
          position="popper"
          sideOffset={3}
          collisionPadding={8}
          className="z-50 max-h-[min(460px,var(--radix-select-content-available-height))] min-w-[var(--radix-select-trigger-width)] max-w-80 overflow-y-auto rounded-sm border border-line bg-raise py-1 shadow-lg"
        >
          <Select.Viewport>
            {groups.map((g) => (
              <Select.Group key={g}>
                {g && <Select.Label className="px-3 pb-0.5 pt-1.5 text-xs text-dim">{g}</Select.Label>}
                {options
                  .filter((o) => (o.group ?? '') === g)
                  .map((o) => (
                    <Select.Item
                      key={o.id}
                      value={o.id || NONE}
                      className="cursor-default px-3 py-1 outline-none data-[highlighted]:bg-plumdeep data-[state=checked]:text-plum data-[highlighted]:data-[state=checked]:text-text"
                    >
                      <Select.ItemText>{o.label}</Select.ItemText>
                      {o.note && <div className="text-xs text-dim">{o.note}</div>}
                    </Select.Item>
                  ))}
              </Select.Group>
            ))}
          </Select.Viewport>
        </Select.Content>
      </Select.Portal>
    </Select.Root>
  )
}
