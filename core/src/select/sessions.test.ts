import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { SessionSet } from '../columns/session-set.ts'
import type { Line } from '../events/line.ts'
import type { EventCondition, NumberTest, TextTest } from '../labels/event-condition.ts'
import { signalsOfLines } from '../testing/signals-of-lines.ts'
import { blockOf, PAGES, rowsOf, worlds } from '../testing/world.ts'
import { eventMatcher } from './event-matcher.ts'
import type { Condition } from './grammar/conditions.ts'
import { conditionSchema } from './grammar/conditions.ts'
import { eventsToLookAt, eventsWhere } from './matching-events.ts'
import { matches, numberTester, textTester } from './predicates.ts'
import { sessionsWhere } from './sessions.ts'

/* The obvious way: straight over the lines, every chain of events tried. */

function passesText(value: string, test: TextTest): boolean {
  if (test.is === 'one of' || test.is === 'none of') return test.to.includes(value) === (test.is === 'one of')
  return textTester(test)(value)
}

const within = (n: number, test: NumberTest) => numberTester(test)(n)

/** Lines with the page on which each happened. */
type Seen = { line: Line; page: string; index: number; dead: boolean; rage: boolean }

function seen(lines: readonly Line[]): Seen[] {
  let page = ''
  const signals = signalsOfLines(lines)
  const part = (kind: string, i: number) => signals.some((s) => s.kind === kind && s.lines.includes(i))
  return lines.map((line, index) => {
    if (line.url !== undefined) page = line.url
    return { line, page, index, dead: part('dead click', index), rage: part('rage click', index) }
  })
}

function plainEvent({ line, page, dead, rage }: Seen, condition: EventCondition): boolean {
  const again = (one: EventCondition) => plainEvent({ line, page, index: 0, dead, rage }, one)
  return (
    (!condition.kinds || condition.kinds.includes(line.kind)) &&
    (!condition.page || passesText(page, condition.page)) &&
    (!condition.path || passesText(page, condition.path)) &&
    (!condition.element || passesText(line.target?.selector ?? '', condition.element)) &&
    (!condition.name || passesText(line.message ?? '', condition.name)) &&
    (!condition.effect || line.effect === condition.effect) &&
    (!condition.friction || (condition.friction === 'dead' ? dead : rage)) &&
    (!condition.all || condition.all.every(again)) &&
    (!condition.any || condition.any.some(again)) &&
    (!condition.not || !again(condition.not))
  )
}

function plainSequence(all: Seen[], condition: Extract<Condition, { type: 'sequence' }>): boolean {
  const { steps, anchor } = condition
  const about = all.filter((one) =>
    steps.some(
      ({ event, without }) => plainEvent(one, event) || (without !== undefined && plainEvent(one, without)),
    ),
  )
  const t = (position: number) => about[position]!.line.t
  const chains = (chain: number[]): boolean => {
    const k = chain.length
    if (k === steps.length) {
      const [first, last] = [chain[0]!, chain[k - 1]!]
      return (
        (condition.withinMs === undefined || t(last) - t(first) <= condition.withinMs) &&
        (anchor === 'anywhere' || anchor === 'ends with' || first === 0) &&
        (anchor === 'anywhere' || anchor === 'starts with' || last === about.length - 1) &&
        (anchor !== 'only' || about.length === k)
      )
    }
    const step = steps[k]!
    const before = chain[k - 1]
    return about.some((one, position) => {
      if (!plainEvent(one, step.event)) return false
      if (before !== undefined) {
        if (position <= before) return false
        if (step.how === 'directly' && position !== before + 1) return false
        if (step.withinMs !== undefined && t(position) - t(before) > step.withinMs) return false
        const { without } = step
        if (without && about.slice(before + 1, position).some((between) => plainEvent(between, without)))
          return false
      }
      return chains([...chain, position])
    })
  }
  return chains([])
}

function plain(lines: Line[], s: number, condition: Condition): boolean {
  const all = seen(lines)
  const row = rowsOf([...Array<Line[]>(s).fill([]), lines])[s]!
  const views = all.filter(({ line }) => line.kind === 'page')
  const counted = (count: number, test?: NumberTest) => (test ? within(count, test) : count > 0)
  switch (condition.type) {
    case 'all':
      return condition.of.every((part) => plain(lines, s, part))
    case 'any':
      return condition.of.some((part) => plain(lines, s, part))
    case 'not':
      return !plain(lines, s, condition.of)
    case 'visit':
      return row.returning === (condition.is === 'returning')
    case 'text': {
      const values: Record<string, string> = {
        device: row.device.class ?? '',
        channel: row.channel,
        visitor: row.visitor,
        'entry page': views[0]?.page ?? '',
        'exit page': views[views.length - 1]?.page ?? '',
      }
      return passesText(values[condition.of] ?? '', condition.test)
    }
    case 'number': {
      const values: Record<string, number> = {
        duration: lines[lines.length - 1]!.t - lines[0]!.t,
        pages: views.length,
        clicks: lines.filter(({ kind }) => kind === 'click').length,
        events: lines.length,
        signals: signalsOfLines(lines).length,
        value: 0,
        width: NaN,
        height: NaN,
      }
      return within(values[condition.of]!, condition.test)
    }
    case 'selected': {
      const { selection } = condition
      if (selection.type === 'where') return plain(lines, s, selection.condition)
      return selection.type === 'page' && views.some(({ page }) => page === selection.page)
    }
    case 'event':
      return counted(all.filter((one) => plainEvent(one, condition.event)).length, condition.count)
    case 'signal':
      return counted(
        signalsOfLines(lines).filter(
          ({ kind, first }) =>
            (condition.kind === undefined || kind === condition.kind) &&
            (!condition.page || passesText(all[first]!.page, condition.page)),
        ).length,
        condition.count,
      )
    case 'sequence':
      return plainSequence(all, condition)
  }
}

/* Random conditions over the small world's pages, elements and counts. */

const pageTest = fc.oneof(
  fc.record({ is: fc.constant('equal' as const), to: fc.constantFrom('/a', '/b', '/c') }),
  fc.record({ is: fc.constant('none of' as const), to: fc.constant(['/a', '/d']) }),
  fc.record({ is: fc.constant('matching' as const), to: fc.constantFrom('/*', '/?', '*b', '') }),
) as fc.Arbitrary<TextTest>
const countTest: fc.Arbitrary<NumberTest> = fc.oneof(
  fc.record({ is: fc.constant('at least' as const), to: fc.nat(4) }),
  fc.record({ is: fc.constant('equal' as const), to: fc.nat(3) }),
  fc.record({ is: fc.constant('between' as const), from: fc.nat(2), to: fc.constant(3) }),
)
const optional = <T>(of: fc.Arbitrary<T>) => fc.option(of, { nil: undefined })
const event: fc.Arbitrary<EventCondition> = fc.letrec<{ event: EventCondition }>((tie) => ({
  event: fc.oneof(
    { maxDepth: 2, withCrossShrink: true },
    fc.record({
      kinds: optional(fc.constantFrom<Line['kind'][]>(['page'], ['click'], ['page', 'error'])),
      page: optional(pageTest),
    }),
    fc.record({
      kinds: fc.constant<Line['kind'][]>(['click']),
      friction: fc.constantFrom('dead' as const, 'rage' as const),
    }),
    fc.record({
      element: fc.constantFrom<TextTest>({ is: 'equal', to: '#x' }, { is: 'known' }),
      effect: optional(fc.constant('none' as const)),
    }),
    fc.record({ any: fc.array(tie('event'), { minLength: 1, maxLength: 2 }) }),
    fc.record({ not: tie('event') }),
  ),
})).event
/** What the index narrows down by several of its parts at once, and alternatives of it. */
const narrow: fc.Arbitrary<EventCondition> = fc.letrec<{ narrow: EventCondition }>((tie) => ({
  narrow: fc.oneof(
    { maxDepth: 2 },
    fc.record({
      kinds: fc.constantFrom<Line['kind'][]>(['page'], ['error', 'click'], ['click'], ['page', 'click']),
      page: optional(pageTest),
      path: optional(pageTest),
      element: optional(
        fc.constantFrom<TextTest>(
          { is: 'equal', to: '#x' },
          { is: 'not equal', to: '#x' },
          { is: 'one of', to: ['#x', '#y'] },
        ),
      ),
    }),
    fc.record({ action: fc.constantFrom('named', 'unknown') }),
    fc.record({ any: fc.array(tie('narrow'), { minLength: 1, maxLength: 3 }) }),
    fc.record({ all: fc.array(tie('narrow'), { minLength: 1, maxLength: 3 }), page: optional(pageTest) }),
  ),
})).narrow
const sequence: fc.Arbitrary<Condition> = fc.record({
  type: fc.constant('sequence' as const),
  steps: fc.array(
    fc.record({
      event,
      how: fc.constantFrom('later' as const, 'directly' as const),
      withinMs: optional(fc.nat(6000)),
      without: optional(event),
    }),
    { minLength: 1, maxLength: 3 },
  ),
  anchor: fc.constantFrom('anywhere' as const, 'starts with' as const, 'ends with' as const, 'only' as const),
  withinMs: optional(fc.nat(9000)),
})
const condition: fc.Arbitrary<Condition> = fc.letrec<{ condition: Condition }>((tie) => ({
  condition: fc.oneof(
    { maxDepth: 3 },
    fc.record({
      type: fc.constant('text' as const),
      of: fc.constantFrom('entry page' as const, 'exit page' as const),
      test: pageTest,
    }),
    fc.record({
      type: fc.constant('text' as const),
      of: fc.constantFrom('device' as const, 'channel' as const, 'visitor' as const, 'browser' as const),
      test: fc.constantFrom<TextTest>(
        { is: 'one of', to: ['mobile', 'Email', 'v1'] },
        { is: 'one of', to: ['', 'nobody'] },
        { is: 'equal', to: 'v1' },
        { is: 'none of', to: ['v1', 'v2'] },
        { is: 'not known' },
        { is: 'not containing', to: 'e' },
      ),
    }),
    fc.record({
      type: fc.constant('number' as const),
      of: fc.constantFrom(
        'duration' as const,
        'pages' as const,
        'events' as const,
        'signals' as const,
        'width' as const,
      ),
      test: countTest,
    }),
    fc.record({
      type: fc.constant('visit' as const),
      is: fc.constantFrom('first' as const, 'returning' as const),
    }),
    fc.record({ type: fc.constant('event' as const), event, count: optional(countTest) }),
    fc.record({
      type: fc.constant('signal' as const),
      kind: optional(fc.constantFrom('dead click' as const, 'script error' as const)),
      page: optional(pageTest),
      count: optional(countTest),
    }),
    sequence,
    fc.record({ type: fc.constant('all' as const), of: fc.array(tie('condition'), { maxLength: 3 }) }),
    fc.record({
      type: fc.constant('any' as const),
      of: fc.array(tie('condition'), { minLength: 1, maxLength: 3 }),
    }),
    fc.record({ type: fc.constant('not' as const), of: tie('condition') }),
    fc.record({
      type: fc.constant('selected' as const),
      selection: fc.oneof(
        fc.record({ type: fc.constant('page' as const), page: fc.constantFrom(...PAGES) }),
        fc.record({ type: fc.constant('where' as const), condition: tie('condition') }),
      ),
    }),
  ),
})).condition

describe('sessionsWhere', () => {
  it('equals the obvious way, for any condition and any sessions', () => {
    fc.assert(
      fc.property(worlds, condition, (world, asked) => {
        const { block, names } = blockOf(world)
        const found = sessionsWhere(block, SessionSet.all(world.length), asked, names)
        expect([...found]).toEqual(world.flatMap((lines, s) => (plain(lines, s, asked) ? [s] : [])))
      }),
      { numRuns: 2000 },
    )
  })
  it('finds sequences as the obvious way does', () => {
    fc.assert(
      fc.property(worlds, sequence, (world, asked) => {
        const { block, names } = blockOf(world)
        const found = sessionsWhere(block, SessionSet.all(world.length), asked, names)
        expect([...found]).toEqual(world.flatMap((lines, s) => (plain(lines, s, asked) ? [s] : [])))
      }),
      { numRuns: 2000 },
    )
  })
  it('only ever narrows what it is given', () => {
    fc.assert(
      fc.property(worlds, condition, fc.array(fc.nat(11)), (world, asked, some) => {
        const { block, names } = blockOf(world)
        const among = SessionSet.where(world.length, (s) => some.includes(s))
        const all = sessionsWhere(block, SessionSet.all(world.length), asked, names)
        expect([...sessionsWhere(block, among, asked, names)]).toEqual([...all.and(among)])
      }),
    )
  })

  const view = (t: number, url: string, more: Partial<Line> = {}): Line => ({
    visitor: 'v',
    t,
    kind: 'page',
    url,
    ...more,
  })
  const pick = (sessions: Line[][], asked: Condition) => {
    const { block, names } = blockOf(sessions)
    return [...sessionsWhere(block, SessionSet.all(sessions.length), asked, names)]
  }
  it('asks properties, search results, values, variants and load times', () => {
    const sessions: Line[][] = [
      [
        view(0, '/search', { results: 0, load: 900 }),
        { visitor: 'v', t: 5, kind: 'variant', experiment: 'party step', variant: 'map' },
      ],
      [view(0, '/search', { results: 3, props: { plan: 'yearly', paid: true } })],
      [view(0, '/'), { visitor: 'v', t: 9, kind: 'action', name: 'order', value: 68.5 }],
    ]
    const has = (condition: EventCondition): Condition => ({ type: 'event', event: condition })
    expect(pick(sessions, has({ prop: { key: 'results', number: { is: 'equal', to: 0 } } }))).toEqual([0])
    expect(pick(sessions, has({ prop: { key: 'plan', text: { is: 'equal', to: 'yearly' } } }))).toEqual([1])
    expect(pick(sessions, has({ prop: { key: 'paid', number: { is: 'equal', to: 1 } } }))).toEqual([1])
    expect(pick(sessions, has({ prop: { key: 'nothing' } }))).toEqual([])
    expect(
      pick(sessions, has({ name: { is: 'equal', to: 'party step' }, text: { is: 'equal', to: 'map' } })),
    ).toEqual([0])
    expect(pick(sessions, has({ kinds: ['page'], amount: { is: 'more than', to: 800 } }))).toEqual([0])
    expect(
      pick(sessions, { type: 'number', of: 'value', test: { is: 'between', from: 68, to: 69 } }),
    ).toEqual([2])
  })
})

describe('matches', () => {
  /** The obvious way, as a regular expression over short texts. */
  const obvious = (value: string, pattern: string) =>
    new RegExp(
      `^${[...pattern].map((c) => (c === '*' ? '[^]*' : c === '?' ? '[^]' : c.replace(/[\\^$.+()[\]{}|]/, String.raw`\$&`))).join('')}$`,
    ).test(value)
  it('equals the obvious way', () => {
    const letters = (from: string) => fc.string({ unit: fc.constantFrom(...from), maxLength: 7 })
    fc.assert(
      fc.property(letters('ab*.'), letters('ab*?.'), (value, pattern) => {
        expect(matches(value, pattern)).toBe(obvious(value, pattern))
      }),
      { numRuns: 3000 },
    )
  })
  it('takes no longer for what would make a regular expression run for ever', () => {
    const start = performance.now()
    expect(matches('a'.repeat(2000), `${'*a'.repeat(30)}b`)).toBe(false)
    expect(performance.now() - start).toBeLessThan(1000)
  })
})

describe('conditionSchema', () => {
  it('takes what is well formed and gives it back', () => {
    fc.assert(
      fc.property(condition, (asked) => {
        const json = JSON.parse(JSON.stringify(asked)) as unknown
        const read = conditionSchema.safeParse(json)
        // A pattern must not be empty: the only thing wrong that the generator makes.
        if (JSON.stringify(json).includes('"to":""')) expect(read.success).toBe(false)
        else expect(JSON.parse(JSON.stringify(read.data))).toEqual(json)
      }),
    )
  })
  it.each<[string, unknown]>([
    ['a sequence of nothing', { type: 'sequence', steps: [] }],
    ['a range upside down', { type: 'number', of: 'pages', test: { is: 'between', from: 3, to: 1 } }],
    ['an attribute that there is not', { type: 'text', of: 'shoe size', test: { is: 'known' } }],
    ['an unknown field of an event', { type: 'event', event: { colour: 'red' } }],
    ['no alternative', { type: 'any', of: [] }],
  ])('refuses %s', (_, asked) => {
    expect(conditionSchema.safeParse(asked).success).toBe(false)
  })
  it('refuses groups nested without end', () => {
    let deep: unknown = { type: 'visit', is: 'first' }
    for (let i = 0; i < 40; i++) deep = { type: 'not', of: deep }
    expect(conditionSchema.safeParse(deep).success).toBe(false)
  })
})

describe('sample', () => {
  it('keeps about the share asked for, the same sessions every time, and more of them for a larger share', () => {
    const all = SessionSet.all(20_000)
    const part = all.sample(0.2, (s) => s * 7 + 1)
    expect(part.count() / 20_000).toBeCloseTo(0.2, 1)
    expect([...part]).toEqual([...all.sample(0.2, (s) => s * 7 + 1)])
    expect(part.without(all.sample(0.3, (s) => s * 7 + 1)).count()).toBe(0)
    expect(all.sample(0, (s) => s).count()).toBe(0)
    expect(all.sample(1, (s) => s).count()).toBe(20_000)
  })
})

describe('eventsWhere', () => {
  it('finds by the index what a test of every event finds', () => {
    fc.assert(
      fc.property(worlds, fc.oneof(event, narrow), (world, condition) => {
        const { block, names } = blockOf(world)
        const actions = new Map([
          ['named', { kinds: ['click' as const], element: { is: 'equal', to: '#x' } }],
        ])
        const known = { ...names, actions } as typeof names
        const test = eventMatcher(block, condition, known)
        const wanted = Array.from(block.events.kind, (_, i) => i).filter(test)
        const lists = eventsWhere(block, condition, known)
        const events = lists.map(({ event: own, session, ranges, ascending }) =>
          ranges.flatMap((from, r) => {
            if (r % 2) return []
            for (let i = from; i < ranges[r + 1]!; i++) {
              const s = session[i]!
              expect(own[i]).toBeGreaterThanOrEqual(block.sessions.firstEvent[s]!)
              expect(own[i]).toBeLessThan(block.sessions.firstEvent[s + 1]!)
            }
            const range = [...own.subarray(from, ranges[r + 1])]
            if (ascending) expect(range).toEqual([...range].sort((a, b) => a - b))
            return range
          }),
        )
        expect([...new Set(events.flat())].sort((a, b) => a - b)).toEqual(wanted)
        for (const list of events) expect(new Set(list).size).toBe(list.length)
        expect(eventsToLookAt(block, condition, known)).toBeGreaterThanOrEqual(wanted.length)
      }),
      { numRuns: 600 },
    )
  })
  it('loses no part of conditions within conditions, however they are joined', () => {
    const { block, names } = blockOf([[{ visitor: 'v', t: 0, kind: 'page', url: '/a' }]])
    const kinds = ['page' as const]
    const condition: EventCondition = {
      all: [
        { kinds },
        { kinds },
        {
          page: { is: 'matching', to: '/*' },
          all: [{ page: { is: 'equal', to: '/a' }, element: { is: 'equal', to: '#x' } }],
        },
      ],
    }
    expect(eventsWhere(block, condition, names).flatMap(({ ranges }) => ranges)).toEqual([])
  })
})
