import type { InputHTMLAttributes } from 'react'
import { Field, inputLook } from './controls.tsx'

/** A line of text with its label. */
export function TextField({
  label,
  hint,
  value,
  set,
  ...input
}: {
  label: string
  hint?: string
  value: string
  set: (text: string) => void
} & Omit<InputHTMLAttributes<HTMLInputElement>, 'value' | 'onChange' | 'className'>) {
  return (
    <Field label={label} {...(hint !== undefined && { hint })}>
      <input {...input} className={inputLook} value={value} onChange={({ target }) => set(target.value)} />
    </Field>
  )
}
