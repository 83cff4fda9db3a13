import type { PageRow } from '@dust-trail/core'
import { count, decimal, duration, percent } from '../../ui/format.ts'

/** One thing that is known of a page. */
export interface PageMeasure {
  id: string
  head: string
  value: (row: PageRow) => number | null
  /** the value with its base */
  show: (row: PageRow) => string
  width: number
  /** folds away first where there is no room */
  folds?: number
  title?: (row: PageRow) => string
}

const perThousand = (n: number, views: number) => (views ? (n / views) * 1000 : null)
const seconds = (value: number | null) => (value === null ? '–' : duration(value * 1000))
const tenth = (value: number | null) => (value === null ? '–' : decimal(value))
const milliseconds = (value: number | null) => (value === null ? '–' : duration(value))

/** Everything that is known of a page, in the order of a table. */
export const PAGE_MEASURES: readonly PageMeasure[] = [
  { id: 'views', head: 'Views', value: ({ views }) => views, show: ({ views }) => count(views), width: 76 },
  {
    id: 'sessions',
    head: 'Sessions',
    value: ({ seen }) => seen.hits,
    show: ({ seen }) => `${count(seen.hits)} · ${percent(seen.share)}`,
    width: 116,
    folds: 4,
  },
  {
    id: 'visitors',
    head: 'Visitors',
    value: ({ visitors }) => visitors,
    show: ({ visitors }) => count(visitors),
    width: 78,
    folds: 5,
  },
  {
    id: 'new visitors',
    head: 'New visitors',
    value: ({ newVisitors }) => newVisitors,
    show: ({ newVisitors }) => count(newVisitors),
    width: 100,
    folds: 14,
  },
  {
    id: 'entries',
    head: 'Entries',
    value: ({ entries }) => entries,
    show: ({ entries }) => count(entries),
    width: 76,
    folds: 8,
  },
  {
    id: 'bounce rate',
    head: 'Bounce rate',
    value: ({ bounces }) => bounces.share,
    show: ({ bounces }) => (bounces.base ? `${percent(bounces.share)} of ${count(bounces.base)}` : '–'),
    width: 124,
    folds: 9,
  },
  {
    id: 'exits',
    head: 'Exits',
    value: ({ exits }) => exits.hits,
    show: ({ exits }) => count(exits.hits),
    width: 68,
    folds: 16,
  },
  {
    id: 'exit rate',
    head: 'Exit rate',
    value: ({ exits }) => exits.share,
    show: ({ exits }) => percent(exits.share),
    title: ({ exits }) => `${count(exits.hits)} of ${count(exits.base)} views`,
    width: 84,
  },
  {
    id: 'time',
    head: 'Time, median',
    value: ({ engaged }) => engaged.median,
    show: ({ engaged }) => seconds(engaged.median),
    title: ({ engaged }) =>
      `looked at, of the ${count(engaged.told)} views that tell; mean ${seconds(engaged.mean)}`,
    width: 108,
    folds: 3,
  },
  {
    id: 'mean time',
    head: 'Time, mean',
    value: ({ engaged }) => engaged.mean,
    show: ({ engaged }) => seconds(engaged.mean),
    title: ({ engaged }) => `looked at, of the ${count(engaged.told)} views that tell`,
    width: 100,
    folds: 15,
  },
  {
    id: 'read',
    head: 'Read to the end',
    value: ({ read }) => read.share,
    show: ({ read }) => (read.base ? percent(read.share) : '–'),
    title: ({ read }) => `${count(read.hits)} of the ${count(read.base)} views that tell saw 90 % of it`,
    width: 124,
    folds: 7,
  },
  {
    id: 'load',
    head: 'Load, 75 %',
    value: ({ load }) => load.p75,
    show: ({ load }) => milliseconds(load.p75),
    title: ({ load }) => `three of four of the ${count(load.told)} views that tell were there sooner`,
    width: 96,
    folds: 6,
  },
  {
    id: 'response',
    head: 'Response, 75 %',
    value: ({ response }) => response.p75,
    show: ({ response }) =>
      response.p75 === null ? (response.worked ? 'fast' : '–') : milliseconds(response.p75),
    title: ({ response }) =>
      `slowest answer to input: told by ${count(response.told)} of the ${count(response.worked)} views that were worked with; others were too fast to tell`,
    width: 124,
    folds: 12,
  },
  {
    id: 'not found',
    head: 'Not found',
    value: ({ notFound }) => notFound,
    show: ({ notFound }) => count(notFound),
    title: ({ notFound, views }) => `${count(notFound)} of ${count(views)} views`,
    width: 84,
    folds: 13,
  },
  {
    id: 'errors',
    head: 'Errors / 1,000',
    value: ({ errors, views }) => perThousand(errors, views),
    show: ({ errors, views }) => tenth(perThousand(errors, views)),
    title: ({ errors, views }) => `${count(errors)} script errors in ${count(views)} views`,
    width: 110,
    folds: 10,
  },
  {
    id: 'signals',
    head: 'Signals / 1,000',
    value: ({ signals, views }) => perThousand(signals, views),
    show: ({ signals, views }) => tenth(perThousand(signals, views)),
    title: ({ signals, views }) => `${count(signals)} signals in ${count(views)} views`,
    width: 116,
    folds: 2,
  },
  {
    id: 'strain',
    head: 'Strain',
    value: ({ strain }) => strain.mean,
    show: ({ strain }) => tenth(strain.mean),
    title: ({ strain }) =>
      strain.interval ? `95 % between ${tenth(strain.interval[0])} and ${tenth(strain.interval[1])}` : '',
    width: 70,
    folds: 1,
  },
  {
    id: 'passed',
    head: 'Of conversions',
    value: ({ passed }) => passed.share,
    show: ({ passed }) => (passed.base ? percent(passed.share) : '–'),
    title: ({ passed }) => `${count(passed.hits)} of ${count(passed.base)} conversions passed here`,
    width: 118,
  },
  {
    id: 'clicks',
    head: 'Clicks',
    value: ({ clicks }) => clicks,
    show: ({ clicks }) => count(clicks),
    width: 76,
    folds: 11,
  },
]

export function measureOf(id: string | null): PageMeasure {
  return PAGE_MEASURES.find((one) => one.id === id) ?? PAGE_MEASURES[0]!
}
