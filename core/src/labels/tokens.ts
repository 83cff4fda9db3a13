import { z } from 'zod'
import type { Block } from '../columns/block.ts'
import { numberAt } from '../columns/block.ts'
import { KIND_CODE } from '../columns/event-codes.ts'
import type { Kind } from '../events/line.ts'
import { KINDS } from '../events/line.ts'
import type { EventCondition } from './event-condition.ts'
import type { Names } from './names.ts'

/** How finely events are told apart. */
export const LEVELS = ['page', 'element', 'kind'] as const
export type Level = (typeof LEVELS)[number]

/** Something that happens, as it stands in a sequence: all events that are the same to whoever reads it. */
export const tokenSchema = z.object({
  kind: z.enum(KINDS),
  /** page group; "" where the level does not tell pages apart */
  page: z.string(),
  /** element, action, message or path; "" where the level does not tell them apart */
  what: z.string(),
})
export type Token = z.infer<typeof tokenSchema>

/** Kinds that nobody does, or that are too many and too small to be read one by one. */
const PASSIVE: readonly Kind[] = ['leave', 'scroll', 'seen', 'hide', 'show', 'out', 'rest']
const READ = KINDS.map((kind) => !PASSIVE.includes(kind))

/** Names the events of a block, each kind of thing by a number; which numbers mean what is the same for all blocks. */
export class Tokens {
  readonly list: Token[] = []
  readonly #known = new Map<string, number>()

  /** The number of a token. */
  of(token: Token): number {
    const key = `${token.kind}\n${token.page}\n${token.what}`
    let at = this.#known.get(key)
    if (at === undefined) this.#known.set(key, (at = this.list.push(token) - 1))
    return at
  }
}

/** Reads the events of a block as tokens; -1 where one is not read at this level. */
export function tokenReader(
  block: Block,
  level: Level,
  names: Names,
  tokens: Tokens,
): (event: number) => number {
  const { kind, page, target, name } = block.events
  const { groups, families, dictionaries } = names
  const cache = new Map<number, number>()
  return (i) => {
    const of = kind[i]!
    if (!READ[of]) return -1
    if (level === 'page' && of !== KIND_CODE.page) return -1
    const failing = of === KIND_CODE.request && (numberAt(block, i) >= 400 || numberAt(block, i) === 0)
    if (of === KIND_CODE.request && !failing) return -1
    const group = groups.groupOf[page[i]!]!
    const family = families.familyOf[target[i]!]!
    const fine = level === 'element' && of !== KIND_CODE.page
    const key = ((of * 65_536 + (level === 'kind' ? 0 : group)) * 1_048_576 + (fine ? family : 0)) * 16_384
    // Codes beyond what fits beside one another are told apart by their names instead.
    const small = group < 65_536 && family < 1_048_576 && name[i]! < 16_384
    const place = small ? key + (fine ? name[i]! : 0) : NaN
    const cached = cache.get(place)
    if (cached !== undefined) return cached
    const token = tokens.of({
      kind: KINDS[of]!,
      page: level === 'kind' ? '' : groups.names[group]!,
      what: fine ? families.names[family]! || dictionaries.name.values[name[i]!]! : '',
    })
    if (small) cache.set(place, token)
    return token
  }
}

/** The events that a token stands for, as a condition. */
export function tokenCondition({ kind, page, what }: Token): EventCondition {
  const onElement = ['click', 'input', 'submit', 'seen'].includes(kind)
  return {
    kinds: [kind],
    ...(page && { page: { is: 'equal', to: page } }),
    ...(what && { [onElement ? 'element' : 'name']: { is: 'equal', to: what } }),
    ...(kind === 'request' && { number: { is: 'at least', to: 400 } }),
  }
}
