import { clsx } from 'clsx'
import type { ButtonHTMLAttributes } from 'react'

/** A button that looks like a link: it opens or changes something in place. */
export function LinkButton({
  tone = 'spruce',
  className,
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & { tone?: 'spruce' | 'clay' }) {
  return (
    <button
      type="button"
      className={clsx(
        'max-w-full truncate text-left align-bottom hover:underline',
        tone === 'clay' ? 'text-clay' : 'text-spruce',
        className,
      )}
      {...rest}
    />
  )
}
