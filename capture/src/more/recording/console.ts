import type { ConsoleLevel } from '@dust-trail/core'
import { CONSOLE_LEVELS } from '@dust-trail/core/recording'
import { quiet } from '../../dom.ts'
import { privacy } from './privacy.ts'

/** A page that says more than this in one document says it to nobody. */
const MOST_SAID = 200
const LONGEST = 500

/** What may be told at each level of text: what is said for developers alone may hold anything. */
const TOLD: Record<string, readonly ConsoleLevel[]> = {
  hidden: [],
  patterns: ['error', 'warn'],
  chosen: CONSOLE_LEVELS,
}

/** Tells what the page says in the browser's console. What it says goes there all the same, and first. */
export function watchConsole(tell: (level: ConsoleLevel, text: string) => void): { again: () => void } {
  let said = 0
  const see = quiet((level: ConsoleLevel, given: unknown[]) => {
    if (said >= MOST_SAID || !TOLD[privacy.levelNow()]?.includes(level)) return
    said++
    tell(level, privacy.cleanError(wordsOf(given).slice(0, 4 * LONGEST)).slice(0, LONGEST))
  })
  const listen = quiet((level: ConsoleLevel) => {
    const original = console[level].bind(console)
    console[level] = (...given: unknown[]) => {
      original(...given)
      see(level, given)
    }
  })
  // A page may have made its console what cannot be changed.
  for (const level of CONSOLE_LEVELS) listen(level)
  return { again: () => (said = 0) }
}

/** What a console shows of what it is given, without looking into things. */
export function wordsOf(given: readonly unknown[]): string {
  const [first, ...rest] = given
  if (typeof first !== 'string') return given.map(wordOf).join(' ')
  const left = [...rest]
  const text = first.replace(/%[sdifoOc%]/g, (sign) => {
    if (sign === '%%') return '%'
    if (!left.length) return sign
    const value = left.shift()
    return sign === '%c' ? '' : wordOf(value)
  })
  return [text, ...left.map(wordOf)].join(' ')
}

function wordOf(value: unknown): string {
  if (value instanceof Error) return `${value.name}: ${value.message}`
  if (typeof value === 'function') return 'function'
  if (typeof value === 'object' && value !== null) return Array.isArray(value) ? '[…]' : '{…}'
  return String(value)
}
