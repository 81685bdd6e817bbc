'use client'
import { Dialog as Radix } from 'radix-ui'
import { X } from 'lucide-react'

const WIDTHS = { false: 'max-w-[560px]', true: 'max-w-[820px]', widest: 'max-w-[1080px]' }

/** A dialog over the page. Closes with Escape, gives the focus back. */
export function Dialog({
  open,
  onClose,
  title,
  children,
  wide = false,
}: {
  open: boolean
  onClose(): void
  title: string
  children: React.ReactNode
  wide?: boolean | 'widest'
}) {
  return (
    <Radix.Root open={open} onOpenChange={(next) => !next && onClose()}>
      <Radix.Portal>
        <Radix.Overlay className="fixed inset-0 z-40 bg-shade" />
        <Radix.Content
          aria-describedby={undefined}
          className={
            'fixed top-[8vh] left-1/2 z-50 max-h-[84vh] w-[calc(100vw-48px)] -translate-x-1/2 ' +
            `overflow-auto rounded-oak border border-line bg-raised shadow-xl ${WIDTHS[`${wide}`]}`
          }
        >
          <div className="p-5">
            <div className="mb-4 flex items-start justify-between gap-4">
              <Radix.Title className="font-display text-lg font-semibold">{title}</Radix.Title>
              <Radix.Close className="rounded p-1 text-soft hover:text-ink" aria-label="Close">
                <X size={16} />
              </Radix.Close>
            </div>
            {children}
          </div>
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  )
}
