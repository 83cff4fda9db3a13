import { clsx } from 'clsx'
import { X } from 'lucide-react'
import type { ReactNode } from 'react'

/** One thing of several that are set, with a way to take it away. */
export function Chip({
  words,
  look = 'filled',
  before,
  after,
  removeLabel = `Remove: ${words}`,
  remove,
}: {
  words: string
  look?: 'filled' | 'outlined'
  before?: ReactNode
  after?: ReactNode
  removeLabel?: string
  /** undefined: it cannot be taken away */
  remove?: (() => void) | undefined
}) {
  return (
    <span
      className={clsx(
        'inline-flex h-7 max-w-80 items-center gap-1.5 rounded-md pl-2.5',
        look === 'filled' ? 'bg-ochre-soft text-ochre-text' : 'border border-line',
        !remove && 'pr-2',
      )}
    >
      {before}
      <span className="truncate" title={words}>
        {words}
      </span>
      {after}
      {remove && (
        <button
          type="button"
          aria-label={removeLabel}
          className="inline-flex size-7 shrink-0 items-center justify-center rounded-md hover:text-ink"
          onClick={remove}
        >
          <X size={13} />
        </button>
      )}
    </span>
  )
}
