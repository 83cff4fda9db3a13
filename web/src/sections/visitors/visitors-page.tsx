import type { NumberTest, VisitorNumber, VisitorRow } from '@dust-trail/core'
import { questions, VISITOR_NUMBERS } from '@dust-trail/core'
import { useMemo } from 'react'
import { useNavigate } from 'react-router'
import { z } from 'zod'
import { useQuestion } from '../../api/use-question.ts'
import { useAddressValue } from '../../app/address.ts'
import { goalName, useLens, useLensLink, useSite } from '../../app/lens.ts'
import { keptTable } from '../../trail/kept-table.ts'
import { useView } from '../../trail/view.tsx'
import { Answered, TABLE_BOX } from '../../ui/answered.tsx'
import { Chip } from '../../ui/chip.tsx'
import { Button, Select } from '../../ui/controls.tsx'
import type { DataColumn } from '../../ui/data-table.tsx'
import { DataTable } from '../../ui/data-table.tsx'
import { count, moment, plural } from '../../ui/format.ts'
import { Empty } from '../../ui/states.tsx'
import { EVERYONE } from '../../words/selections.ts'
import { numberTestWords } from '../../words/sentences.ts'
import { HavingForm } from './having-form.tsx'
import { TwoGroups } from './two-groups.tsx'
import { VISITOR_WORDS } from './visitor-words.ts'

const ORDER = z.enum(VISITOR_NUMBERS)
const HAVING = questions.visitors.asked.shape.having
const PAGE = 100
const LIMIT = z.coerce.number().int().min(1).max(1000)

/** Who came, what they did over all their visits, and which of them are worth a look. */
export function VisitorsPage() {
  const site = useSite()
  const { lens } = useLens()
  const linkTo = useLensLink()
  const navigate = useNavigate()
  const [chosen, setOrder] = useAddressValue('order', ORDER)
  const [having, setHaving] = useAddressValue('having', HAVING)
  const [limit, setLimit] = useAddressValue('limit', LIMIT, { replace: true })
  const order = chosen ?? 'last'
  const tests = having ?? []
  const asked = { selection: EVERYONE, order, having: tests }
  const answer = useQuestion(questions.visitors, lens, { ...asked, limit: limit ?? PAGE })
  useView({
    words: 'All sessions in the lens',
    question: { lens, selection: EVERYONE },
    tables: [
      keptTable(questions.visitors, 'Visitors', asked, [
        ['visitor', 'Visitor'],
        ['sessions', 'Sessions', 'count'],
        ['conversions', 'Conversions', 'count'],
        ['value', 'Value', 'decimal'],
        ['strain', 'Strain', 'decimal'],
        ['lastMs', 'Last seen', 'moment'],
      ]),
    ],
  })
  const { data } = answer
  const money = useMemo(
    () =>
      new Intl.NumberFormat('en-GB', {
        style: 'currency',
        currency: site.currency,
        maximumFractionDigits: 2,
      }),
    [site.currency],
  )
  const goal = goalName(site)
  const number = (
    id: VisitorNumber,
    head: string,
    width: number,
    value: (row: VisitorRow) => number,
    folds?: number,
  ) => ({
    ...{ id, head, width, value, numeric: true },
    ...(folds !== undefined && { folds }),
  })
  const columns: DataColumn<VisitorRow>[] = [
    {
      id: 'visitor',
      head: 'Visitor',
      value: ({ visitor }) => visitor,
      opens: true,
      className: 'font-mono text-xs',
      least: 180,
    },
    number('sessions', 'Sessions', 84, ({ sessions }) => sessions),
    number('pages', 'Pages', 72, ({ pages }) => pages, 3),
    number('conversions', goal || 'Converted', 92, ({ conversions }) => conversions),
    {
      ...number('value', 'Money', 100, ({ value }) => value),
      cell: ({ value }) => (value ? money.format(value) : '–'),
    },
    number('signals', 'Signals', 78, ({ signals }) => signals, 2),
    { ...number('strain', 'Strain', 72, ({ strain }) => strain), cell: ({ strain }) => strain.toFixed(1) },
    {
      ...number('first', 'First seen', 118, ({ firstMs }) => firstMs, 1),
      cell: ({ firstMs }) => moment(firstMs, site.timeZone),
    },
    {
      ...number('last', 'Last seen', 118, ({ lastMs }) => lastMs),
      cell: ({ lastMs }) => moment(lastMs, site.timeZone),
    },
    {
      id: 'channel',
      head: 'First came by',
      value: ({ channel }) => channel || 'not known',
      width: 130,
      folds: 4,
    },
  ]
  return (
    <div className="space-y-3 px-5 py-3">
      <header className="space-y-2">
        <h1>Visitors</h1>
        <p className="text-ink-soft">
          {data
            ? `${plural(data.total, 'visitor')}${tests.length ? ' of whom that holds' : ' in the lens'}; figures are over all their visits in it.`
            : 'What did this one person do?'}
        </p>
        <div className="flex flex-wrap items-center gap-2">
          <Select
            aria-label="Order"
            value={order}
            onChange={({ target }) =>
              setOrder(target.value === 'last' ? null : (target.value as VisitorNumber))
            }
          >
            {VISITOR_NUMBERS.map((of) => (
              <option key={of} value={of}>
                {of === 'first' || of === 'last'
                  ? `${VISITOR_WORDS[of]}, newest first`
                  : `most ${VISITOR_WORDS[of]}`}
              </option>
            ))}
          </Select>
          {tests.map(({ of, is }, k) => (
            <Chip
              key={k}
              look="outlined"
              words={`${VISITOR_WORDS[of]} ${testWords(of, is, site.timeZone)}`}
              removeLabel={`Remove: ${VISITOR_WORDS[of]}`}
              remove={() => {
                const rest = tests.filter((_, i) => i !== k)
                setHaving(rest.length ? rest : null)
              }}
            />
          ))}
          <HavingForm add={(test) => setHaving([...tests, test])} />
        </div>
      </header>
      <Answered answer={answer} className={TABLE_BOX}>
        {(data) =>
          data.visitors.length ? (
            <DataTable
              name="visitors"
              label="Visitors"
              rows={data.visitors}
              columns={columns}
              rowKey={({ visitor }) => visitor}
              open={({ visitor }) => void navigate(linkTo(`/visitors/${encodeURIComponent(visitor)}`))}
            />
          ) : (
            <Empty title="No such visitors">Take a condition away, or choose other dates.</Empty>
          )
        }
      </Answered>
      {data && data.visitors.length < data.total && (
        <p className="flex items-center gap-3 text-ink-soft">
          {count(data.visitors.length)} of {count(data.total)} are listed.
          {data.visitors.length < 1000 && (
            <Button onClick={() => setLimit(Math.min(1000, (limit ?? PAGE) * 4))}>Show more</Button>
          )}
        </p>
      )}
      <TwoGroups />
    </div>
  )
}

/** A test in words; times as days. */
function testWords(of: VisitorNumber, is: NumberTest, timeZone: string): string {
  return numberTestWords(is, of === 'first' || of === 'last' ? (ms) => moment(ms, timeZone) : undefined)
}
