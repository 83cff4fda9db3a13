import { endpointOf } from '@dust-trail/api'
import type { FunnelAnswer, FunnelOptions, FunnelStepAnswer, Rate, Selection, Step } from '@dust-trail/core'
import { questions } from '@dust-trail/core'
import { Download } from 'lucide-react'
import { memo, useState } from 'react'
import { toast } from 'sonner'
import { table } from '../../api/call.ts'
import { useLens, useSite } from '../../app/lens.ts'
import { Button } from '../../ui/controls.tsx'
import type { DataColumn } from '../../ui/data-table.tsx'
import { DataTable } from '../../ui/data-table.tsx'
import { count, duration, percent } from '../../ui/format.ts'
import { LinkButton } from '../../ui/link-button.tsx'
import { saveFile } from '../../ui/save-file.ts'

/** The numbers of the picture, all of them, with their intervals; each count opens. */
export const FunnelTable = memo(function FunnelTable({
  steps,
  options,
  result,
  open,
}: {
  steps: Step[]
  options: FunnelOptions
  result: FunnelAnswer
  open: (selection: Selection) => void
}) {
  const site = useSite()
  const { lens } = useLens()
  const [shown, setShown] = useState(false)
  const download = async () => {
    try {
      const csv = await table(endpointOf(questions.funnel), { site: site.key }, { lens, steps, options })
      saveFile(csv, 'funnel.csv')
    } catch (error) {
      toast(error instanceof Error ? error.message : String(error))
    }
  }
  const opening = (step: number, side: 'reached' | 'dropped', n: number) => (
    <LinkButton onClick={() => open({ type: 'funnel', steps, options, step, side })}>{count(n)}</LinkButton>
  )
  const columns: DataColumn<FunnelStepAnswer>[] = [
    {
      id: 'step',
      head: 'Step',
      cell: ({ name }, k) => `${k + 1}. ${name}`,
      title: ({ name }) => name,
      className: 'font-semibold',
    },
    {
      id: 'reached',
      head: options.per === 'visitor' ? 'Visitors' : 'Sessions',
      cell: ({ sessions }, k) => opening(k, 'reached', sessions),
      numeric: true,
      width: 88,
    },
    rateColumn('of previous', 'Of those at the step before', ({ ofPrevious }) => ofPrevious),
    rateColumn('of entered', 'Of all who entered', ({ ofEntered }) => ofEntered),
    {
      id: 'lost',
      head: 'Lost',
      cell: ({ lost }, k) => (k + 1 < steps.length ? opening(k, 'dropped', lost) : '–'),
      numeric: true,
      width: 76,
    },
    {
      id: 'to next',
      head: 'To next: median (middle half)',
      cell: ({ toNext }) => spreadText(toNext),
      numeric: true,
      width: 244,
      folds: 1,
    },
  ]
  return (
    <details
      className="mt-4 rounded-md border border-line bg-sheet"
      open={shown}
      onToggle={(event) => setShown(event.currentTarget.open)}
    >
      <summary className="cursor-pointer px-2.5 py-1.5 font-semibold">All numbers as a table</summary>
      {/* What is not looked at is not drawn. */}
      {shown && (
        <>
          <DataTable
            name="funnel"
            label="Numbers of the funnel"
            className="border-t border-line"
            rows={result.steps}
            columns={columns}
            rowKey={(_, k) => String(k)}
          />
          <p className="flex items-center gap-3 border-t border-line px-2.5 py-1.5 text-ink-soft">
            <span className="flex-1">In brackets 95 % Wilson intervals; times by linear interpolation.</span>
            <Button onClick={() => void download()}>
              <Download size={14} aria-hidden /> Download CSV
            </Button>
          </p>
        </>
      )}
    </details>
  )
})

function rateColumn(
  id: string,
  head: string,
  rateOf: (step: FunnelStepAnswer) => Rate,
): DataColumn<FunnelStepAnswer> {
  return {
    id,
    head,
    cell: (step) => {
      const { interval, ...rate } = rateOf(step)
      return (
        <>
          {percent(rate.share)} of {count(rate.base)}{' '}
          <span className="text-ink-soft">
            ({percent(interval[0])} to {percent(interval[1])})
          </span>
        </>
      )
    },
    numeric: true,
    width: 244,
  }
}

/** The middle of some durations, and between which half of them lie. */
export function spreadText({ medianMs, p25Ms, p75Ms }: FunnelStepAnswer['toNext']): string {
  if (medianMs === null) return '–'
  return `${duration(medianMs)} (${duration(p25Ms ?? 0)} to ${duration(p75Ms ?? 0)})`
}
