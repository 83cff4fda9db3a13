import { BlockCache } from '../columns/block-cache.ts'
import type { Block } from '../columns/block.ts'
import { KIND_CODE } from '../columns/event-codes.ts'
import { SESSION_CLASSES } from '../events/traffic.ts'
import { fromParts, toParts } from '../labels/money.ts'
import type { Names } from '../labels/names.ts'
import { STRAIN_WEIGHTS } from '../labels/strain-weights.ts'
import { sessionStrain } from '../signals/strain.ts'
import { amountReader } from './amounts.ts'
import type { SessionNumber, SessionText } from './grammar/attributes.ts'

export interface TextColumn {
  codes: (session: number) => number
  /** the codes as a column, where the block has them as one */
  column?: ArrayLike<number>
}

/** A text attribute of sessions as codes into its values (see textValues); code 0 is "not known". */
export function textColumn(block: Block, of: SessionText, names: Names): TextColumn {
  const { sessions } = block
  const coded = (column: ArrayLike<number>): TextColumn => ({ codes: (s) => column[s]!, column })
  const { groupOf } = names.groups
  switch (of) {
    case 'device':
      return coded(sessions.device)
    case 'browser':
      return coded(sessions.browser)
    case 'system':
      return coded(sessions.os)
    case 'country':
      return coded(sessions.country)
    case 'channel':
      return coded(sessions.channel)
    case 'source':
      return coded(sessions.source)
    case 'campaign':
      return coded(sessions.campaign)
    case 'visitor':
      return coded(sessions.visitor)
    case 'entry page':
      return { codes: (s) => groupOf[edgePage(block, s, 1)]! }
    case 'exit page':
      return { codes: (s) => groupOf[edgePage(block, s, -1)]! }
  }
}

const DEVICE_VALUES: readonly string[] = ['', ...SESSION_CLASSES]

/** What the codes of a text attribute mean. */
export function textValues(of: SessionText, { dictionaries, groups }: Names): readonly string[] {
  switch (of) {
    case 'device':
      return DEVICE_VALUES
    case 'system':
      return dictionaries.os.values
    case 'entry page':
    case 'exit page':
      return groups.names
    default:
      return dictionaries[of].values
  }
}

/** Page code of a session's first or last page view; 0 where it has none. */
function edgePage({ sessions, views }: Block, s: number, step: 1 | -1): number {
  const from = sessions.firstView[s]!
  const to = sessions.firstView[s + 1]!
  return from === to ? 0 : views.page[step === 1 ? from : to - 1]!
}

/** The numbers of so many attributes are kept with a block: eight bytes a session each. */
const numberCache = new BlockCache<Float64Array>(3)

/** A number of every session, cached with the block, since some numbers take a pass over all its events. */
export function sessionNumbers(block: Block, of: SessionNumber, names: Names): Float64Array {
  // Rates of currencies and weights belong to the names; other numbers depend on the block alone.
  return numberCache.remember(block, of, of === 'value' || of === 'strain' ? names : undefined, () => {
    const number = sessionNumber(block, of, names)
    const numbers = new Float64Array(block.sessions.count)
    for (let s = 0; s < numbers.length; s++) numbers[s] = number(s)
    return numbers
  })
}

/** A number that a session has; durations in milliseconds, value in the site's currency. */
export function sessionNumber(block: Block, of: SessionNumber, names: Names): (session: number) => number {
  const { sessions, events } = block
  const countKind = (kind: number) => (s: number) => {
    let count = 0
    for (let i = sessions.firstEvent[s]!; i < sessions.firstEvent[s + 1]!; i++)
      if (events.kind[i] === kind) count++
    return count
  }
  switch (of) {
    case 'duration':
      return (s) => sessions.endMs[s]! - sessions.startMs[s]!
    case 'pages':
      return (s) => sessions.firstView[s + 1]! - sessions.firstView[s]!
    case 'clicks':
      return countKind(KIND_CODE.click)
    case 'events':
      return (s) => sessions.firstEvent[s + 1]! - sessions.firstEvent[s]!
    case 'signals':
      return (s) => sessions.firstSignal[s + 1]! - sessions.firstSignal[s]!
    case 'strain':
      return sessionStrain(block, names.strain ?? STRAIN_WEIGHTS)
    case 'value': {
      const amount = amountReader(block, names)
      return (s) => {
        let parts = 0
        for (let i = sessions.firstEvent[s]!; i < sessions.firstEvent[s + 1]!; i++)
          if (events.kind[i] === KIND_CODE.action) parts += toParts(amount(i)) || 0
        return fromParts(parts)
      }
    }
    case 'width':
      return (s) => sessions.width[s]! || NaN
    case 'height':
      return (s) => sessions.height[s]! || NaN
  }
}
