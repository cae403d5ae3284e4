import type { Choice as Offered } from '../api/types.gen'
import { offered } from '../api/choices'
import { Choice } from './Choice'
import { Tip } from './Tip'

/** A choice with its name before it, and a way to see all of it on the frame. */
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
  choices: Offered[]
  value: string
  dim?: boolean
  empty?: string
  onChange: (id: string) => void
  onBrowse?: () => void
}) {
  return (
    <div
      className={`grid h-6 ${onBrowse ? 'grid-cols-[84px_minmax(0,1fr)_auto]' : 'grid-cols-[84px_minmax(0,1fr)]'} items-center gap-2 ${dim ? 'opacity-50' : ''}`}
    >
      <Tip help={help} side="left">
        <span className="truncate text-soft">{label}</span>
      </Tip>
      <Choice label={label} options={offered(choices, value)} value={value} empty={empty} onChange={onChange} />
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
