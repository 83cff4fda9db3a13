import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Dictionaries } from '../../columns/dictionaries.ts'
import { SessionSet } from '../../columns/session-set.ts'
import type { Line } from '../../events/line.ts'
import { about, answerTo, blockOf, PAGES, worlds } from '../../testing/world.ts'
import { cutsOf } from './cuts.ts'
import type { PathOptions } from './path-options.ts'
import { pathOptionsSchema } from './path-options.ts'
import { paths } from './paths.ts'
import type { PathColumns, PathNode } from './paths.ts'
import { pathNodes } from './paths.ts'

const options: fc.Arbitrary<PathOptions> = fc.record({
  of: fc.constantFrom('pages' as const, 'pages and clicks' as const),
  direction: fc.constantFrom('onward' as const, 'back' as const),
  // So deep that a path is a number of more than 32 bits, or no longer one number, too.
  depth: fc.oneof(fc.integer({ min: 1, max: 4 }), fc.constant(12), fc.constant(30)),
  fold: fc.boolean(),
  most: fc.constant(null),
})

/** page = null: everyone, from the first or the last page view of each session on */
const ask = (parts: Line[][][], page: string | null, rules: PathOptions) => {
  const dictionaries = new Dictionaries()
  const blocks = parts.map((part) => blockOf(part, dictionaries))
  const { names } = blocks[blocks.length - 1]!
  return answerTo(
    paths,
    blocks.map(({ block }) => ({ block, sessions: SessionSet.all(block.sessions.count) })),
    { options: rules, selection: page === null ? { type: 'everyone' } : { type: 'page', page } },
    about(names),
  )
}

/** The obvious way: each session's path as words, from its first view of the page. */
function obvious(lines: readonly Line[], page: string | null, rules: PathOptions): string[] | undefined {
  let on = ''
  const all = lines.map((line) => {
    if (line.url !== undefined) on = line.url
    const click = rules.of === 'pages and clicks' && line.kind === 'click'
    return {
      line,
      word: click ? `${on} ${line.target!.selector}` : on,
      counts: line.kind === 'page' || click,
    }
  })
  const onward = rules.direction === 'onward'
  const moment = all.findIndex(({ line }) => line.kind === 'page' && line.url === page)
  if (page !== null && moment < 0) return undefined
  const after = onward ? all.slice(moment + 1) : all.slice(0, moment).reverse()
  const rest = page !== null ? after : onward ? all : all.toReversed()
  const path: string[] = []
  let last = page === null ? '' : all[moment]!.word
  for (const { word, counts } of rest) {
    if (!counts || (rules.fold && word === last)) continue
    last = word
    path.push(word)
  }
  return path
}

const whole = (result: PathColumns) => ({ sessions: result.sessions, next: pathNodes(result) })

const word = (node: PathNode) => (node.kind === 'click' ? `${node.page} ${node.selector}` : node.page)

describe('paths', () => {
  it('counts at every place of the tree the sessions whose path begins so', () => {
    fc.assert(
      fc.property(worlds, fc.constantFrom(null, ...PAGES), options, (world, page, rules) => {
        const result = ask([world], page, rules)
        const paths = world.map((lines) => obvious(lines, page, rules)).filter((path) => path !== undefined)
        expect(result.sessions).toBe(paths.length)
        expect(result.ended).toBe(paths.filter((path) => path.length === 0).length)
        const visit = (nodes: PathNode[], prefix: string[]): number =>
          nodes.reduce((sum, node) => {
            const here = [...prefix, word(node)]
            const begins = paths.filter((path) => here.every((part, i) => path[i] === part))
            expect(node.sessions).toBe(begins.length)
            // Nothing further, at any depth: those that go on deeper than is looked have not ended.
            expect(node.ended).toBe(begins.filter((path) => path.length === here.length).length)
            const on = node.sessions - node.ended
            if (here.length < rules.depth) expect(visit(node.next, here)).toBe(on)
            else expect(node.next).toEqual([])
            return sum + node.sessions
          }, 0)
        expect(visit(pathNodes(result), []) + result.ended).toBe(paths.length)
      }),
      { numRuns: 600 },
    )
  })
  it('gives the same over two blocks as over one', () => {
    fc.assert(
      fc.property(worlds, worlds, fc.constantFrom(...PAGES), options, (a, b, page, rules) => {
        expect(whole(ask([a, b], page, rules))).toEqual(whole(ask([[...a, ...b]], page, rules)))
      }),
    )
  })
  it('lists the most walked places, each with the way to it, and counts them as the whole tree does', () => {
    const count = (nodes: PathNode[], into: number[] = []): number[] => {
      for (const { sessions, next } of nodes) {
        into.push(sessions)
        count(next, into)
      }
      return into
    }
    fc.assert(
      fc.property(
        worlds,
        fc.constantFrom(...PAGES),
        options,
        fc.integer({ min: 1, max: 6 }),
        (a, page, o, most) => {
          const all = count(pathNodes(ask([a], page, o))).sort((x, y) => y - x)
          const part = ask([a], page, { ...o, most })
          expect(part.places).toBe(all.length)
          expect(count(pathNodes(part)).sort((x, y) => y - x)).toEqual(
            all.filter((n) => n > (all[most] ?? 0)),
          )
        },
      ),
    )
  })
  it('gives the same over three threads as over one', () => {
    fc.assert(
      fc.property(worlds, worlds, worlds, fc.constantFrom(...PAGES), options, (a, b, c, page, rules) => {
        const dictionaries = new Dictionaries()
        const blocks = [a, b, c].map((part) => blockOf(part, dictionaries))
        const { names } = blocks[2]!
        const spec = { options: rules, selection: { type: 'page' as const, page }, ...about(names) }
        const partials = blocks.map(({ block }) => {
          const sessions = SessionSet.all(block.sessions.count)
          return structuredClone(paths.pack!(paths.scan(block, sessions, spec)))
        })
        const merged = partials.reduce((x, y) => paths.merge(x, y))
        expect(whole(paths.finish(merged, spec))).toEqual(whole(ask([[...a, ...b, ...c]], page, rules)))
      }),
    )
  })
  it('gives the same brought to an end in parts, however few or many paths there are', () => {
    const pageAlone = options.filter(({ of, depth }) => of === 'pages' && depth < 30)
    fc.assert(
      fc.property(
        fc.array(worlds, { minLength: 1, maxLength: 4 }),
        fc.constantFrom(...PAGES),
        pageAlone,
        fc.option(fc.integer({ min: 1, max: 5 })),
        (worldsOf, page, rules, most) => {
          const dictionaries = new Dictionaries()
          const blocks = worldsOf.map((part) => blockOf(part, dictionaries))
          const { names } = blocks.at(-1)!
          const options = { ...rules, most }
          const spec = { options, selection: { type: 'page' as const, page }, ...about(names) }
          const found = blocks.map(({ block }) =>
            paths.pack!(paths.scan(block, SessionSet.all(block.sessions.count), spec)),
          )
          const { cuts: _, split, finishPart, join } = paths.parts!
          const { rows, groups, depth } = found[0]!
          const cuts = cutsOf(rows![0]!, groups, depth, found.length)
          expect(cuts).toEqual(cuts.toSorted((a, b) => a - b))
          const parts = found.map((one) => split(one, cuts))
          const finished = found.map((__, k) =>
            finishPart(
              parts.map((own) => own[k]!).reduce((a, b) => paths.merge(a, b)),
              spec,
            ),
          )
          const merged = found.reduce((a, b) => paths.merge(a, b))
          expect(paths.finish(join(finished), spec)).toEqual(paths.finish(merged, spec))
        },
      ),
    )
  })
  it('sorts very many paths as few: 6,000 sessions over shuffled pages', () => {
    const pages = ['/a', '/b', '/c', '/d']
    const sessions = Array.from({ length: 6000 }, (_, s): Line[] =>
      ['/a', ...[1, 3, 7].map((n) => pages[(s * n + (s >> n)) % 4]!)].map((url, t) => ({
        visitor: 'v',
        t,
        kind: 'page',
        url,
      })),
    )
    const rules = { of: 'pages', direction: 'onward', depth: 3, fold: false, most: null } as const
    const counts = new Map<string, number>()
    for (const lines of sessions) {
      const path = lines.slice(1).map(({ url }) => url)
      for (let n = 1; n <= path.length; n++) {
        const key = path.slice(0, n).join('>')
        counts.set(key, (counts.get(key) ?? 0) + 1)
      }
    }
    const found = new Map<string, number>()
    const visit = (nodes: PathNode[], before: string) => {
      for (const { page, sessions: n, next } of nodes) {
        found.set(before + page, n)
        visit(next, `${before}${page}>`)
      }
    }
    visit(pathNodes(ask([sessions], '/a', rules)), '')
    expect(found).toEqual(counts)
  })
  it('has defaults and limits', () => {
    const defaults = { of: 'pages', direction: 'onward', depth: 5, fold: true, most: 2000 }
    expect(pathOptionsSchema.parse({})).toEqual(defaults)
    expect(pathOptionsSchema.safeParse({ depth: 99 }).success).toBe(false)
  })
})
