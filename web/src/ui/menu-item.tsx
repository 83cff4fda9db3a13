import { clsx } from 'clsx'
import { Check } from 'lucide-react'
import type { ButtonHTMLAttributes } from 'react'

/** One line of a menu; with `checked` one that is switched on and off. */
export function MenuItem({
  checked,
  className,
  children,
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & { checked?: boolean }) {
  return (
    <button
      type="button"
      {...(checked !== undefined && { role: 'checkbox', 'aria-checked': checked })}
      className={clsx(
        'flex h-8 w-full items-center gap-2 rounded-md px-2 text-left hover:bg-ochre-soft disabled:opacity-50',
        className,
      )}
      {...rest}
    >
      {checked !== undefined && <Check size={14} aria-hidden className={clsx(!checked && 'invisible')} />}
      {typeof children === 'string' ? <span className="truncate">{children}</span> : children}
    </button>
  )
}
