import { clsx } from 'clsx'
import { Popover as Radix } from 'radix-ui'
import type { ReactNode } from 'react'

/** What opens below a button, and closes when one presses elsewhere. */
export function Popover({
  label,
  open,
  setOpen,
  trigger,
  align = 'start',
  className,
  children,
}: {
  /** what it is a choice of */
  label: string
  open: boolean
  setOpen: (open: boolean) => void
  trigger: ReactNode
  align?: 'start' | 'end'
  className?: string
  children: ReactNode
}) {
  return (
    <Radix.Root open={open} onOpenChange={setOpen}>
      <Radix.Trigger asChild>{trigger}</Radix.Trigger>
      <Radix.Portal>
        <Radix.Content
          aria-label={label}
          align={align}
          sideOffset={4}
          className={clsx('z-40 rounded-md border border-line bg-sheet shadow-lg', className)}
        >
          {children}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  )
}
