import { X } from 'lucide-react'
import { Dialog } from 'radix-ui'
import type { ReactNode } from 'react'

/** Something that is looked up beside the work and closed again; the focus goes back to where it was. */
export function Sheet(props: { title: string; open: boolean; onClose: () => void; children: ReactNode }) {
  return (
    <Dialog.Root open={props.open} onOpenChange={(open) => !open && props.onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-50 bg-ink/50" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed inset-x-2 top-2 z-50 mx-auto max-h-[calc(100dvh-1rem)] max-w-2xl overflow-y-auto border-2 border-edge bg-table p-4 sm:top-16 sm:max-h-[calc(100dvh-6rem)]"
        >
          <div className="mb-2 flex items-center justify-between gap-3">
            <Dialog.Title>{props.title}</Dialog.Title>
            <Dialog.Close className="inline-flex size-11 items-center justify-center" aria-label="Close">
              <X size={20} aria-hidden />
            </Dialog.Close>
          </div>
          {props.children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}
