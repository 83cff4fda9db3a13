import type { ClickSort, EventCondition, LeakKind, Selection } from '@dust-trail/core'
import { stepName } from '@dust-trail/core'

export const LEAK_WORDS: Record<LeakKind, string> = {
  error: 'met an error',
  back: 'went back',
  other: 'went to another page',
  trouble: 'left after rage or dead clicks',
  left: 'left the site',
}

export const CLICK_WORDS: Record<ClickSort, string> = {
  all: 'clicks',
  rage: 'rage clicks',
  dead: 'dead clicks',
  failing: 'clicks that raised an error',
  near: 'near misses',
  rapid: 'quick clicks that all did something',
  swipe: 'swipes',
  zoom: 'zooms',
  rest: 'rests of the pointer',
}

/** What is counted where it is no click. */
export const ACT_HEADS: Partial<Record<ClickSort, string>> = { swipe: 'Swipes', zoom: 'Zooms', rest: 'Rests' }

/** What they did instead, with the page where there is one. */
export function leakText(kind: LeakKind, page: string | null): string {
  if (kind === 'back' && page) return `went back to ${page}`
  if (kind === 'other' && page) return `went to ${page}`
  if (kind === 'error' && page) return `met an error, then ${page}`
  return LEAK_WORDS[kind]
}

/** What the selection's share is of, in words. */
export function baseOf(selection: Selection): string {
  if (selection.type === 'funnel') {
    const { side, step, steps, options } = selection
    const whose = options?.per === 'visitor' ? ' (visitors, each by one session)' : ''
    if (side === 'reached' && step === 0 && !whose) return 'in the lens'
    return `who reached “${stepName(steps[side === 'reached' ? 0 : step]!)}”${whose}`
  }
  if (selection.type === 'clicks' || selection.type === 'signal') return `who saw ${selection.page}`
  if (selection.type === 'path' && selection.walk?.per === 'visitor')
    return 'from where paths begin (visitors, each by one session)'
  if (selection.type === 'path' && (selection.walk?.start || selection.from)) return 'from where paths begin'
  if (selection.type === 'path' && selection.page !== null) return `who saw ${selection.page}`
  return 'in the lens'
}

/** An element by its text, or by the end of its selector. */
export function elementName(text: string | undefined, selector: string): string {
  if (text) return `“${text}”`
  return selector ? selector.split(' > ').slice(-2).join(' > ') : 'the page'
}

/** The page group on which what was selected happened; undefined where it is no one page. */
export function pageOf(selection: Selection): string | undefined {
  switch (selection.type) {
    case 'page':
    case 'clicks':
    case 'signal':
      return selection.page
    case 'funnel': {
      const step = selection.steps[selection.step]
      return step && step.type !== 'event' ? step.page : undefined
    }
    default:
      return undefined
  }
}

/** every session in the lens */
export const EVERYONE: Selection = { type: 'everyone' }

/** Those whom an event met, each at the moment of the first of them. */
export function atEvent(name: string, event: EventCondition): Selection {
  const steps = [{ type: 'event' as const, name: name.slice(0, 120), event }]
  return { type: 'funnel', steps, step: 0, side: 'reached' }
}

/** Those who viewed a page and never had an element of it in view. */
export function withoutSight(page: string, selector: string): Selection {
  const here = { is: 'equal' as const, to: page }
  return {
    type: 'where',
    condition: {
      type: 'all',
      of: [
        { type: 'event', event: { kinds: ['page'], page: here } },
        {
          type: 'not',
          of: {
            type: 'event',
            event: { kinds: ['seen'], page: here, element: { is: 'equal', to: selector } },
          },
        },
      ],
    },
  }
}
