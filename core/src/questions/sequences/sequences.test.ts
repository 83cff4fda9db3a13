import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Dictionaries } from '../../columns/dictionaries.ts'
import { SessionSet } from '../../columns/session-set.ts'
import type { Line } from '../../events/line.ts'
import type { Level } from '../../labels/tokens.ts'
import { LEVELS, tokenReader, Tokens } from '../../labels/tokens.ts'
import { folded, patternCondition, patternSteps, tokenWords } from '../../select/patterns.ts'
import { rangesOf, rangeWords } from '../../select/ranges.ts'
import { sessionsWhere } from '../../select/sessions.ts'
import { about, answerTo, blockOf, PAGES, worlds } from '../../testing/world.ts'
import { contents } from '../contents/contents.ts'

/** What each line is at a level, in words; undefined where it is not read. */
function plain(lines: readonly Line[], level: Level): (string | undefined)[] {
  let page = ''
  return lines.map((line) => {
    if (line.url !== undefined) page = line.url
    if (level === 'page' && line.kind !== 'page') return undefined
    const what =
      level === 'element' && line.kind !== 'page' ? (line.target?.selector ?? line.message ?? '') : ''
    return [line.kind, level === 'kind' ? '' : page, what].join('|')
  })
}

describe('contents', () => {
  it('counts sessions and times of everything that happens, for the selected and the others', () => {
    fc.assert(
      fc.property(worlds, fc.constantFrom(...PAGES), fc.constantFrom(...LEVELS), (world, page, level) => {
        const { block, names } = blockOf(world)
        const selection = { type: 'page', page } as const
        const all = SessionSet.all(world.length)
        const result = answerTo(contents, [{ block, sessions: all }], { selection, level }, about(names))
        const own = world.map((lines) => plain(lines, level).filter((word) => word !== undefined))
        const isIn = world.map((lines) => lines.some(({ kind, url }) => kind === 'page' && url === page))
        expect(result.sessions).toBe(isIn.filter(Boolean).length)
        for (const row of result.contents) {
          const word = [row.kind, row.page, row.what].join('|')
          const holding = own.map((words) => words.includes(word))
          expect(row.selected.hits).toBe(holding.filter((held, s) => held && isIn[s]).length)
          expect(row.against.hits).toBe(holding.filter((held, s) => held && !isIn[s]).length)
          expect(row.events).toBe(
            own.flatMap((words, s) => (isIn[s] ? words.filter((w) => w === word) : [])).length,
          )
        }
        expect(new Set(result.contents.map((row) => [row.kind, row.page, row.what].join('|')))).toEqual(
          new Set(own.flat()),
        )
      }),
      { numRuns: 300 },
    )
  })
  it('gives the same over two blocks as over one', () => {
    fc.assert(
      fc.property(worlds, worlds, fc.constantFrom(...LEVELS), (a, b, level) => {
        const dictionaries = new Dictionaries()
        const ask = (parts: Line[][][]) => {
          const blocks = parts.map((part) => blockOf(part, dictionaries))
          return answerTo(
            contents,
            blocks.map(({ block }) => ({ block, sessions: SessionSet.all(block.sessions.count) })),
            { selection: { type: 'page', page: '/a' }, level },
            about(blocks[blocks.length - 1]!.names),
          )
        }
        expect(ask([a, b])).toEqual(ask([[...a, ...b]]))
      }),
      { numRuns: 100 },
    )
  })
})

describe('a stretch of a sequence', () => {
  it('as a condition picks the sessions that hold it, the one it was taken from among them', () => {
    fc.assert(
      fc.property(worlds, fc.nat(), fc.nat(), fc.constantFrom(...LEVELS), (world, at, long, level) => {
        if (!world.length) return
        const { block, names } = blockOf(world)
        const tokens = new Tokens()
        const read = tokenReader(block, level, names, tokens)
        const own = world.map((_, s) => {
          const found: number[] = []
          for (let i = block.sessions.firstEvent[s]!; i < block.sessions.firstEvent[s + 1]!; i++)
            if (read(i) >= 0) found.push(read(i))
          return found
        })
        const s = at % world.length
        const from = at % own[s]!.length
        const stretch = own[s]!.slice(from, from + 1 + (long % 3))
        const pattern = stretch.map((token) => tokens.list[token]!)
        const later = sessionsWhere(
          block,
          SessionSet.all(world.length),
          patternCondition(pattern, 'later'),
          names,
        )
        const obvious = own.flatMap((words, k) => {
          let next = 0
          for (const word of words) if (word === stretch[next]) next++
          return next === stretch.length ? [k] : []
        })
        expect([...later]).toEqual(obvious)
        expect(later.has(s)).toBe(true)
        expect(
          patternSteps(pattern).map((step) =>
            step.type === 'page' ? step.page : step.type === 'event' && step.name,
          ),
        ).toEqual(pattern.map(tokenWords))
      }),
      { numRuns: 300 },
    )
  })
  it('folds runs and nothing else', () => {
    expect(folded([1, 1, 2, 1, 1, 1])).toEqual([
      { token: 1, from: 0, count: 2 },
      { token: 2, from: 2, count: 1 },
      { token: 1, from: 3, count: 3 },
    ])
    expect(folded([])).toEqual([])
  })
})

describe('rangesOf', () => {
  it('holds every number once', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 0, max: 30 }), { minLength: 1 }),
        fc.integer({ min: -2, max: 40 }),
        (breaks, n) => {
          const holding = rangesOf(breaks, true).filter(
            ({ from, to }) => (from === null || n >= from) && (to === null || n <= to),
          )
          expect(holding).toHaveLength(1)
        },
      ),
    )
  })
  it('is said as people say it', () => {
    expect(rangesOf([5, 1, 2], true).map((range) => rangeWords(range, true))).toEqual([
      'none',
      '1',
      '2 to 4',
      '5 or more',
    ])
    expect(rangesOf([2.5], false).map((range) => rangeWords(range, false))).toEqual([
      'below 2.5',
      '2.5 or more',
    ])
    expect(rangesOf([], true)).toEqual([])
  })
})
