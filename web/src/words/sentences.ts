import type {
  Lens,
  Selection,
  Condition,
  EventCondition,
  Noise,
  NumberTest,
  PathPart,
  PathSelection,
  SessionNumber,
  SessionText,
  TextTest,
} from '@dust-trail/core'
import { stepName, tokenWords } from '@dust-trail/core'
import { count, duration } from '../ui/format.ts'
import type { PartOf } from './event-parts.ts'
import { KIND_WORDS, partsOf } from './event-parts.ts'
import { CLICK_WORDS, elementName, leakText } from './selections.ts'

export const TEXT_WORDS: Record<SessionText, string> = {
  device: 'device',
  browser: 'browser',
  system: 'system',
  country: 'country',
  channel: 'channel',
  source: 'source',
  campaign: 'campaign',
  visitor: 'visitor',
  'entry page': 'landing page',
  'exit page': 'exit page',
}

export const NUMBER_WORDS: Record<SessionNumber, string> = {
  duration: 'length',
  pages: 'page views',
  clicks: 'clicks',
  events: 'events',
  signals: 'signals',
  strain: 'strain',
  value: 'value',
  width: 'viewport width',
  height: 'viewport height',
}

function list(words: readonly string[]): string {
  if (words.length < 2) return words[0] ?? ''
  return `${words.slice(0, -1).join(', ')} or ${words[words.length - 1]}`
}

/** "is mobile", "contains trail". */
export function textTestWords(test: TextTest): string {
  switch (test.is) {
    case 'equal':
      return `is ${test.to}`
    case 'not equal':
      return `is not ${test.to}`
    case 'one of':
      return `is ${list(test.to)}`
    case 'none of':
      return `is not ${list(test.to)}`
    case 'containing':
      return `contains “${test.to}”`
    case 'not containing':
      return `does not contain “${test.to}”`
    case 'starting with':
      return `begins with “${test.to}”`
    case 'ending with':
      return `ends with “${test.to}”`
    case 'matching':
      return `matches ${test.to}`
    case 'known':
      return 'is known'
    case 'not known':
      return 'is not known'
  }
}

export function numberTestWords(test: NumberTest, show: (n: number) => string = count): string {
  switch (test.is) {
    case 'equal':
      return `${show(test.to)}`
    case 'not equal':
      return `not ${show(test.to)}`
    case 'at least':
      return `at least ${show(test.to)}`
    case 'at most':
      return `at most ${show(test.to)}`
    case 'more than':
      return `more than ${show(test.to)}`
    case 'less than':
      return `less than ${show(test.to)}`
    case 'between':
      return `${show(test.from)} to ${show(test.to)}`
  }
}

/** What an event is, in words: "click on #pay on Booking: payment". */
export function eventWords(event: EventCondition): string {
  if (event.action !== undefined) return `“${event.action}”`
  if (event.any) return list(event.any.map(eventWords))
  const page = valuesIn(event.page)
  const { kinds, page: _, ...others } = event
  const isView = kinds?.length === 1 && kinds[0] === 'page'
  if (isView && page && Object.values(others).every((part) => part === undefined)) return page
  const parts = [kinds ? list(kinds.map((kind) => KIND_WORDS[kind])) : 'anything']
  const tell = (test: TextTest | undefined, short: (values: string) => string, name: string) => {
    if (!test) return
    const values = valuesIn(test)
    parts.push(values ? short(values) : `whose ${name} ${textTestWords(test)}`)
  }
  tell(event.element, (values) => `on ${values}`, 'element')
  tell(event.text, (values) => `“${values}”`, 'text')
  tell(event.name, (values) => `“${values}”`, 'name')
  tell(event.page, (values) => `on ${values}`, 'page')
  if (event.path) parts.push(`whose address ${textTestWords(event.path)}`)
  const of = (part: PartOf) => (kinds?.[0] && partsOf(kinds[0]).find(([one]) => one === part)?.[1]) ?? part
  if (event.number) parts.push(`with ${of('number')} ${numberTestWords(event.number)}`)
  if (event.amount) parts.push(`with ${of('amount')} ${numberTestWords(event.amount)}`)
  if (event.prop?.text) parts.push(`whose property ${event.prop.key} ${textTestWords(event.prop.text)}`)
  if (event.prop?.number) parts.push(`with property ${event.prop.key} ${numberTestWords(event.prop.number)}`)
  if (event.error) parts.push(errorWords(event.error))
  if (event.effect) parts.push(`with effect ${event.effect}`)
  if (event.friction) parts.push(`(${event.friction} click)`)
  for (const one of event.all ?? []) parts.push(`and ${eventWords(one).replace(/^anything /, '')}`)
  if (event.not) parts.push(`but not ${eventWords(event.not)}`)
  return parts.join(' ')
}

/** "“Cannot read *” in pay app.js". */
export function errorWords({ message, place }: NonNullable<EventCondition['error']>): string {
  return `“${message}”${place && ` in ${place}`}`
}

/** The values that a text test lets pass, where these are named; "" where they are not. */
function valuesIn(test: TextTest | undefined): string {
  return test?.is === 'equal' ? test.to : test?.is === 'one of' ? list(test.to) : ''
}

/** A condition as part of a sentence that begins "Sessions …". */
export function conditionWords(condition: Condition): string {
  switch (condition.type) {
    case 'all':
      return condition.of.length ? condition.of.map(conditionWords).join(' and ') : 'all'
    case 'any':
      return `(${condition.of.map(conditionWords).join(' or ')})`
    case 'not':
      return `not (${conditionWords(condition.of)})`
    case 'text':
      return `${TEXT_WORDS[condition.of]} ${textTestWords(condition.test)}`
    case 'number':
      return `${NUMBER_WORDS[condition.of]} ${numberTestWords(condition.test, condition.of === 'duration' ? duration : count)}`
    case 'visit':
      return condition.is === 'first' ? 'first visit' : 'returning'
    case 'event': {
      const { event, count: times } = condition
      const isView = event.kinds?.length === 1 && event.kinds[0] === 'page' && event.page !== undefined
      const words = `${isView ? 'saw' : 'met'} ${eventWords(event)}`
      return times ? `${words} ${numberTestWords(times)} times` : words
    }
    case 'signal':
      return `met ${condition.kind ?? 'any signal'}${condition.element ? ` at an element that ${textTestWords(condition.element)}` : ''}${condition.page ? ` on a page that ${textTestWords(condition.page)}` : ''}${condition.count ? ` ${numberTestWords(condition.count)} times` : ''}`
    case 'selected':
      return lower(describeSelection(condition.selection))
    case 'sequence': {
      const steps = condition.steps
        .map(
          ({ event, how, withinMs, without }, k) =>
            `${k ? (how === 'directly' ? ' directly then ' : ' then ') : ''}${eventWords(event)}` +
            (withinMs === undefined ? '' : ` within ${duration(withinMs)}`) +
            (without ? ` without ${eventWords(without)} in between` : ''),
        )
        .join('')
      const anchor = {
        anywhere: 'did',
        'starts with': 'began with',
        'ends with': 'ended with',
        only: 'did only',
      }
      return `${anchor[condition.anchor]} ${steps}${condition.withinMs === undefined ? '' : `, all within ${duration(condition.withinMs)}`}`
    }
  }
}

export function noiseWords(noise: Noise): string {
  if (noise.type === 'events') return `without ${eventWords(noise.event)}`
  const within = noise.withinMs === null ? '' : ` within ${duration(noise.withinMs)}`
  return `repeats${noise.event ? ` of ${eventWords(noise.event)}` : ''}${within} count once`
}

function lower(text: string): string {
  return text.charAt(0).toLowerCase() + text.slice(1)
}

/** Several conditions as one; undefined where there is none. */
export function together(conditions: readonly (Condition | null | undefined)[]): Condition | undefined {
  const parts = conditions.filter((one) => !!one).flatMap((one) => (one.type === 'all' ? one.of : [one]))
  return parts.length ? { type: 'all', of: parts } : undefined
}

/** Whom a lens means, besides its days; undefined where that is everyone. */
export function lensCondition({ devices, where }: Pick<Lens, 'devices' | 'where'>): Condition | undefined {
  return together([
    devices.length ? { type: 'text', of: 'device', test: { is: 'one of', to: [...devices] } } : null,
    where,
  ])
}

/** One step of a path in words. */
export function placeName(part: PathPart): string {
  if (part === null) return 'any page'
  if (typeof part === 'string') return part
  const { kind, page, selector, name } = part
  if (kind === 'click') return `${elementName(undefined, selector ?? '')} on ${page}`
  return kind === 'action' ? `${name ?? 'an action'} on ${page}` : page || 'not known'
}

/** A path in words: "From Home: A, then B, and nothing further". */
function pathWords({ page, direction, parts, ended, from, walk }: PathSelection): string {
  const steps = parts.map(placeName)
  const start = walk?.start ? eventWords(walk.start) : from ? lower(describeSelection(from)) : page
  if (direction === 'back')
    return `Came to ${start ?? 'the end'} by ${steps.toReversed().join(', then ')}${ended ? ', where they began' : ''}`
  return `From ${start ?? 'where they began'}: ${steps.join(', then ')}${ended ? ', and nothing further' : ''}`
}

/** A selection in words. */
export function describeSelection(selection: Selection): string {
  switch (selection.type) {
    case 'funnel': {
      const name = stepName(selection.steps[selection.step]!)
      if (selection.side === 'reached') return `Reached “${name}”`
      if (selection.side === 'continued') return `Went on from “${name}”`
      const how = selection.leak ? `: ${leakText(selection.leak, selection.page ?? null)}` : ''
      return `Dropped off at “${name}”${how}`
    }
    case 'clicks': {
      const what = selection.selector ? ` on ${elementName(selection.text, selection.selector)}` : ''
      const kind = CLICK_WORDS[selection.which]
      return `${kind[0]!.toUpperCase()}${kind.slice(1)}${what}, ${selection.page}`
    }
    case 'signal':
      return `${selection.kind[0]!.toUpperCase()}${selection.kind.slice(1)} on ${elementName(selection.text, selection.selector)}, ${selection.page}`
    case 'page':
      return `Saw ${selection.page}`
    case 'path':
      return pathWords(selection)
    case 'loop':
      return selection.pages.length === 2
        ? `To and fro between ${selection.pages.join(' and ')}`
        : `Round and round: ${selection.pages.join(', then ')}`
    case 'pattern':
      return `Did in this order: ${selection.tokens.map(tokenWords).join(', then ')}`
    case 'everyone':
      return 'Everyone in the lens'
    case 'where':
      return `Sessions: ${conditionWords(selection.condition)}`
    case 'set':
      return 'Sessions of a set'
  }
}
