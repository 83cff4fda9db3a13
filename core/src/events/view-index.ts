import type { Block } from './columns.ts'

/**
 * The views of those pages that a test on page codes lets through, as positions in the block's views: one list a page,
 * each ascending. A question about few pages looks at their views alone.
 */
export function viewsOf({ pages, views }: Block, passes: (page: number) => boolean): Uint32Array[] {
  const lists: Uint32Array[] = []
  for (let k = 0; k < pages.count; k++)
    if (passes(pages.page[k]!)) lists.push(views.byPage.subarray(pages.first[k], pages.first[k + 1]))
  return lists
}
