import { useSyncExternalStore } from 'react'
import { writeStored } from '../ui/stored.ts'
import type { ColourRole, Theme } from './tokens.ts'
import { THEMES } from './tokens.ts'

const listeners = new Set<() => void>()

/** Writes both themes' colours as custom properties. */
export function installThemes(): void {
  const rules = Object.entries(THEMES).map(
    ([name, colours]) =>
      `:root[data-theme="${name}"]{color-scheme:${name};${Object.entries(colours)
        .map(([role, value]) => `--${role}:${value}`)
        .join(';')}}`,
  )
  const style = document.createElement('style')
  style.textContent = rules.join('\n')
  document.head.append(style)
}

export function useTheme(): { theme: Theme; colour: (role: ColourRole) => string; toggle: () => void } {
  const theme = useSyncExternalStore(
    (changed) => {
      listeners.add(changed)
      return () => listeners.delete(changed)
    },
    () => (document.documentElement.dataset['theme'] === 'dark' ? 'dark' : 'light'),
  )
  return {
    theme,
    colour: (role) => THEMES[theme][role],
    toggle: () => {
      const next = theme === 'dark' ? 'light' : 'dark'
      document.documentElement.dataset['theme'] = next
      writeStored('theme', next)
      listeners.forEach((listener) => listener())
    },
  }
}
