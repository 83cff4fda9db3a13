import { useCallback, useState } from 'react'
import type { z } from 'zod'

/** A setting of this browser; the fallback where there is none, or none that fits the schema. */
export function readStored<T>(name: string, schema: z.ZodType<T>, fallback: T): T {
  try {
    const text = localStorage.getItem(name)
    if (text === null) return fallback
    const plain = schema.safeParse(text)
    return plain.success ? plain.data : schema.parse(JSON.parse(text))
  } catch {
    return fallback
  }
}

export function writeStored(name: string, value: unknown): void {
  try {
    localStorage.setItem(name, typeof value === 'string' ? value : JSON.stringify(value))
  } catch {
    // A browser that keeps nothing: then the setting lasts as long as the page.
  }
}

/** State that this browser keeps: how somebody has set up their screen. */
export function useStored<T>(name: string, schema: z.ZodType<T>, fallback: T): [T, (value: T) => void] {
  const [value, setValue] = useState(() => readStored(name, schema, fallback))
  const set = useCallback(
    (next: T) => {
      setValue(next)
      writeStored(name, next)
    },
    [name],
  )
  return [value, set]
}
