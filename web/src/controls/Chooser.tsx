import { Select } from 'radix-ui'
import type { Choice } from '../api/types.gen'
import { offered } from '../api/choices'
import { Tip } from './Tip'

/** One option out of a list, each with its sentence. */
export function Chooser({
  label,
  help,
  choices,
  value,
  dim,
  empty,
  onChange,
  onBrowse,
}: {
  label: string
  help: string
  choices: Choice[]
  value: string
  dim?: boolean
  empty?: string
  onChange: (id: string) => void
  onBrowse?: () => void
}) {
  const list = offered(choices, value)
  const groups = [...new Set(list.map((c) => c.group ?? ''))]
  return (
    <div
      className={`grid h-6 ${onBrowse ? 'grid-cols-[84px_minmax(0,1fr)_auto]' : 'grid-cols-[84px_minmax(0,1fr)]'} items-center gap-2 ${dim ? 'opacity-50' : ''}`}
    >
      <Tip help={help} side="left">
        <span className="truncate text-soft">{label}</span>
      </Tip>
      <Select.Root value={value} onValueChange={onChange}>
        <Select.Trigger
          aria-label={label}
          className="flex h-6 min-w-0 items-center justify-between rounded-sm border border-line px-2 text-left text-text hover:border-dim"
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
                  {list
                    .filter((c) => (c.group ?? '') === g)
                    .map((c) => (
                      <Select.Item
                        key={c.id}
                        value={c.id}
                        className="cursor-default px-3 py-1 outline-none data-[highlighted]:bg-plumdeep data-[state=checked]:text-plum data-[highlighted]:data-[state=checked]:text-text"
                      >
                        <Select.ItemText>{c.label}</Select.ItemText>
                        {c.note && <div className="text-xs text-dim">{c.note}</div>}
                      </Select.Item>
                    ))}
                </Select.Group>
              ))}
            </Select.Viewport>
          </Select.Content>
        </Select.Portal>
      </Select.Root>
      {onBrowse && (
        <Tip help="All of them on this very frame, by family and mood" side="left">
          <button
            type="button"
            aria-label={`Browse ${label.toLowerCase()}`}
            className="flex h-6 w-6 items-center justify-center rounded-sm border border-line text-soft hover:border-dim hover:text-text"
            onClick={onBrowse}
          >
            <svg viewBox="0 0 12 12" width="12" height="12" fill="none" stroke="currentColor" aria-hidden>
              <path d="M1.5 2.5h4v3h-4zM6.5 2.5h4v3h-4zM1.5 6.5h4v3h-4zM6.5 6.5h4v3h-4z" />
            </svg>
          </button>
        </Tip>
      )}
    </div>
  )
}
