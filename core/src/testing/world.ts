import type { z } from 'zod'
import fc from 'fast-check'
import type { Block } from '../columns/block.ts'
import { Dictionaries } from '../columns/dictionaries.ts'
import type { Selected } from '../columns/scan.ts'
import { answer } from '../columns/scan.ts'
import type { Line } from '../events/line.ts'
import type { SessionRow } from '../events/session-row.ts'
import { groupTargets } from '../labels/element-families.ts'
import type { Names } from '../labels/names.ts'
import { groupPages } from '../labels/page-groups.ts'
import type { Context, Question } from '../questions/question.ts'
import { buildBlock } from '../signals/blocks.ts'

/** Small random sessions over few pages, so that everything that can happen does. For tests only. */
export const PAGES = ['/a', '/b', '/c', '/d'] as const

const event = fc.oneof(
  { weight: 3, arbitrary: fc.record({ kind: fc.constant('page' as const), url: fc.constantFrom(...PAGES) }) },
  {
    weight: 1,
    arbitrary: fc.record({
      kind: fc.constant('click' as const),
      target: fc.constantFrom({ selector: '#x', tag: 'div' }, { selector: '#y', tag: 'button' }),
      effect: fc.constantFrom('none' as const, 'change' as const),
      x: fc.constant(5),
      y: fc.constant(5),
      rx: fc.constantFrom(0, 0.5, 1),
      ry: fc.constantFrom(0, 0.5, 1),
    }),
  },
  {
    weight: 1,
    arbitrary: fc.record({ kind: fc.constant('error' as const), message: fc.constant('broken') }),
  },
)

export const sessionLines: fc.Arbitrary<Line[]> = fc
  .tuple(fc.constantFrom(...PAGES), fc.array(fc.tuple(fc.nat(5000), event), { maxLength: 12 }))
  .map(([landing, rest]) => {
    let t = 0
    return [
      { visitor: 'v', t, kind: 'page', url: landing },
      ...rest.map(([gap, own]) => ({ visitor: 'v', t: (t += gap), ...own })),
    ]
  })

export const worlds: fc.Arbitrary<Line[][]> = fc.array(sessionLines, { maxLength: 12 })

export function rowsOf(sessions: readonly Line[][]): SessionRow[] {
  return sessions.map((lines, i) => ({
    id: i + 1,
    visitor: `v${i % 3}`,
    returning: i % 2 === 1,
    device: { class: i % 2 ? 'mobile' : 'desktop' },
    channel: i % 3 ? 'Direct' : 'Email',
    lines,
  }))
}

export function blockOf(
  sessions: readonly Line[][],
  dictionaries = new Dictionaries(),
): { block: Block; names: Names } {
  const block = buildBlock(rowsOf(sessions), dictionaries)
  return { block, names: namesOf(dictionaries) }
}

export function namesOf(dictionaries: Dictionaries): Names {
  return {
    dictionaries,
    groups: groupPages(dictionaries.page, []),
    families: groupTargets(dictionaries.target),
  }
}

/** What every question is told besides what it is asked, through a lens that shows everything. */
export function about(names: Names, more: Partial<Context> = {}): Context {
  const lens = { from: '1970-01-01', to: '2999-12-31', devices: [] }
  return { names, lens, timeZone: 'UTC', goal: '', ...more }
}

/** The answer of a question over blocks, asked as a client asks it: what is left out takes its default. */
export function answerTo<Asked extends z.ZodObject, Answer extends z.ZodType, Found, Needed, Result>(
  question: Question<Asked, Answer, Found, Needed, Result>,
  blocks: readonly Selected[],
  asked: z.input<Asked> & Partial<Needed>,
  context: Context,
): Result {
  const { shape } = question.asked
  // What is asked keeps its identity: blocks remember by it. Only what is left out is filled in.
  const filled = Object.fromEntries(
    Object.entries(shape).map(([key, schema]): [string, unknown] => {
      const given = (asked as Record<string, unknown>)[key]
      return [key, given === undefined ? (schema as z.ZodType).parse(undefined) : given]
    }),
  )
  const spec = { ...asked, ...filled, ...context } as unknown as Parameters<typeof question.scan>[2]
  return answer(question, blocks, spec)
}
