import { Dialog } from 'radix-ui'
import type { ReactNode } from 'react'
import type { DialogProps } from './dialog'

/** A view over nearly all of the room, with a title, what belongs to its head, and a way to close it. */
export function FullScreenDialog({
  title,
  about,
  open,
  onOpen,
  trigger,
  head,
  children,
}: DialogProps & {
  head?: ReactNode
}) {
  return (
    <Dialog.Root open={open} onOpenChange={onOpen}>
      {trigger && <Dialog.Trigger asChild>{trigger}</Dialog.Trigger>}
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/70" />
        <Dialog.Content
          className="fixed inset-x-6 bottom-6 top-10 z-50 flex flex-col rounded-[4px] border border-line bg-wall p-4"
          onOpenAutoFocus={(e) => e.preventDefault()}
        >
          <div className="mb-2 flex items-center gap-3">
            <Dialog.Title className="text-base font-semibold">{title}</Dialog.Title>
            {head}
            <Dialog.Close className="ml-auto rounded-sm px-1.5 text-soft hover:text-text">Close</Dialog.Close>
          </div>
          <Dialog.Description className="mb-2 mt-0 text-dim">{about}</Dialog.Description>
          {children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}
