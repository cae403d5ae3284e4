import { Checkbox } from 'radix-ui'
import type { ReactNode } from 'react'

/** A box to tick, with what it stands for beside it. */
export function Check({
  on,
  label,
  disabled,
  onChange,
  children,
}: {
  on: boolean
  label: string
  disabled?: boolean
  onChange: (on: boolean) => void
  children?: ReactNode
}) {
  return (
    <label className={`flex min-w-0 items-start gap-2 ${disabled ? 'opacity-40' : ''}`}>
      <Checkbox.Root
        checked={on}
        disabled={disabled}
        aria-label={label}
        onCheckedChange={(v) => onChange(v === true)}
        className="mt-[3px] flex h-[14px] w-[14px] shrink-0 items-center justify-center rounded-[2px] border border-line bg-room data-[state=checked]:border-plum data-[state=checked]:bg-plumdeep"
      >
        <Checkbox.Indicator className="text-[10px] leading-none">✓</Checkbox.Indicator>
      </Checkbox.Root>
      <span className="min-w-0">{children ?? label}</span>
    </label>
  )
}
