import type { ComponentType } from 'react'
import type { EditorProps } from './editor'

const modules = import.meta.glob<ComponentType<EditorProps> | undefined>(['./*.tsx', '!./index.tsx', '!./Plot.tsx'], {
  eager: true,
  import: 'default',
})

/**
 * The controls of kinds that need more than a line of dials: every file here that exports one as its default, under the
 * name that a declaration gives, which is the file's in small letters.
 */
export const editors: Record<string, ComponentType<EditorProps>> = Object.fromEntries(
  Object.entries(modules).flatMap(([file, editor]) => (editor ? [[file.slice(2, -4).toLowerCase(), editor]] : [])),
)
