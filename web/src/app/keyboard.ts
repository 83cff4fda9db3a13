import { useEffect } from 'react'

export interface Shortcut {
  keys: string
  does: string
}

export const SHORTCUTS: readonly Shortcut[] = [
  {
    keys: 'g then a, f, h, p, r, n, x, e, l, s',
    does: 'Go to Aim, Funnels, Paths, Pages, Replays, Friction, Fixes, Segments, Labels, Setup',
  },
  { keys: '/ or Ctrl K', does: 'Commands and search' },
  { keys: 't', does: 'Show or hide the trail' },
  { keys: 'm', does: 'Add what is shown to the trail' },
  { keys: 'j, k', does: 'Next and previous in a list' },
  { keys: 'Enter', does: 'Open what is chosen' },
  { keys: 'Esc', does: 'Close the close-up or a dialog' },
  { keys: 'Space', does: 'Play and pause a replay' },
  { keys: ', and .', does: 'Replay: one frame back or on' },
  { keys: 'c', does: 'Replay: write a note (comment) at this moment' },
  { keys: '[ and ]', does: 'Replay: previous or next signal' },
  { keys: '?', does: 'Show this list' },
]

/** True where keys are meant for what has the focus and not for the application. */
export function isTyping(event: KeyboardEvent): boolean {
  const target = event.target as HTMLElement
  return (
    target.isContentEditable ||
    /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName) ||
    !!target.closest('[role=dialog]')
  )
}

/** Calls back on single keys, unless somebody is typing or a dialog is open. Returns true from `handle` = taken. */
export function useKeys(handle: (key: string, event: KeyboardEvent) => boolean): void {
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (event.defaultPrevented || event.altKey || isTyping(event)) return
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() !== 'k') return
      const key = event.ctrlKey || event.metaKey ? `ctrl+${event.key.toLowerCase()}` : event.key
      if (handle(key, event)) event.preventDefault()
    }
    window.addEventListener('keydown', listen)
    return () => window.removeEventListener('keydown', listen)
  })
}

/** Moves the focus along the rows of the list in sight: that which has the focus, or the last on the page. */
export function moveInList(step: 1 | -1): boolean {
  const focused = document.activeElement?.closest('[data-list]')
  const lists = [...document.querySelectorAll('[data-list]')]
  const list = focused ?? lists[lists.length - 1]
  if (!list) return false
  const rows = [...list.querySelectorAll<HTMLElement>('[data-row]')]
  const at = rows.findIndex((row) => row === document.activeElement || row.contains(document.activeElement))
  const row = rows[Math.max(0, Math.min(rows.length - 1, at + step))]
  row?.focus()
  row?.scrollIntoView({ block: 'nearest' })
  return row !== undefined
}
