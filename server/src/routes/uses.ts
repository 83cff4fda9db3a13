import type { Mentions } from '@dust-trail/core'
import { mentions } from '@dust-trail/core'
import { ProblemError } from '../problem.ts'
import type { Models, SiteRow } from '../store/models.ts'

/** What would not be the same without a page group or an action, in words, by its name. */
export interface Uses {
  pages: Map<string, string[]>
  actions: Map<string, string[]>
}

/** Everything that a site has saved and that names page groups or actions: its goal, funnels, segments, fixes and marks. */
export async function usesIn(
  { funnels, paths, segments, fixes, trails, marks }: Models,
  site: Pick<SiteRow, 'id' | 'goal' | 'goals'>,
): Promise<Uses> {
  const where = { siteId: site.id }
  const uses: Uses = { pages: new Map(), actions: new Map() }
  const note = (words: string, saved: unknown) => {
    const found: Mentions = mentions(saved)
    for (const what of ['pages', 'actions'] as const)
      for (const name of found[what]) uses[what].set(name, [...(uses[what].get(name) ?? []), words])
  }
  note('the goal of the site', { page: site.goal })
  for (const { name, event } of site.goals) if (name !== site.goal) note(`goal “${name}”`, event)
  for (const row of await funnels.findAll({ where, order: ['id'] })) {
    const { name, steps, options } = row.get({ plain: true })
    note(`funnel “${name}”`, [steps, options])
  }
  for (const row of await paths.findAll({ where, order: ['id'] })) {
    const { name, asked } = row.get({ plain: true })
    note(`paths “${name}”`, asked)
  }
  for (const row of await segments.findAll({ where, order: ['id'] })) {
    const { name, cut } = row.get({ plain: true })
    note(`segment “${name}”`, cut)
  }
  for (const row of await fixes.findAll({ where, order: ['id'] })) {
    const { title, lens, selection } = row.get({ plain: true })
    note(`fix “${title}”`, [lens, selection])
  }
  const trailIds = (await trails.findAll({ where })).map((row) => row.get('id') as number)
  for (const row of await marks.findAll({ where: { trailId: trailIds }, order: ['id'] })) {
    const { view, question } = row.get({ plain: true })
    note(`mark “${view}”`, question)
  }
  return uses
}

/** @throws ProblemError 409 where something that is to go, or to be named otherwise, is used */
export function unused(name: string, uses: readonly string[] | undefined, hint: string): void {
  if (uses?.length) throw new ProblemError(409, 'in-use', `“${name}” is used by ${uses.join(', ')}.`, hint)
}
