import type { Fix } from '@dust-trail/api'
import { getFix, listFixes, updateFix, verifyFix } from '@dust-trail/api'
import type { Verification } from '@dust-trail/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { toast } from 'sonner'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { useSite } from '../../app/lens.ts'
import { Button } from '../../ui/controls.tsx'
import { rangeText } from '../../ui/difference.tsx'
import { day, moment, percent, plural, points } from '../../ui/format.ts'
import { Failure, Loading } from '../../ui/states.tsx'
import { strainText } from '../friction/strain-parts.tsx'
import { draftOf } from './fix-fields.tsx'

/** Whether a fix that was shipped did what it was meant to: before and after, in words first. */
export function Verify({ fix }: { fix: Fix }) {
  const site = useSite()
  const client = useQueryClient()
  const answer = useEndpoint(verifyFix, { site: site.key, id: fix.id }, undefined)
  const confirm = useMutation({
    mutationFn: () =>
      call(updateFix, { site: site.key, id: fix.id }, { ...draftOf(fix), status: 'verified' as const }),
    onSuccess: () => {
      for (const { path } of [getFix, listFixes]) void client.invalidateQueries({ queryKey: [path] })
      toast('Verified: what was found is kept.')
    },
  })
  const { data } = answer
  const found = data?.verification
  return (
    <section aria-label="Did it work?">
      <h2 className="mb-1">Did it work?</h2>
      {answer.error && <Failure error={answer.error} />}
      {answer.isPending && !answer.error && <Loading rows={2} />}
      {data && !found && (
        <p className="text-ink-soft">
          Cannot tell yet: there is no full day with data after {day(fix.shippedDay!)}.
        </p>
      )}
      {data?.windows && found && (
        <>
          <p>
            <strong>{capital(found.verdict)}.</strong> {found.reason}
          </p>
          <p className="mb-2 text-ink-soft">
            {plural(data.windows.days, 'day')} after {day(fix.shippedDay!)} ({day(data.windows.after.from)} –{' '}
            {day(data.windows.after.to)}) against as many before it, on the same weekdays (
            {day(data.windows.before.from)} – {day(data.windows.before.to)}).
          </p>
          <Changes found={found} />
          {fix.status === 'shipped' && (
            <Button className="mt-2" disabled={confirm.isPending} onClick={() => confirm.mutate()}>
              Keep as verified
            </Button>
          )}
          {confirm.error && <Failure error={confirm.error} />}
        </>
      )}
      {fix.verified && (
        <p className="mt-2 text-ink-soft">
          Verified {moment(fix.verified.atMs, site.timeZone)}: {fix.verified.verdict}. {fix.verified.reason}
        </p>
      )}
    </section>
  )
}

const capital = (words: string) => words.charAt(0).toUpperCase() + words.slice(1)

function Changes({ found: { met, converted, guardrails } }: { found: Verification }) {
  return (
    <table className="w-full table-fixed rounded-md border border-line bg-sheet">
      <thead>
        <tr>
          <th className="cell">Share that</th>
          <th className="cell cell-n w-24">Before</th>
          <th className="cell cell-n w-24">After</th>
          <th className="cell cell-n w-72">Difference, 95 % interval</th>
        </tr>
      </thead>
      <tbody>
        {[met, converted, ...guardrails].map((change) => {
          const isStrain = change.what === 'strain'
          const value = (n: number | null) => (n === null ? '–' : isStrain ? strainText(n) : percent(n))
          return (
            <tr key={change.what} className={change.worse ? 'text-clay' : ''}>
              <td className="cell truncate">{change.what}</td>
              <td className="cell cell-n">{value(change.before)}</td>
              <td className="cell cell-n">{value(change.after)}</td>
              <td className="cell cell-n">
                {change.difference === null
                  ? 'nothing to compare'
                  : isStrain
                    ? `${strainText(change.difference)} (${change.interval.map(strainText).join(' to ')})`
                    : `${points(change.difference)} (${rangeText(change.interval)})`}
                {change.worse && ' · worse'}
              </td>
            </tr>
          )
        })}
      </tbody>
    </table>
  )
}
