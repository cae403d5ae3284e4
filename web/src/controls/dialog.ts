import type { ReactNode } from 'react'

/** What every dialog has: a title, a sentence about it, and a way to open it where that is beside it. */
export interface DialogProps {
  title: string
  about: ReactNode
  open: boolean
  onOpen: (open: boolean) => void
  trigger?: ReactNode
  children: ReactNode
}
