import { clsx } from 'clsx'
import { RadioGroup as Radix } from 'radix-ui'
import type { ReactNode } from 'react'

/** A choice of one among few, all in sight; arrow keys go from one to the next. */
export function RadioGroup<T extends string>({
  label,
  value,
  options,
  onChange,
}: {
  label: string
  value: T
  options: readonly (readonly [value: T, text: ReactNode])[]
  onChange: (value: T) => void
}) {
  return (
    <Radix.Root
      aria-label={label}
      orientation="horizontal"
      value={value}
      onValueChange={(next) => onChange(next as T)}
      className="inline-flex h-8 overflow-hidden rounded-md border border-line bg-sheet"
    >
      {options.map(([option, text]) => (
        <Radix.Item
          key={option}
          value={option}
          className={clsx(
            'border-line px-2.5 whitespace-nowrap not-first:border-l',
            option === value ? 'bg-spruce-soft font-semibold' : 'text-ink-soft hover:bg-ochre-soft',
          )}
        >
          {text}
        </Radix.Item>
      ))}
    </Radix.Root>
  )
}
