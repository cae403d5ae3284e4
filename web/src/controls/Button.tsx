import type { ComponentProps } from 'react'

/** A flat button; active ones carry the accent. */
export function Button({ active, className = '', ...rest }: ComponentProps<'button'> & { active?: boolean }) {
  const tone = active ? 'border-plum text-text' : 'border-line text-soft hover:text-text hover:border-dim'
  return (
    <button
      type="button"
      aria-pressed={active}
      {...rest}
      className={`h-6 rounded-sm border px-2.5 text-sm disabled:opacity-35 disabled:hover:border-line disabled:hover:text-soft ${tone} ${className}`}
    />
  )
}
