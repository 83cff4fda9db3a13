import type { Candidate, Selection } from '@dust-trail/core'
import { questions } from '@dust-trail/core'
import { Fragment, useState } from 'react'
import { useDismissed } from '../../api/queries.ts'
import { useQuestion } from '../../api/use-question.ts'
import { useLens, useSite } from '../../app/lens.ts'
import { useSelection } from '../../closeup/use-selection.ts'
import type { DataColumn } from '../../ui/data-table.tsx'
import { DataTable } from '../../ui/data-table.tsx'
import { count, percent, plural } from '../../ui/format.ts'
import { LinkButton } from '../../ui/link-button.tsx'
import { Empty, Failure, Loading, Settling } from '../../ui/states.tsx'
import { candidateFor } from './candidate-price.tsx'
import { candidateWords } from './candidate-words.ts'
import { FoundActions, isSame } from './found-actions.tsx'
import { PriceBar } from './price-bar.tsx'

/** Problems found in the data of the lens, the costliest first, with what each was compared with. */
export function FoundProblems({ taken = [] }: { taken?: readonly Selection[] }) {
  const site = useSite()
  const { lens } = useLens()
  const { setSelection } = useSelection()
  const answer = useQuestion(questions.candidates, lens, {})
  const { data } = answer
  const dismissed = useDismissed(site.key).data ?? []
  const [showDismissed, setShowDismissed] = useState(false)
  const isDismissed = (one: Candidate) => dismissed.some(({ problem }) => isSame(problem, one))
  const isTaken = (one: Candidate) => taken.some((problem) => candidateFor([one], problem))
  const all = (data?.candidates ?? []).filter((one) => !isTaken(one))
  const hidden = all.filter(isDismissed)
  // Where the last one was taken back there is nothing left to show.
  const showing = showDismissed && hidden.length > 0
  const rows = showing ? hidden : all.filter((one) => !isDismissed(one))
  const most = Math.max(1, ...rows.map(({ price }) => price.high))
  const columns: DataColumn<Candidate>[] = [
    {
      id: 'problem',
      head: 'Problem',
      cell: (row) => (
        <>
          <span className="block truncate">{candidateWords(row)}</span>
          <span className="block truncate text-ink-soft">{row.page}</span>
        </>
      ),
      value: (row) => `${candidateWords(row)}, ${row.page}`,
      title: (row) => `${candidateWords(row)}\n${row.page}\n${row.selector}\n${row.compared}`,
      opens: true,
      least: 190,
    },
    {
      id: 'price',
      head: 'Conversions lost in 30 days',
      words: 'Conversions lost in 30 days, 95 % interval',
      cell: ({ price }) => <PriceBar value={price.value} low={price.low} high={price.high} most={most} />,
      value: ({ price }) => price.value,
      width: 262,
    },
    {
      id: 'money',
      head: site.currency,
      words: `Money lost in 30 days, ${site.currency}`,
      cell: ({ money }) => (money ? count(Math.round(money.value)) : 'not known'),
      value: ({ money }) => money?.value ?? null,
      title: ({ money }) =>
        money ? `${count(Math.round(money.low))} to ${count(Math.round(money.high))} ${site.currency}` : '',
      numeric: true,
      width: 80,
      folds: 4,
    },
    {
      id: 'sure',
      head: 'Does it cost?',
      cell: ({ whether, howMuch }) => (
        <>
          <span className="block">{whether}</span>
          <span className="block text-ink-soft">price {howMuch}</span>
        </>
      ),
      value: ({ sure }) => sure,
      title: (row) => sureWords(row),
      width: 146,
    },
    {
      id: 'met',
      head: 'Met it',
      cell: ({ exposed }) => count(exposed),
      value: ({ exposed }) => exposed,
      numeric: true,
      width: 70,
      folds: 1,
    },
    {
      id: 'carried on',
      head: 'Carried on',
      cell: ({ carriedOn, expected }) => (
        <>
          <span className="block">{percent(carriedOn)}</span>
          <span className="block text-ink-soft">expected {percent(expected)}</span>
        </>
      ),
      value: ({ carriedOn, expected }) => carriedOn - expected,
      title: ({ compared }) => compared,
      numeric: true,
      width: 128,
      folds: 2,
    },
    {
      id: 'take up',
      head: 'What to do',
      cell: (row) => (
        <FoundActions candidate={row} dismissed={dismissed.find(({ problem }) => isSame(problem, row))} />
      ),
      width: 164,
    },
    {
      id: 'others',
      head: 'Beside it',
      cell: ({ others }) => <LinkButton onClick={() => setSelection(others)}>those who did not</LinkButton>,
      width: 128,
      folds: 5,
    },
  ]
  return (
    <section aria-label="Found in the data" className="mb-5">
      {answer.error && <Failure error={answer.error} retry={() => void answer.refetch()} />}
      {answer.isPending && <Loading rows={4} />}
      {data && (
        <Settling stale={answer.isPlaceholderData}>
          <p className="mb-2 text-ink-soft">
            {rows.length > 0
              ? `${plural(rows.length, 'problem')} found that probably cost conversions, of ${count(data.considered)} looked at; ${count(data.conversions)} conversions in ${plural(Math.round(data.days), 'day')}. Each was compared with people who were at the same point and did not meet it.`
              : ''}
            {data.looked < data.sessions &&
              ` Priced on ${count(data.looked)} of ${count(data.sessions)} sessions, all of some visitors.`}
          </p>
          <div className="overflow-auto rounded-md border border-line bg-sheet">
            {rows.length ? (
              <DataTable
                name="candidates"
                label="Problems found in the data"
                rows={rows}
                columns={columns}
                rowKey={({ rank }) => String(rank)}
                rowHeight={48}
                openTitle="Open the sessions that met it"
                open={({ met }) => setSelection(met)}
              />
            ) : (
              <Empty
                title={
                  data.conversions ? 'Nothing that costs conversions for sure' : 'No conversions to price by'
                }
              >
                {data.conversions
                  ? `Of ${count(data.considered)} things that went wrong none stands out from chance. A longer lens tells more.`
                  : 'A price needs a goal that is reached: choose one in Setup, or a lens in which it is.'}
              </Empty>
            )}
          </div>
          {hidden.length > 0 && (
            <p className="mt-1">
              <LinkButton onClick={() => setShowDismissed(!showing)}>
                {showing ? 'Show what was not dismissed' : `${count(hidden.length)} dismissed`}
              </LinkButton>
            </p>
          )}
          {data.unpriced.length > 0 && (
            <p className="mt-2 text-ink-soft">
              Without a price, since there is nobody to compare with:{' '}
              {data.unpriced.map((one, i) => (
                <Fragment key={i}>
                  {i > 0 && '; '}
                  <LinkButton onClick={() => setSelection(one.met)}>
                    {candidateWords(one)}, {one.page}
                  </LinkButton>{' '}
                  ({plural(one.sessions, 'session')})
                </Fragment>
              ))}
              .
            </p>
          )}
        </Settling>
      )}
    </section>
  )
}

function sureWords({ sure, confident, agree, eValue, moreSessions, compared }: Candidate): string {
  return [
    `Chance of a cost: ${percent(sure)}.`,
    confident ? 'A failed act or a change in time stands behind it.' : '',
    agree ? '' : 'Carrying on and converting tell different stories: neither is trusted alone.',
    eValue === null
      ? ''
      : `A hidden cause would have to raise both the trouble and giving up ${eValue.toFixed(1)} times.`,
    moreSessions === null ? '' : `About ${count(moreSessions)} sessions more would tell.`,
    compared,
  ]
    .filter(Boolean)
    .join('\n')
}
