import type { CatalogueAnswer, Rate } from '@dust-trail/core'
import { questions, rate } from '@dust-trail/core'
import { useNavigate } from 'react-router'
import { z } from 'zod'
import { useQuestion, useQuestionThrough } from '../../api/use-question.ts'
import { useAddressValue } from '../../app/address.ts'
import { useLens, useLensLink } from '../../app/lens.ts'
import { SideHead, SideRate, useSides } from '../../lens/sides.tsx'
import { useView } from '../../trail/view.tsx'
import type { DataColumn } from '../../ui/data-table.tsx'
import { DataTable } from '../../ui/data-table.tsx'
import { count, percent } from '../../ui/format.ts'
import { Empty, Failure, Loading, Settling } from '../../ui/states.tsx'
import { HeatMap } from './heat-map.tsx'

const PAGE = z.string()

type PageRow = CatalogueAnswer['pages'][number]

/** The pages of the site; one of them as a click heat map. */
export function PagesPage() {
  const [page] = useAddressValue('page', PAGE)
  return page ? <HeatMap key={page} page={page} /> : <PageTable />
}

function PageTable() {
  const { lens } = useLens()
  const linkTo = useLensLink()
  const navigate = useNavigate()
  const answer = useQuestion(questions.catalogue, lens, {})
  useView({ words: 'All sessions in the lens', question: { lens, selection: { type: 'everyone' } } })
  const { sides } = useSides()
  const others = sides.slice(1)
  const beside = useQuestionThrough(
    questions.catalogue,
    others.map((side) => side.lens),
    {},
  )
  const { data } = answer
  const all = data?.sessions ?? 0
  const columns: DataColumn<PageRow>[] = [
    { id: 'page', head: 'Page', value: ({ page }) => page, opens: true },
    {
      id: 'address',
      head: 'Address',
      value: ({ pattern }) => pattern,
      className: 'font-mono text-xs text-ink-soft',
      folds: 3,
    },
    { id: 'sessions', head: 'Sessions', value: ({ sessions }) => sessions, numeric: true, width: 100 },
    {
      id: 'share',
      head: `Of all ${count(all)}`,
      cell: ({ sessions }) => percent(all ? sessions / all : null),
      value: ({ sessions }) => (all ? sessions / all : null),
      numeric: true,
      width: 112,
    },
    ...others.map((side, k): DataColumn<PageRow> => {
      const sideAnswer = beside[k]?.data
      return {
        id: `beside ${k + 1}`,
        head: <SideHead side={k + 1} name={side.name} base={sideAnswer?.sessions} />,
        words: side.name,
        cell: ({ page, sessions }) => (
          <SideRate
            rate={shareOf(sideAnswer, page)}
            first={rate(sessions, all)}
            side={side}
            of={{ type: 'page', page }}
          />
        ),
        value: ({ page }) => shareOf(sideAnswer, page)?.share ?? null,
        numeric: true,
        width: 196,
      }
    }),
    { id: 'clicks', head: 'Clicks', value: ({ clicks }) => clicks, numeric: true, width: 92, folds: 2 },
    {
      id: 'clicks a session',
      head: 'Clicks a session',
      cell: ({ clicks, sessions }) => (sessions ? (clicks / sessions).toFixed(1) : '–'),
      value: ({ clicks, sessions }) => (sessions ? clicks / sessions : null),
      numeric: true,
      width: 132,
      folds: 1,
    },
  ]
  return (
    <div className="px-5 py-3">
      <h1>Pages</h1>
      <p className="mb-3 text-ink-soft">
        Which pages do visitors see, and where do they click?
        {data && ` ${count(data.sessions)} sessions in the lens.`}
      </p>
      {answer.error && <Failure error={answer.error} retry={() => void answer.refetch()} />}
      {answer.isPending && <Loading />}
      {data && (
        <Settling
          stale={answer.isPlaceholderData}
          className="overflow-auto rounded-md border border-line bg-sheet"
        >
          {data.pages.length ? (
            <DataTable
              name="pages"
              rows={data.pages}
              columns={columns}
              rowKey={({ page }) => page}
              open={({ page }) => void navigate(linkTo('/pages', { page }))}
            />
          ) : (
            <Empty title="No pages in the lens">Choose other dates, or take the device filter away.</Empty>
          )}
        </Settling>
      )}
    </div>
  )
}

/** How many of a catalogue's sessions saw a page. */
function shareOf(answer: CatalogueAnswer | undefined, page: string): Rate | undefined {
  return answer && rate(answer.pages.find((one) => one.page === page)?.sessions ?? 0, answer.sessions)
}
