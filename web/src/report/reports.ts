import type { Fix, Site, Trail } from '@dust-trail/api'
import type { Candidate, Lens, PriceAnswer } from '@dust-trail/core'
import { goalName } from '../app/lens.ts'
import { count, day, moment } from '../ui/format.ts'
import { describeSelection } from '../words/sentences.ts'
import type { Entry, Report } from './report.ts'

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

/** A case: its marks in order, then and now. */
export function trailReport(site: Site, trail: Trail): Report {
  return {
    title: trail.name,
    about: `${site.name}, ${madeOn(site)}`,
    entries: trail.marks.map(({ view, sentence, then, now, dead, address, createdMs }): Entry => ({
      title: sentence || view,
      words: [
        view,
        `Kept ${moment(createdMs, site.timeZone)}.`,
        ...(dead ? [`It finds nothing any more. ${dead}`] : []),
      ],
      figures: [
        { label: 'then', ...then },
        { label: 'now', ...now },
      ],
      links: [{ label: 'The view', address: seen(address) }],
      values: {},
    })),
    definitions: [...DEFINITIONS],
  }
}

/** The fixes in the order of their price, with why, what and how sure. */
export function fixesReport(
  site: Site,
  lens: Lens,
  fixes: readonly { fix: Fix; price: PriceAnswer; live: Candidate | undefined }[],
): Report {
  const sorted = [...fixes].sort((a, b) => (b.live?.price.value ?? 0) - (a.live?.price.value ?? 0))
  return {
    title: `What to repair first: ${site.name}`,
    about: `${day(lens.from)} – ${day(lens.to)}; goal: ${goalName(site) || 'none'}; ${madeOn(site)}`,
    entries: sorted.map(({ fix, price, live }) => fixEntry(site, fix, price, live)),
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
        ? `${count(Math.round(cost.value))} (${cost.low.toFixed(0)} to ${cost.high.toFixed(0)})`
        : null,
      'does it cost?': live?.whether ?? null,
      found: fix.verified ? `${fix.verified.verdict}. ${fix.verified.reason}` : null,
    },
  }
}

/** One fix as it is handed to those who build it. */
export function fixReport(site: Site, fix: Fix, price: PriceAnswer, live: Candidate | undefined): Report {
  const element =
    'selector' in fix.selection && fix.selection.selector
      ? ([['element', fix.selection.selector]] as [string, string][])
      : []
  return {
    title: fix.title,
    about: `${site.name}, ${madeOn(site)}`,
    entries: [fixEntry(site, fix, price, live)],
    definitions: [...element, ...DEFINITIONS.slice(1)],
  }
}
