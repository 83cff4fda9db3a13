import type { LandingRow, LANDINGS_BY } from '@dust-trail/core'
import type { DataColumn } from '../../ui/data-table.tsx'
import { count, duration, percent } from '../../ui/format.ts'

/** What is said of a landing page: what it brings, what it costs, and what is wrong there. */
export function landingColumns({
  by,
  goal,
  money,
  costOf,
}: {
  by: (typeof LANDINGS_BY)[number]
  /** name of the main goal; "" where none is set */
  goal: string
  money: Intl.NumberFormat
  /** in the currency of the site; null: not known */
  costOf: (row: LandingRow) => number | null
}): DataColumn<LandingRow>[] {
  return [
    { id: 'page', head: 'Lands on', value: ({ page }) => page || 'no page', opens: true, least: 170 },
    ...(by === 'page'
      ? []
      : [
          {
            id: 'from',
            head: by === 'channel' ? 'Channel' : 'Campaign',
            value: ({ from }) => from || (by === 'channel' ? 'not known' : 'no campaign'),
            width: 170,
          } satisfies DataColumn<LandingRow>,
        ]),
    { id: 'sessions', head: 'Sessions', value: ({ sessions }) => sessions, numeric: true, width: 84 },
    {
      id: 'bounced',
      head: 'Bounced',
      cell: ({ bounced }) => percent(bounced.share),
      value: ({ bounced }) => bounced.share,
      title: ({ bounced }) => `${count(bounced.hits)} of ${count(bounced.base)} saw no other page`,
      numeric: true,
      width: 84,
    },
    {
      id: 'converted',
      head: goal || 'Converted',
      cell: ({ converted }) => `${percent(converted.share)} · ${count(converted.hits)}`,
      value: ({ converted }) => converted.share,
      numeric: true,
      width: 108,
    },
    {
      id: 'value',
      head: 'Brought',
      cell: ({ value }) => money.format(value),
      value: ({ value }) => value,
      numeric: true,
      width: 88,
      folds: 2,
    },
    ...(by === 'campaign'
      ? [
          {
            id: 'cost',
            head: 'Cost',
            cell: (row) => {
              const cost = costOf(row)
              return cost === null ? '–' : money.format(cost)
            },
            value: costOf,
            title: () => 'Of the campaign on the days of the lens, shared out by sessions',
            numeric: true,
            width: 84,
          } satisfies DataColumn<LandingRow>,
          {
            id: 'cost per conversion',
            head: 'Per conversion',
            cell: (row) => {
              const cost = costOf(row)
              return cost === null
                ? '–'
                : row.converted.hits
                  ? money.format(cost / row.converted.hits)
                  : 'none'
            },
            value: (row) => {
              const cost = costOf(row)
              return cost === null || !row.converted.hits ? null : cost / row.converted.hits
            },
            numeric: true,
            width: 112,
            folds: 3,
          } satisfies DataColumn<LandingRow>,
        ]
      : []),
    {
      id: 'not found',
      head: 'Not there',
      cell: ({ notFound }) => (notFound.hits ? percent(notFound.share) : '0'),
      value: ({ notFound }) => notFound.share,
      title: ({ notFound }) =>
        `${count(notFound.hits)} of ${count(notFound.base)} landed on a page that does not exist or failed`,
      className: ({ notFound }) => notFound.hits > 0 && 'font-semibold text-clay',
      numeric: true,
      width: 84,
    },
    {
      id: 'troubled',
      head: 'Trouble there',
      cell: ({ troubled }) => percent(troubled.share),
      value: ({ troubled }) => troubled.share,
      title: ({ troubled }) =>
        `${count(troubled.hits)} of ${count(troubled.base)} met a signal on the landing page`,
      numeric: true,
      width: 104,
    },
    {
      id: 'load',
      head: 'Load, 75 %',
      cell: ({ load }) => (load.p75 === null ? '–' : duration(load.p75)),
      value: ({ load }) => load.p75,
      title: ({ load }) => `of the ${count(load.told)} that tell`,
      numeric: true,
      width: 92,
      folds: 1,
    },
    {
      id: 'strain',
      head: 'Strain',
      cell: ({ strain }) => (strain.mean === null ? '–' : strain.mean.toFixed(1)),
      value: ({ strain }) => strain.mean,
      numeric: true,
      width: 72,
    },
  ]
}
