import fc from 'fast-check'
import type { Block } from './events/columns.ts'
import type { SessionRow } from './events/loose.ts'
import { buildBlock } from './events/columns.ts'
import { Dictionaries } from './events/dictionaries.ts'
import type { Line } from './events/line.ts'
import type { Names } from './funnel/trace.ts'
import { groupTargets } from './labels/element-families.ts'
import { groupPages } from './labels/page-groups.ts'

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
