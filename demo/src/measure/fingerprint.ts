import { createHash } from 'node:crypto'
import { frame } from '../site/page.ts'
import { ALL_PAGES, pageFor } from '../site/pages.ts'
import { SITE_SCRIPT } from '../site/script.ts'
import { movesOf } from './moves.ts'

/** Changes whenever anything about the stand-in site changes that could move an element. */
export function fingerprint(): string {
  const hash = createHash('sha256').update(SITE_SCRIPT)
  for (const address of ALL_PAGES) {
    const { pathname, searchParams } = new URL(address, 'http://site')
    const party = searchParams.get('party') === 'map' ? 'map' : 'steps'
    const page = pageFor({ path: pathname, query: searchParams, party })
    hash
      .update(address)
      .update(frame(page, undefined))
      .update(JSON.stringify(movesOf(pathname)))
  }
  return hash.digest('hex')
}
