import type { ReactNode } from 'react'
import { Button } from './controls.tsx'
import { Dialog } from './dialog.tsx'
import { Failure } from './states.tsx'

/** A dialog in which something is filled in and saved. */
export function FormDialog({
  title,
  description,
  wide = false,
  close,
  submit,
  submitText,
  ready = true,
  saving = false,
  error,
  beside,
  children,
}: {
  title: string
  description?: ReactNode
  wide?: boolean
  close: () => void
  submit: () => void
  /** what the button says */
  submitText: ReactNode
  /** whether all is there that is needed */
  ready?: boolean
  /** whether it is on its way */
  saving?: boolean
  error?: Error | null | undefined
  /** stands at the other end of the line of buttons */
  beside?: ReactNode
  children: ReactNode
}) {
  return (
    <Dialog
      open
      onClose={close}
      title={title}
      {...(description !== undefined && { description })}
      wide={wide}
    >
      <form
        className="space-y-4"
        onSubmit={(event) => {
          event.preventDefault()
          if (ready && !saving) submit()
        }}
      >
        {children}
        {error && <Failure error={error} />}
        <div className="flex items-center justify-end gap-2">
          {beside !== undefined && <span className="min-w-0 flex-1 text-ink-soft">{beside}</span>}
          <Button onClick={close}>Cancel</Button>
          <Button type="submit" look="primary" disabled={!ready || saving}>
            {submitText}
          </Button>
        </div>
      </form>
    </Dialog>
  )
}
