/** What a saved question, step or condition names, and would not be the same without. */
export interface Mentions {
  /** page groups */
  pages: Set<string>
  actions: Set<string>
}

/** Finds the page groups and actions that anything made of the schemas of questions names, however deep. */
export function mentions(
  value: unknown,
  into: Mentions = { pages: new Set(), actions: new Set() },
): Mentions {
  if (typeof value !== 'object' || value === null) return into
  if (Array.isArray(value)) {
    for (const one of value) mentions(one, into)
    return into
  }
  const { page, action, type, of, test, ...others } = value as Record<string, unknown>
  for (const name of namesIn(page)) into.pages.add(name)
  // The pages of a path or a loop, one after the other.
  if (type === 'path' && Array.isArray(others['parts']))
    for (const part of others['parts']) if (typeof part === 'string') into.pages.add(part)
  if (type === 'loop') for (const name of namesIn({ to: others['pages'] })) into.pages.add(name)
  if (typeof action === 'string') into.actions.add(action)
  if (type === 'text' && (of === 'entry page' || of === 'exit page'))
    for (const name of namesIn(test)) into.pages.add(name)
  else mentions(test, into)
  for (const one of [of, ...Object.values(others)]) mentions(one, into)
  return into
}

/** A name, or what a text test holds a name against, word for word. */
function namesIn(value: unknown): string[] {
  if (typeof value === 'string') return [value]
  if (typeof value !== 'object' || value === null) return []
  const { is, to } = value as { is?: unknown; to?: unknown }
  if (is === 'equal' || is === 'not equal') return typeof to === 'string' ? [to] : []
  return Array.isArray(to) ? to.filter((one) => typeof one === 'string') : []
}
