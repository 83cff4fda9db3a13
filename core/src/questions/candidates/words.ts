import type { SignalKind } from '../../events/signal-kinds.ts'
import type { Condition, Selection } from '../../select/grammar/conditions.ts'
import type { Cause } from './cases.ts'
import { LATE_MS } from './journeys.ts'
import type { Ranked } from './rank.ts'
import { WIDTH } from './rank.ts'

export const WHETHER = ['clear', 'likely', 'cannot tell'] as const
export const HOW_MUCH = ['well known', 'roughly known', 'hardly known'] as const

/** A price is well known where its interval reaches so far to each side, as a share of it; roughly known where so far. */
const WELL = 0.35
const ROUGHLY = 0.8

const TECHNICAL: ReadonlySet<Cause> = new Set<Cause>([
  ...(['script error', 'failed request', 'freeze', 'not found', 'slow page', 'became slow'] as const),
  'slow answer',
])

/** What is said of a candidate, by stated rules. */
export function inWords(one: Ranked): {
  technical: boolean
  whether: (typeof WHETHER)[number]
  howMuch: (typeof HOW_MUCH)[number]
  compared: string
} {
  const half = WIDTH * one.price.sd
  const share = one.price.value > 0 ? Math.hypot(half, one.beyond) / one.price.value : Infinity
  return {
    technical: TECHNICAL.has(one.trouble.cause),
    whether: one.sure > 0.95 && one.price.value > half ? 'clear' : one.sure >= 0.5 ? 'likely' : 'cannot tell',
    howMuch: share <= WELL ? 'well known' : share <= ROUGHLY ? 'roughly known' : 'hardly known',
    compared: comparedWith(one),
  }
}

/** The kind of signal by which the sessions that met a cause can be picked. */
const PICKED_BY: Partial<Record<Cause, SignalKind>> = {
  ...{ 'script error': 'failing click', 'failed request': 'failed request', freeze: 'freeze' },
  ...{ 'refused form': 'failed submit', 'dead click': 'dead click', 'site signal': 'site signal' },
  'rage click': 'rage click',
  ...{ 'slow page': 'slow page', 'became slow': 'slow page', 'corrected field': 'field trouble' },
  ...{ combing: 'combing', zoom: 'zoom' },
}

/**
 * The sessions that met it, as a selection that can be opened: as near as conditions come. Elements that are alike in all but
 * their place are picked by the pattern of their selectors.
 *
 * @param sentTo  of a shuttle without a link: where visitors are sent
 */
export function sessionsThatMet(
  cause: Cause,
  page: string,
  selector: string,
  members: readonly string[],
  sentTo?: string,
): Selection {
  const here = { is: 'equal' as const, to: page }
  const kind = cause === 'script error' && !selector ? 'script error' : PICKED_BY[cause]
  if (cause === 'out of sight')
    return where([
      { type: 'event', event: { kinds: ['page'], page: here } },
      {
        type: 'not',
        of: { type: 'event', event: { kinds: ['seen'], page: here, element: equal(selector) } },
      },
    ])
  if (cause === 'not found' && selector)
    return where([
      { type: 'event', event: { kinds: ['click'], page: here, element: equal(selector) } },
      { type: 'signal', kind: 'not found' },
    ])
  if (cause === 'slow answer')
    return where([
      {
        type: 'event',
        event: { kinds: ['click'], page: here, ...(selector && { element: equal(selector) }) },
      },
      { type: 'event', event: { kinds: ['request'], page: here, amount: { is: 'at least', to: LATE_MS } } },
    ])
  if (cause === 'shuttle' && sentTo !== undefined)
    return where([
      {
        ...{ type: 'sequence', anchor: 'anywhere' },
        steps: [
          { event: { kinds: ['page'], page: here }, how: 'later' },
          { event: { kinds: ['page'], page: equal(sentTo) }, how: 'directly', without: { kinds: ['page'] } },
        ],
      },
    ])
  if (cause === 'shuttle')
    return members.length === 1
      ? { type: 'clicks', page, which: 'all', selector }
      : anyOf(members, (element) => ({ type: 'event', event: { kinds: ['click'], page: here, element } }))
  if (!kind) return { type: 'page', page }
  // A form that was refused is told of the form, not of its button; what is slow is the page.
  if (cause === 'refused form' || !selector) return where([{ type: 'signal', kind, page: here }])
  if (members.length === 1) return { type: 'signal', kind, page, selector }
  return anyOf(members, (element) => ({ type: 'signal', kind, page: here, element }))
}

type ElementTest = ReturnType<typeof equal>
const MOST_ELEMENTS = 50

function anyOf(members: readonly string[], met: (element: ElementTest) => Condition): Selection {
  return where([{ type: 'any', of: members.slice(0, MOST_ELEMENTS).map((one) => met(equal(one))) }])
}

const equal = (to: string) => ({ is: 'equal' as const, to })
const where = (of: Condition[]): Selection => ({ type: 'where', condition: { type: 'all', of } })

/** The sessions that viewed the page and did not meet it. */
export function sessionsThatDidNot(met: Selection, page: string): Selection {
  return where([
    { type: 'event', event: { kinds: ['page'], page: equal(page) } },
    { type: 'not', of: { type: 'selected', selection: met } },
  ])
}

function comparedWith({ design, exposed, controls, trouble: { cause } }: Ranked): string {
  if (cause === 'given up at field' && design !== 'fields')
    return `${exposed} sessions that left it empty, beside ${controls} that filled it in at once`
  const met = `${exposed} sessions that met it`
  switch (design) {
    case 'attempt':
      return `${met}, beside ${controls} that tried the same and had no trouble`
    case 'itself':
      return `${met}, as if it had worked at once: of the ${controls} for whom it did in the end nearly all carried on`
    case 'instead':
      return `${met}, beside ${controls} that used at once what those turned to`
    case 'link':
      return `${met}, as if the link had led on`
    case 'page':
      return `${met}, beside ${controls} views of the page that were still open at that moment and did not`
    case 'change':
      return `${exposed} sessions while the page was slow, beside ${controls} while it was not`
    case 'sight':
      return `${exposed} views in which it had not come into view, beside ${controls} in which it had by then`
    case 'screens':
      return `${exposed} sessions on screens that do not show it at once, beside ${controls} on screens that do, against the same on other pages`
    case 'heights':
      return `${exposed} sessions on screens too low to show it at once, beside ${controls} on higher ones, against the same on other pages`
    case 'fields':
      return `${exposed} views that came to the field, beside the other fields of the form`
  }
}
