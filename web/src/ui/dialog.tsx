import { X } from 'lucide-react'
import { Dialog as Radix } from 'radix-ui'
import type { ReactNode } from 'react'
import { IconButton } from './controls.tsx'

export function Dialog({
  open,
  onClose,
  title,
  description,
  children,
  wide = false,
}: {
  open: boolean
  onClose: () => void
  title: string
  description?: ReactNode
  children: ReactNode
  wide?: boolean
}) {
  return (
    <Radix.Root open={open} onOpenChange={(next) => !next && onClose()}>
      <Radix.Portal>
        <Radix.Overlay className="fixed inset-0 z-40 bg-ink/30" />
        <Radix.Content
          className="fixed top-1/2 left-1/2 z-50 flex max-h-[88vh] w-[92vw] -translate-x-1/2 -translate-y-1/2 flex-col overflow-hidden rounded-md border border-line bg-sheet shadow-lg"
          style={{ maxWidth: wide ? 760 : 520 }}
          {...(description === undefined && { 'aria-describedby': undefined })}
        >
          <div className="flex items-start gap-3 border-b border-line px-4 py-3">
            <div className="min-w-0 flex-1">
              <Radix.Title asChild>
                <h1>{title}</h1>
              </Radix.Title>
              {description !== undefined && (
                <Radix.Description asChild>
                  <div className="text-ink-soft">{description}</div>
                </Radix.Description>
              )}
            </div>
            <Radix.Close asChild>
              <IconButton label="Close">
                <X size={16} />
              </IconButton>
            </Radix.Close>
          </div>
          <div className="min-h-0 overflow-auto p-4">{children}</div>
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  )
}
