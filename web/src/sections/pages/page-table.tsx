import type { PageRow, PagesAnswer, PagesBy, Selection } from '@dust-trail/core'
import { PAGES_BY, questions, rate } from '@dust-trail/core'
import { ChartScatter } from 'lucide-react'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { z } from 'zod'
import { useQuestion, useQuestionThrough } from '../../api/use-question.ts'
import { useAddressValue } from '../../app/address.ts'
import { useLens, useLensLink, useSite } from '../../app/lens.ts'
import { useSelection } from '../../closeup/use-selection.ts'
import { SideHead, SideRate, useSides } from '../../lens/sides.tsx'
import { keptTable } from '../../trail/kept-table.ts'
import { useView } from '../../trail/view.tsx'
import { Button, inputLook, Select } from '../../ui/controls.tsx'
import type { DataColumn } from '../../ui/data-table.tsx'
import { DataTable } from '../../ui/data-table.tsx'
import { count, dayIn, percent, plural } from '../../ui/format.ts'
import { RadioGroup } from '../../ui/radio-group.tsx'
import { Sparkline } from '../../ui/sparkline.tsx'
import { Empty, Failure, Loading, Settling } from '../../ui/states.tsx'
import { EVERYONE } from '../../words/selections.ts'
import { PageCharts } from './page-charts.tsx'
import { measureOf, PAGE_MEASURES } from './page-measures.ts'
import { PageViews } from './page-views.tsx'

const BY = z.enum(PAGES_BY)
const TEXT = z.string()
const BY_WORDS: readonly (readonly [PagesBy, string])[] = [
  ['group', 'Pages'],
  ['url', 'Addresses'],
  ['title', 'Titles'],
]

/** All pages with what is known of each; by page group, address or title. */
export function PageTable() {
  const site = useSite()
  const { lens } = useLens()
  const linkTo = useLensLink()
  const navigate = useNavigate()
  const { setSelection } = useSelection()
  const [chosenBy, setBy] = useAddressValue('by', BY)
  const [search, setSearch] = useAddressValue('find', TEXT, { replace: true })
  const [shown, setShown] = useAddressValue('beside', TEXT)
  const [sorted, setSorted] = useState<string | null>(null)
  const [charts, setCharts] = useState(false)
  const by = chosenBy ?? 'group'
  const answer = useQuestion(questions.pages, lens, { by })
  useView({
    words: 'All sessions in the lens',
    question: { lens, selection: EVERYONE },
    tables: [
      keptTable(questions.pages, 'Pages', { by }, [
        ['page', 'Page'],
        ['views', 'Views', 'count'],
        ['visitors', 'Visitors', 'count'],
        ['exits.share', 'Exit rate', 'percent'],
        ['engaged.median', 'Engaged, s', 'decimal'],
        ['strain.mean', 'Strain', 'decimal'],
      ]),
    ],
  })
  const { sides } = useSides()
  const others = sides.slice(1)
  const beside = useQuestionThrough(
    questions.pages,
    others.map((side) => side.lens),
    { by },
  )
  const { data } = answer
  const measure = measureOf(shown ?? 'sessions')
  const find = search?.toLowerCase() ?? ''
  const rows = data?.pages.filter(
    ({ page, pattern }) => page.toLowerCase().includes(find) || pattern.toLowerCase().includes(find),
  )
  const open = (row: PageRow) => {
    if (by === 'group') void navigate(linkTo('/pages', { page: row.page }))
    else setSelection(viewersOf(by, row.page))
  }
  const columns: DataColumn<PageRow>[] = [
    {
      id: 'page',
      head: by === 'group' ? 'Page' : by === 'url' ? 'Address' : 'Title',
      value: ({ page }) => page || 'not known',
      title: ({ page, pattern }) => (pattern && pattern !== page ? `${page}\n${pattern}` : page),
      opens: true,
      least: 180,
    },
    {
      id: 'trend',
      head: 'Views, trend',
      cell: ({ trend }) => (
        <Sparkline
          tone="spruce"
          values={trend}
          titles={(data?.parts ?? []).map(
            ({ startMs }, k) => `from ${dayIn(startMs, site.timeZone)}: ${plural(trend[k]!, 'view')}`,
          )}
        />
      ),
      value: ({ trend }) => (trend.at(-1) ?? 0) - (trend[0] ?? 0),
      title: () => 'Views over the days of the lens',
      width: 100,
      folds: 6,
    },
    ...PAGE_MEASURES.map(({ id, head, value, show, width, folds, title }): DataColumn<PageRow> => ({
      ...{ id, head, value, width, numeric: true },
      cell: show,
      ...(folds !== undefined && { folds }),
      ...(title && { title }),
    })),
    ...others.map((side, k): DataColumn<PageRow> => {
      const sideAnswer = beside[k]?.data
      const rowOf = (page: string) => sideAnswer?.pages.find((one) => one.page === page)
      return {
        id: `beside ${k + 1}`,
        head: <SideHead side={k + 1} name={`${measure.head}: ${side.name}`} base={sideAnswer?.sessions} />,
        words: `${measure.head}: ${side.name}`,
        cell: ({ page, seen }) => {
          const row = rowOf(page)
          // How many saw it opens them; other measures are of views.
          if (measure.id === 'sessions' && by === 'group')
            return (
              <SideRate
                rate={sideAnswer && (row?.seen ?? rate(0, sideAnswer.sessions))}
                first={seen}
                side={side}
                of={{ type: 'page', page }}
              />
            )
          return row ? measure.show(row) : sideAnswer ? 'not seen' : '…'
        },
        value: ({ page }) => {
          const row = rowOf(page)
          return row ? measure.value(row) : null
        },
        numeric: true,
        width: 196,
      }
    }),
  ]
  return (
    <div className="space-y-3 px-5 py-3">
      <header className="space-y-2">
        <div className="flex items-start gap-3">
          <div className="min-w-0 flex-1">
            <h1>Pages</h1>
            <p className="text-ink-soft">
              {data ? sentence(data, by) : 'What is one page worth, and where is it hard?'}
            </p>
          </div>
          <PageViews />
        </div>
        <div className="flex flex-wrap items-center gap-2">
          <RadioGroup
            label="Rows are"
            value={by}
            onChange={(next) => setBy(next === 'group' ? null : next)}
            options={BY_WORDS}
          />
          <input
            aria-label="Find a page"
            placeholder="Find …"
            className={`${inputLook} !w-44`}
            value={search ?? ''}
            onChange={({ target }) => setSearch(target.value || null)}
          />
          {others.length > 0 && (
            <Select
              aria-label="Measure beside"
              value={measure.id}
              onChange={({ target }) => setShown(target.value)}
            >
              {PAGE_MEASURES.map(({ id, head }) => (
                <option key={id} value={id}>
                  beside: {head}
                </option>
              ))}
            </Select>
          )}
          <Button look="quiet" aria-pressed={charts} onClick={() => setCharts(!charts)}>
            <ChartScatter size={14} aria-hidden /> Ranking and scatter
          </Button>
        </div>
      </header>
      {answer.error && <Failure error={answer.error} retry={() => void answer.refetch()} />}
      {answer.isPending && !answer.error && <Loading />}
      {data && rows && (
        <Settling stale={answer.isPlaceholderData} className="space-y-3">
          {charts && rows.length > 0 && <PageCharts rows={rows} sorted={sorted} open={open} />}
          <div className="overflow-auto rounded-md border border-line bg-sheet">
            {rows.length ? (
              <DataTable
                key={by}
                name={`pages-${by}`}
                label="Pages"
                rows={rows}
                columns={columns}
                rowKey={({ page }) => page}
                open={open}
                sorted={setSorted}
              />
            ) : (
              <Empty title={find ? 'No page is called so' : 'No pages in the lens'}>
                {find ? 'Look for something shorter.' : 'Choose other dates, or take filters away.'}
              </Empty>
            )}
          </div>
          <p className="text-xs text-ink-soft">
            More columns: the menu at the right end of the head. Time is that in sight, idle time after half a
            minute left out; load, response and reading come from the views that tell.
            {data.more > 0 && ` ${count(data.more)} rarer ones are not listed.`}
          </p>
        </Settling>
      )}
    </div>
  )
}

function sentence({ pages, views, converted, sessions }: PagesAnswer, by: PagesBy): string {
  const [first] = pages
  if (!first) return 'Nothing was viewed.'
  const named = { group: 'page', url: 'address', title: 'title' }[by]
  const hard = pages
    .filter(({ views: n }) => n >= views / 100)
    .toSorted((a, b) => (b.strain.mean ?? 0) - (a.strain.mean ?? 0))[0]
  return `${plural(views, 'view')} in ${plural(sessions, 'session')}, ${plural(converted, 'conversion')}. Hardest ${named} of those with 1 % of the views: ${hard ? `${hard.page}, strain ${(hard.strain.mean ?? 0).toFixed(1)}, left at ${percent(hard.exits.share)} of ${count(hard.exits.base)} views` : 'none'}.`
}

/** Those who viewed an address, or a page with a title. */
function viewersOf(by: PagesBy, page: string): Selection {
  const test = { is: 'equal' as const, to: page }
  return {
    type: 'where',
    condition: {
      type: 'event',
      event: { kinds: ['page'], ...(by === 'url' ? { path: test } : { text: test }) },
    },
  }
}
