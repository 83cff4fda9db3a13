import { listCosts, saveCosts } from '@dust-trail/api'
import type { CampaignCost } from '@dust-trail/api'
import type { LandingRow } from '@dust-trail/core'
import { LANDINGS_BY, questions } from '@dust-trail/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Upload } from 'lucide-react'
import { useMemo, useRef, useState } from 'react'
import { toast } from 'sonner'
import { z } from 'zod'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { useQuestion } from '../../api/use-question.ts'
import { useAddressValue } from '../../app/address.ts'
import { goalName, useLens, useSite } from '../../app/lens.ts'
import { useSelection } from '../../closeup/use-selection.ts'
import { keptTable } from '../../trail/kept-table.ts'
import { useView } from '../../trail/view.tsx'
import { Answered, TABLE_BOX } from '../../ui/answered.tsx'
import { Button } from '../../ui/controls.tsx'
import { DataTable } from '../../ui/data-table.tsx'
import { count, percent, plural } from '../../ui/format.ts'
import { RadioGroup } from '../../ui/radio-group.tsx'
import { Empty, Failure } from '../../ui/states.tsx'
import { EVERYONE } from '../../words/selections.ts'
import { readCosts } from './costs.ts'
import { landingColumns } from './landing-columns.tsx'
import { PageViews } from './page-views.tsx'

const BY = z.enum(LANDINGS_BY)

/** With which pages sessions begin, through which channel or campaign, what they bring and what is wrong there. */
export function LandingsPage() {
  const site = useSite()
  const { lens } = useLens()
  const { setSelection } = useSelection()
  const [chosen, setBy] = useAddressValue('by', BY)
  const by = chosen ?? 'campaign'
  const answer = useQuestion(questions.landings, lens, { by })
  const costs = useEndpoint(listCosts, { site: site.key }, undefined).data
  useView({
    words: 'All sessions in the lens',
    question: { lens, selection: EVERYONE },
    tables: [
      keptTable(questions.landings, 'Landing pages', { by }, [
        ['page', 'Page'],
        ['from', 'From'],
        ['sessions', 'Sessions', 'count'],
        ['bounced.share', 'Bounced', 'percent'],
        ['converted.share', 'Converted', 'percent'],
        ['troubled.share', 'In trouble', 'percent'],
      ]),
    ],
  })
  const { data } = answer
  const goal = goalName(site)
  const money = useMemo(
    () =>
      new Intl.NumberFormat('en-GB', {
        style: 'currency',
        currency: site.currency,
        maximumFractionDigits: 0,
      }),
    [site.currency],
  )
  const costOf = useMemo(() => costsPerSession(costs ?? [], data?.landings ?? [], lens), [costs, data, lens])
  const costOfRow = (row: LandingRow) => (by === 'campaign' ? costOf(row) : null)
  const columns = landingColumns({ by, goal, money, costOf: costOfRow })
  const worst = data?.landings
    .filter(({ from, sessions }) => (by === 'page' || from !== '') && sessions >= data.sessions / 500)
    .toSorted((a, b) => b.troubled.hits - a.troubled.hits)[0]
  return (
    <div className="space-y-3 px-5 py-3">
      <header className="space-y-2">
        <div className="flex items-start gap-3">
          <div className="min-w-0 flex-1">
            <h1>Landing pages</h1>
            <p className="text-ink-soft">
              {worst
                ? `Most trouble: ${worst.from ? `“${worst.from}” lands on ` : ''}${worst.page}, where ${count(worst.troubled.hits)} of ${count(worst.troubled.base)} met something; ${percent(worst.converted.share)} of them ${goal ? `reached ${goal}` : 'converted'}, ${data ? percent(data.converted.share) : '–'} of all.`
                : 'Which campaigns land on a page that is hard, slow or broken?'}
            </p>
          </div>
          <PageViews />
        </div>
        <div className="flex flex-wrap items-center gap-2">
          <RadioGroup
            label="Told apart by"
            value={by}
            onChange={(next) => setBy(next === 'campaign' ? null : next)}
            options={[
              ['campaign', 'By campaign'],
              ['channel', 'By channel'],
              ['page', 'Pages alone'],
            ]}
          />
          {by === 'campaign' && <Costs costs={costs ?? []} />}
        </div>
      </header>
      <Answered answer={answer} className={TABLE_BOX}>
        {(data) =>
          data.landings.length ? (
            <DataTable
              name={`landings-${by}`}
              label="Landing pages"
              rows={data.landings}
              columns={columns}
              rowKey={({ page, from }) => `${page}\n${from}`}
              openTitle="Open the sessions that landed here"
              open={({ page, from }) =>
                setSelection({
                  type: 'where',
                  condition: {
                    type: 'all',
                    of: [
                      { type: 'text', of: 'entry page', test: { is: 'equal', to: page } },
                      ...(by === 'page'
                        ? []
                        : [{ type: 'text' as const, of: by, test: { is: 'equal' as const, to: from } }]),
                    ],
                  },
                })
              }
            />
          ) : (
            <Empty title="Nobody landed here">Choose other dates, or a wider lens.</Empty>
          )
        }
      </Answered>
    </div>
  )
}

/** Takes what campaigns cost from a CSV. */
function Costs({ costs }: { costs: readonly CampaignCost[] }) {
  const site = useSite()
  const client = useQueryClient()
  const file = useRef<HTMLInputElement>(null)
  const [bad, setBad] = useState<Error | null>(null)
  const save = useMutation({
    mutationFn: (rows: CampaignCost[]) => call(saveCosts, { site: site.key }, { costs: rows }),
    onSuccess: ({ lines, days }) => {
      void client.invalidateQueries({ queryKey: [listCosts.path] })
      toast(`${plural(lines, 'line')} taken, of ${plural(days, 'day')}.`)
    },
  })
  return (
    <>
      <input
        ref={file}
        type="file"
        accept=".csv,text/csv"
        aria-label="CSV with what campaigns cost"
        className="sr-only"
        onChange={({ target }) => {
          const chosen = target.files?.[0]
          target.value = ''
          setBad(null)
          if (!chosen) return
          void chosen
            .text()
            .then(readCosts)
            .then((rows) => save.mutate(rows))
            .catch((error: unknown) => setBad(error instanceof Error ? error : new Error(String(error))))
        }}
      />
      <Button
        title="Columns: day, campaign, cost. What is given for a day takes the place of what was there."
        onClick={() => file.current?.click()}
      >
        <Upload size={14} aria-hidden /> Costs as CSV …
      </Button>
      <span className="text-ink-soft">
        {costs.length
          ? `${plural(costs.length, 'line')}, ${costs[0]!.day} to ${costs.at(-1)!.day}`
          : 'columns: day, campaign, cost'}
      </span>
      {(bad ?? save.error) && <Failure error={(bad ?? save.error)!} />}
    </>
  )
}

/** What the sessions of a landing cost: the costs of its campaign on the days of the lens, shared out by sessions. */
function costsPerSession(
  costs: readonly CampaignCost[],
  landings: readonly LandingRow[],
  { from, to }: { from: string; to: string },
): (row: LandingRow) => number | null {
  const spent = new Map<string, number>()
  for (const { day, campaign, cost } of costs)
    if (day >= from && day <= to) spent.set(campaign, (spent.get(campaign) ?? 0) + cost)
  const sessions = new Map<string, number>()
  for (const row of landings) sessions.set(row.from, (sessions.get(row.from) ?? 0) + row.sessions)
  return (row) => {
    const cost = spent.get(row.from)
    return cost === undefined ? null : (cost * row.sessions) / sessions.get(row.from)!
  }
}
