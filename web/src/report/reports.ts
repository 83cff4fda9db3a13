import type { Fix, Mark, ShownTable, Site, Trail } from '@dust-trail/api'
import type { Candidate, Lens, PriceAnswer } from '@dust-trail/core'
import { goalName } from '../app/lens.ts'
import { count, day, decimal, moment } from '../ui/format.ts'
import { describeSelection } from '../words/sentences.ts'
import type { Cell } from '../trail/kept-table.ts'
import { cellText } from '../trail/kept-table.ts'
import { groupsOf } from '../trail/use-mark-order.ts'
import type { Evidence } from './evidence.ts'
import type { Entry, Grid, Report } from './report.ts'

/** What the numbers of every report mean. */
const DEFINITIONS: Report['definitions'] = [
  ['session', 'one visit, until half an hour without activity'],
  ['met it', 'sessions in which it happened, of those in which it could have'],
  ['then, now', 'the same count on the day it was written down, and when this report was made'],
  [
    'lost in 30 days',
    'conversions that would have been made without the problem, with the 95 % interval: those who met it are compared with people who were at the same point and did not',
  ],
]

const madeOn = (site: Site) => `made ${moment(Date.now(), site.timeZone)}`
const seen = (address: string) => `${location.origin}${address}`

/** A case: its marks in order, then and now, with their evidence where it is known. */
export function trailReport(
  site: Site,
  trail: Trail,
  evidence: ReadonlyMap<number, Evidence> = new Map(),
): Report {
  return {
    title: trail.name,
    about: `${site.name}, ${madeOn(site)}`,
    entries: groupsOf(trail.marks)
      .flatMap(({ marks }) => marks)
      .map((mark) => withEvidence(markEntry(site, mark), evidence.get(mark.id))),
    definitions: [...DEFINITIONS],
  }
}

function withEvidence(entry: Entry, evidence: Evidence | undefined): Entry {
  if (!evidence) return entry
  return { ...entry, details: evidence.details, links: [...entry.links, ...evidence.links] }
}

function markEntry(site: Site, mark: Mark): Entry {
  const { view, sentence, then, now, dead, address, createdMs, heading, shows, picture } = mark
  return {
    title: sentence || view,
    group: heading,
    words: [
      view,
      `Kept ${moment(createdMs, site.timeZone)}.`,
      ...(dead ? [`It finds nothing any more. ${dead}`] : []),
    ],
    figures: [
      { label: 'then', ...then },
      { label: 'now', ...now },
    ],
    grid: picture?.form === 'table' && shows.form === 'table' ? gridOf(site, shows, picture.rows) : undefined,
    trend:
      picture?.form === 'trend'
        ? {
            parts: picture.parts.map(({ from, to, rate }) => ({
              label: from === to ? day(from) : `${day(from)} – ${day(to)}`,
              ...rate,
            })),
          }
        : undefined,
    links: [{ label: 'The view', address: seen(address) }],
    values: {},
  }
}

function gridOf(site: Site, { title, columns }: ShownTable, rows: Cell[][]): Grid {
  return {
    title: `${title}, as it was then`,
    heads: columns.map(({ head }) => head),
    rows: rows.map((row) => columns.map(({ as }, k) => cellText(row[k] ?? null, as, site.timeZone))),
  }
}

/** The fixes in the order of their price, with why, what and how sure. */
export function fixesReport(
  site: Site,
  lens: Lens,
  fixes: readonly { fix: Fix; price: PriceAnswer; live: Candidate | undefined }[],
  evidence: ReadonlyMap<number, Evidence> = new Map(),
): Report {
  const sorted = [...fixes].sort((a, b) => (b.live?.price.value ?? 0) - (a.live?.price.value ?? 0))
  return {
    title: `What to repair first: ${site.name}`,
    about: `${day(lens.from)} – ${day(lens.to)}; goal: ${goalName(site) || 'none'}; ${madeOn(site)}`,
    entries: sorted.map(({ fix, price, live }) =>
      withEvidence(fixEntry(site, fix, price, live), evidence.get(fix.id)),
    ),
    definitions: [...DEFINITIONS],
  }
}

function fixEntry(site: Site, fix: Fix, price: PriceAnswer, live: Candidate | undefined): Entry {
  const { hypothesis, belief, change, expectation } = fix
  const cost = live?.price ?? fix.priced ?? undefined
  return {
    title: fix.title,
    words: [
      `Because we saw: ${hypothesis}`,
      ...(belief ? [`We believe: ${belief}`] : []),
      ...(change ? [`So we change: ${change}`] : []),
      ...(expectation ? [`And expect: ${expectation}`] : []),
      `Where: ${describeSelection(fix.selection)}`,
      ...(live ? [`Compared: ${live.compared}.`] : []),
    ],
    figures: [{ label: 'met it', hits: price.met.base, base: price.met.base + price.others.base }],
    links: [
      { label: 'The fix', address: seen(`/fixes/${fix.id}?site=${site.key}`) },
      ...(fix.sessionId
        ? [{ label: 'A replay that shows it', address: seen(`/replays/${fix.sessionId}?site=${site.key}`) }]
        : []),
    ],
    values: {
      status: fix.status,
      effort: fix.effort,
      owner: fix.owner,
      'lost in 30 days': cost
        ? `${count(Math.round(cost.value))} (${decimal(cost.low, 0)} to ${decimal(cost.high, 0)})`
        : null,
      'does it cost?': live?.whether ?? null,
      found: fix.verified ? `${fix.verified.verdict}. ${fix.verified.reason}` : null,
    },
  }
}

/** One fix as it is handed to those who build it. */
export function fixReport(
  site: Site,
  fix: Fix,
  price: PriceAnswer,
  live: Candidate | undefined,
  evidence?: Evidence,
): Report {
  const element =
    'selector' in fix.selection && fix.selection.selector
      ? ([['element', fix.selection.selector]] as [string, string][])
      : []
  return {
    title: fix.title,
    about: `${site.name}, ${madeOn(site)}`,
    entries: [withEvidence(fixEntry(site, fix, price, live), evidence)],
    definitions: [...element, ...DEFINITIONS.slice(1)],
  }
}
