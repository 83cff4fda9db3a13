import { createHash } from 'node:crypto'
import { ALL_PAGES, renderPage } from '../site/pages.ts'
import { SITE_SCRIPT } from '../site/script.ts'

/** Changes whenever anything about the stand-in site changes that could move an element. */
export function fingerprint(): string {
  const hash = createHash('sha256').update(SITE_SCRIPT)
  for (const path of ALL_PAGES) hash.update(path).update(renderPage(path) ?? '')
  return hash.digest('hex')
}
