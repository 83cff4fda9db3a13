import type { SentLine } from '@dust-trail/core'

/** What a page tells about itself: `(window.dustTrail ??= []).push({ kind: 'action', name: 'order', value: 68 })`. */
export type Report = { kind: 'page'; results?: number } | (Omit<SentLine, 't'> & { kind: ReportedKind })
type ReportedKind = 'action' | 'signal' | 'variant' | 'answer'

const NEEDED: Record<ReportedKind | 'page', readonly string[]> = {
  action: ['name'],
  signal: ['name'],
  variant: ['experiment', 'variant'],
  answer: ['question'],
  page: ['results'],
}
const TEXTS = ['name', 'experiment', 'variant', 'question', 'text']

/**
 * Takes the reports that wait, and all that come from now on. What is no report is dropped without disturbing the page.
 *
 * @param consent  the visitor has allowed, or no longer allows, to be watched: `push({ kind: 'consent', allowed: true })`
 */
export function listen(take: (report: Report) => void, consent: (allowed: boolean) => void): void {
  const hear = (raw: unknown) => {
    try {
      const { kind, allowed } = raw as { kind: string; allowed?: boolean }
      if (kind === 'consent') {
        consent(allowed === true)
        return
      }
      const report = cleaned(raw as Record<string, unknown>)
      if (report) take(report)
    } catch {
      // The page's own business.
    }
  }
  const host = window as { dustTrail?: unknown }
  const waiting: unknown[] = Array.isArray(host.dustTrail) ? host.dustTrail : []
  host.dustTrail = { push: (...reports: unknown[]) => reports.forEach(hear) }
  waiting.forEach(hear)
}

/** Only what the format has room for: a wrong value costs that value, not the batch it would travel in. */
function cleaned(raw: Record<string, unknown>): Report | undefined {
  const kind = raw['kind'] as ReportedKind | 'page'
  const report: Record<string, unknown> = { kind }
  for (const field of TEXTS) if (typeof raw[field] === 'string' && raw[field]) report[field] = raw[field]
  for (const field of ['value', 'score']) if (Number.isFinite(raw[field])) report[field] = raw[field]
  if (Number.isInteger(raw['results']) && Number(raw['results']) >= 0) report['results'] = raw['results']
  if (/^[A-Z]{3}$/.test(String(raw['currency']))) report['currency'] = raw['currency']
  const props = Object.entries(raw['props'] ?? {}).filter(([, value]) =>
    /^(string|number|boolean)$/.test(typeof value),
  )
  if (props.length) report['props'] = Object.fromEntries(props)
  return NEEDED[kind]?.every((field) => field in report) ? (report as Report) : undefined
}
