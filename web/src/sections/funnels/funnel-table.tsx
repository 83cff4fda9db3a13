import { askFunnel } from '@dust-trail/api'
import type { FunnelOptions, FunnelResult, Selection, Step } from '@dust-trail/core'
import { Download } from 'lucide-react'
import { memo, useState } from 'react'
import { toast } from 'sonner'
import { table } from '../../api/call.ts'
import { useLens, useSite } from '../../app/lens.ts'
import { Button } from '../../ui/controls.tsx'
import { count, duration, percent } from '../../ui/format.ts'

/** The numbers of the picture, all of them, with their intervals; each count opens. */
export const FunnelTable = memo(function FunnelTable({
  steps,
  options,
  result,
  open,
}: {
  steps: Step[]
  options: FunnelOptions
  result: FunnelResult
  open: (selection: Selection) => void
}) {
  const site = useSite()
  const { lens } = useLens()
  const [shown, setShown] = useState(false)
  const unit = options.per === 'visitor' ? 'Visitors' : 'Sessions'
  const download = async () => {
    try {
      const csv = await table(askFunnel, { site: site.key }, { lens, steps, options })
      const link = document.createElement('a')
      link.href = URL.createObjectURL(csv)
      link.download = 'funnel.csv'
      link.click()
      URL.revokeObjectURL(link.href)
    } catch (error) {
      toast(error instanceof Error ? error.message : String(error))
    }
  }
  const opening = (step: number, side: 'reached' | 'dropped', n: number) => (
    <button
      type="button"
      className="text-spruce hover:underline"
      onClick={() => open({ type: 'funnel', steps, options, step, side })}
    >
      {count(n)}
    </button>
  )
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
          <table className="w-full border-t border-line" aria-label="Numbers of the funnel">
            <thead>
              <tr>
                <th className="cell">Step</th>
                <th className="cell cell-n">{unit}</th>
                <th className="cell cell-n">Of those at the step before</th>
                <th className="cell cell-n">Of all who entered</th>
                <th className="cell cell-n">Lost</th>
                <th className="cell cell-n">To next: median (middle half)</th>
              </tr>
            </thead>
            <tbody>
              {result.steps.map(({ name, sessions, ofPrevious, ofEntered, lost, toNext }, k) => (
                <tr key={k}>
                  <td className="cell max-w-64 truncate font-semibold" title={name}>
                    {k + 1}. {name}
                  </td>
                  <td className="cell cell-n">{opening(k, 'reached', sessions)}</td>
                  {[ofPrevious, ofEntered].map(({ share, base, interval: [low, high] }, i) => (
                    <td key={i} className="cell cell-n">
                      {percent(share)} of {count(base)}{' '}
                      <span className="text-ink-soft">
                        ({percent(low)} to {percent(high)})
                      </span>
                    </td>
                  ))}
                  <td className="cell cell-n">{k + 1 < steps.length ? opening(k, 'dropped', lost) : '–'}</td>
                  <td className="cell cell-n">
                    {toNext.medianMs === null
                      ? '–'
                      : `${duration(toNext.medianMs)} (${duration(toNext.p25Ms ?? 0)} to ${duration(toNext.p75Ms ?? 0)})`}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
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
