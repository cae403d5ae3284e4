import { useState, type ComponentProps } from 'react'

const look = 'h-6 min-w-0 rounded-sm border border-line bg-room px-1.5 text-text placeholder:text-dim'

/** Text that counts as it is typed. Enter is left to the form around it. */
export function TextField({
  label,
  value,
  onChange,
  className = '',
  ...rest
}: { label: string; value: string; onChange: (text: string) => void } & Pick<
  ComponentProps<'input'>,
  'placeholder' | 'maxLength' | 'inputMode' | 'className' | 'onBlur'
>) {
  return (
    <input
      type="text"
      aria-label={label}
      {...rest}
      className={`${look} ${className}`}
      value={value}
      onChange={(e) => onChange(e.currentTarget.value)}
      onKeyDown={(e) => e.key !== 'Enter' && e.stopPropagation()}
    />
  )
}

/** Text that counts when it is left, or at Enter; Escape takes back. */
export function NameField({
  label,
  value,
  onName,
  onDone,
  focused,
  className = '',
}: {
  label: string
  value: string
  onName: (text: string) => void
  /** It was left, with a new name or without. */
  onDone?: () => void
  /** It takes the focus as soon as it is there, all of it chosen. */
  focused?: boolean
  className?: string
}) {
  const [typed, setTyped] = useState<string | null>(null)
  return (
    <input
      ref={(field) => {
        if (focused && field && document.activeElement !== field) field.focus()
      }}
      type="text"
      aria-label={label}
      className={className}
      value={typed ?? value}
      onFocus={(e) => focused && e.currentTarget.select()}
      onChange={(e) => setTyped(e.currentTarget.value)}
      onBlur={() => {
        if (typed !== null && typed !== value) onName(typed.trim())
        setTyped(null)
        onDone?.()
      }}
      onKeyDown={(e) => {
        e.stopPropagation()
        const field = e.currentTarget
        if (e.key === 'Escape') setTyped(null)
        if (e.key === 'Enter' || e.key === 'Escape') setTimeout(() => field.blur()) // once what was typed is taken back
      }}
    />
  )
}
