import type { Dismissed } from '@dust-trail/api'
import { createFix, dismiss, listDismissed, listFixes, undismiss } from '@dust-trail/api'
import type { Candidate } from '@dust-trail/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { toast } from 'sonner'
import { call } from '../../api/call.ts'
import { useLens, useLensLink, useSite } from '../../app/lens.ts'
import { Button, Field, inputLook } from '../../ui/controls.tsx'
import { count, decimal, percent } from '../../ui/format.ts'
import { LinkButton } from '../../ui/link-button.tsx'
import { Popover } from '../../ui/popover.tsx'
import { Failure } from '../../ui/states.tsx'
import { pricedOf } from './candidate-price.tsx'
import { candidateWords } from './candidate-words.ts'
import { emptyFix } from './fix-fields.tsx'

const problemOf = ({ page, selector, kind, name }: Candidate): Dismissed['problem'] => ({
  ...{ page, selector, kind, name },
})

/** Whether a problem that was dismissed is this one. */
export function isSame(problem: Dismissed['problem'], candidate: Candidate): boolean {
  return (
    JSON.stringify(problemOf(candidate)) ===
    JSON.stringify({
      ...{ page: problem.page, selector: problem.selector, kind: problem.kind, name: problem.name },
    })
  )
}

/** Makes a fix of a problem at one press, or puts it aside with a reason. */
export function FoundActions({
  candidate,
  dismissed,
}: {
  candidate: Candidate
  dismissed: Dismissed | undefined
}) {
  const site = useSite()
  const { lens } = useLens()
  const linkTo = useLensLink()
  const navigate = useNavigate()
  const client = useQueryClient()
  const [open, setOpen] = useState(false)
  const [reason, setReason] = useState('')
  const renew = () => void client.invalidateQueries({ queryKey: [listDismissed.path] })
  const take = useMutation({
    mutationFn: () => call(createFix, { site: site.key }, { ...draftFrom(candidate), lens }),
    onSuccess: (fix) => {
      void client.invalidateQueries({ queryKey: [listFixes.path] })
      toast('Taken up as an idea.')
      void navigate(linkTo(`/fixes/${fix.id}`))
    },
    onError: (error) => toast(error.message),
  })
  const putAside = useMutation({
    mutationFn: () => call(dismiss, { site: site.key }, { problem: problemOf(candidate), reason }),
    onSuccess: () => {
      setOpen(false)
      renew()
    },
  })
  const takeBack = useMutation({
    mutationFn: (id: number) => call(undismiss, { site: site.key, id }),
    onSuccess: renew,
    onError: (error) => toast(error.message),
  })
  // The row opens the sessions; what stands in it does not.
  return (
    // eslint-disable-next-line jsx-a11y-x/click-events-have-key-events, jsx-a11y-x/no-static-element-interactions
    <span className="flex gap-3" onClick={(event) => event.stopPropagation()}>
      {dismissed ? (
        <LinkButton title={dismissed.reason} onClick={() => takeBack.mutate(dismissed.id)}>
          Take back: {dismissed.reason}
        </LinkButton>
      ) : (
        <>
          <LinkButton className="font-semibold" onClick={() => take.mutate()}>
            Take up
          </LinkButton>
          <Popover
            label="Dismiss"
            open={open}
            setOpen={setOpen}
            align="end"
            className="w-80 space-y-2 p-3"
            trigger={
              <button type="button" className="text-ink-soft hover:underline">
                Dismiss …
              </button>
            }
          >
            <form
              className="space-y-2"
              onSubmit={(event) => {
                event.preventDefault()
                if (reason.trim()) putAside.mutate()
              }}
            >
              <Field label="Why not?" hint="Kept with it; it can be taken back.">
                <input
                  required
                  maxLength={500}
                  className={inputLook}
                  value={reason}
                  onChange={({ target }) => setReason(target.value)}
                />
              </Field>
              {putAside.error && <Failure error={putAside.error} />}
              <Button type="submit" look="primary" disabled={!reason.trim() || putAside.isPending}>
                Dismiss
              </Button>
            </form>
          </Popover>
        </>
      )}
    </span>
  )
}

/** What is known of a problem, as the beginning of a fix. */
function draftFrom(candidate: Candidate) {
  const { page, exposed, carriedOn, expected, compared, price, met } = candidate
  return {
    ...emptyFix(`${candidateWords(candidate)}, ${page}`),
    hypothesis: `${count(exposed)} sessions met it; ${percent(carriedOn)} of them carried on, where ${percent(expected)} would have. Compared: ${compared}.`,
    expectation: `Up to about ${count(Math.max(0, Math.round(price.value)))} conversions more in 30 days (${decimal(price.low, 0)} to ${decimal(price.high, 0)}).`,
    expectedGain: Math.max(0, Math.round(price.value)),
    selection: met,
    sessionId: null,
    priced: pricedOf(candidate),
  }
}
