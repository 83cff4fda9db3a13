import { clsx } from 'clsx'
import { ChevronDown } from 'lucide-react'
import type { ButtonHTMLAttributes, ReactNode, SelectHTMLAttributes } from 'react'

type Look = 'primary' | 'plain' | 'quiet' | 'danger'

const LOOKS: Record<Look, string> = {
  primary: 'bg-spruce text-on-spruce hover:brightness-110 border-transparent',
  plain: 'bg-sheet border-line hover:border-stone',
  quiet: 'border-transparent hover:bg-ochre-soft',
  danger: 'bg-sheet border-line text-clay hover:border-clay',
}

export function Button({
  look = 'plain',
  className,
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & { look?: Look }) {
  return (
    <button
      type="button"
      className={clsx(
        'inline-flex h-8 items-center gap-1.5 rounded-md border px-2.5 whitespace-nowrap transition-colors disabled:opacity-50',
        LOOKS[look],
        className,
      )}
      {...rest}
    />
  )
}

export function IconButton({
  label,
  className,
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & { label: string }) {
  return (
    <button
      type="button"
      aria-label={label}
      title={label}
      className={clsx(
        'inline-flex size-7 shrink-0 items-center justify-center rounded-md text-ink-soft transition-colors hover:bg-ochre-soft hover:text-ink disabled:opacity-40',
        className,
      )}
      {...rest}
    />
  )
}

export function Select({ className, children, ...rest }: SelectHTMLAttributes<HTMLSelectElement>) {
  return (
    <span className={clsx('relative inline-flex min-w-0', className)}>
      <select
        className="h-8 w-full min-w-0 appearance-none truncate rounded-md border border-line bg-sheet pr-7 pl-2.5 hover:border-stone"
        {...rest}
      >
        {children}
      </select>
      <ChevronDown
        aria-hidden
        size={14}
        className="pointer-events-none absolute top-2.5 right-2 text-ink-soft"
      />
    </span>
  )
}

export function Field({
  label,
  hint,
  error,
  children,
}: {
  label: string
  hint?: string
  error?: string | undefined
  children: ReactNode
}) {
  return (
    <label className="block">
      <span className="mb-1 block font-semibold">{label}</span>
      {children}
      {error ? (
        <span role="alert" className="mt-1 block text-clay">
          {error}
        </span>
      ) : (
        hint && <span className="mt-1 block text-ink-soft">{hint}</span>
      )}
    </label>
  )
}

/** The name that something is saved under; what is there is marked, so that typing takes its place. */
export function NameField({
  name,
  setName,
  error,
}: {
  name: string
  setName: (name: string) => void
  error: string | undefined
}) {
  return (
    <Field label="Name" error={error}>
      <input
        autoFocus
        required
        maxLength={120}
        className={inputLook}
        value={name}
        onFocus={(event) => event.target.select()}
        onChange={(event) => setName(event.target.value)}
      />
    </Field>
  )
}

export const inputLook =
  'w-full rounded-md border border-line bg-sheet px-2.5 py-1.5 hover:border-stone placeholder:text-ink-soft'
