/** Whether a document can be begun anew: not where the rebuilt page itself led its frame elsewhere. */
export function canBegin(page: Document): boolean {
  return page.defaultView !== null && typeof page.open === 'function'
}

const TYPES: Record<string, string> = {
  '': '<!doctype html>',
  limited:
    '<!doctype html public "-//W3C//DTD XHTML 1.0 Transitional//EN" "http://www.w3.org/TR/xhtml1/DTD/xhtml1-transitional.dtd">',
}
const modeOf = (page: Document) =>
  page.compatMode === 'BackCompat' ? 'quirks' : page.doctype?.publicId ? 'limited' : ''

/**
 * Empties a document and begins it in the way that it is to be laid out: as standards say, or as browsers did before
 * ("quirks"). What the document may not do is not changed by that.
 */
export function beginPage(page: Document, mode: string | undefined): void {
  if (modeOf(page) === (mode ?? '') || !page.defaultView) return
  const policy = page.head?.querySelector('meta[http-equiv="Content-Security-Policy"]')
  page.open()
  page.write(`${TYPES[mode ?? ''] ?? ''}<html><head></head><body></body></html>`)
  page.close()
  if (policy) page.head.prepend(policy)
}
