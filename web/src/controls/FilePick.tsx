import type { ReactNode } from 'react'

/** A button that asks the browser for files. */
export function FilePick({
  children,
  accept,
  multiple,
  disabled,
  testid,
  className = '',
  onFiles,
}: {
  children: ReactNode
  accept?: string
  multiple?: boolean
  disabled?: boolean
  testid?: string
  className?: string
  onFiles: (files: File[]) => void
}) {
  return (
    <label
      className={`flex h-6 items-center truncate rounded-sm border border-line px-2.5 text-sm text-soft ${disabled ? 'opacity-35' : 'cursor-pointer hover:border-dim hover:text-text'} ${className}`}
    >
      {children}
      <input
        type="file"
        accept={accept}
        multiple={multiple}
        disabled={disabled}
        className="hidden"
        data-testid={testid}
        onChange={(e) => {
          const files = [...(e.currentTarget.files ?? [])]
          e.currentTarget.value = ''
          if (files.length > 0) onFiles(files)
        }}
      />
    </label>
  )
}
