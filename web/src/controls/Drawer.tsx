import { Dialog } from 'radix-ui'
import type { DialogProps } from './dialog'

/** A drawer at the side, with a title and a way to close it. */
export function Drawer({
  title,
  about,
  open,
  onOpen,
  trigger,
  wide,
  children,
}: DialogProps & {
  /** How wide: for a list, a form, or what is measured. */
  wide?: boolean | 'widest'
}) {
  return (
    <Dialog.Root open={open} onOpenChange={onOpen}>
      {trigger && <Dialog.Trigger asChild>{trigger}</Dialog.Trigger>}
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
        <Dialog.Content
          onInteractOutside={(e) => (e.target as HTMLElement).closest('[role=alert]') && e.preventDefault()}
          className={`fixed right-4 top-12 z-50 max-h-[calc(100vh-64px)] ${wide === 'widest' ? 'w-[960px]' : wide ? 'w-[720px]' : 'w-[440px]'} overflow-y-auto rounded-[4px] border border-line bg-wall p-4 shadow-xl`}
        >
          <div className="flex items-baseline justify-between">
            <Dialog.Title className="text-base font-semibold">{title}</Dialog.Title>
            <Dialog.Close className="rounded-sm px-1.5 text-soft hover:text-text" aria-label="Close">
              Close
            </Dialog.Close>
          </div>
          <Dialog.Description className="mb-3 mt-1 text-dim">{about}</Dialog.Description>
          {children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}
