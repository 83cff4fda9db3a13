import { createFix, listFixes } from '@dust-trail/api'
import type { CloseUpResult, Selection } from '@dust-trail/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { useNavigate, useSearchParams } from 'react-router'
import { toast } from 'sonner'
import { call } from '../../api/call.ts'
import { usePrice } from '../../api/queries.ts'
import { keepLens, useLens, useSite } from '../../app/lens.ts'
import { describeSelection, elementName } from '../../closeup/describe.ts'
import { Button, Field, Select } from '../../ui/controls.tsx'
import { useDraft, useForget } from '../../ui/draft.ts'
import { Dialog } from '../../ui/dialog.tsx'
import { Failure, Loading } from '../../ui/states.tsx'
import { FixFields, emptyFix } from './fix-fields.tsx'
import { PriceTable } from './price-table.tsx'

/** Problems offered in the dialog: the most frequent; the rest can be opened first and proposed from there. */
const MOST_PROBLEMS = 12

interface Props {
  selection: Selection
  troubles: CloseUpResult['troubles']
  sessionId: string | null
  close: () => void
}

/** Writes down a fix for what a close-up shows, with the evidence of the day. */
export function ProposeFix({ selection, troubles, sessionId, close }: Props) {
  const site = useSite()
  const { lens } = useLens()
  const [parameters] = useSearchParams()
  const navigate = useNavigate()
  const client = useQueryClient()
  const problems = problemsOf(selection, troubles)
  const [chosen, setChosen] = useState(0)
  const problem = problems[chosen]
  const draft = `fix/${JSON.stringify(selection)}`
  const forget = useForget()
  const [fields, setFields] = useDraft(draft, emptyFix(problem ? describeSelection(problem) : ''))
  const price = usePrice(site.key, { lens, selection: problem ?? selection }, problem !== undefined)
  const save = useMutation({
    mutationFn: () =>
      call(createFix, { site: site.key }, { ...fields, lens, selection: problem!, sessionId }),
    onSuccess: (fix) => {
      void client.invalidateQueries({ queryKey: [listFixes.path] })
      forget(draft)
      toast('Fix proposed.')
      close()
      void navigate(keepLens(`/fixes/${fix.id}`, parameters))
    },
  })
  return (
    <Dialog open onClose={close} wide title="Propose a fix" description={describeSelection(selection)}>
      {problems.length === 0 ? (
        <p>
          These sessions met no signal that we detect, so there is nothing to set a price on. Open an element
          on the page’s heat map or a signal, and propose the fix from there.
        </p>
      ) : (
        <form
          className="space-y-4"
          onSubmit={(event) => {
            event.preventDefault()
            save.mutate()
          }}
        >
          <Field
            label="What they met"
            hint="Its sessions are compared with the others that saw the same page."
          >
            <Select
              className="w-full"
              value={chosen}
              onChange={(event) => {
                const next = Number(event.target.value)
                setFields((known) =>
                  known.title === describeSelection(problems[chosen]!)
                    ? { ...known, title: describeSelection(problems[next]!) }
                    : known,
                )
                setChosen(next)
              }}
            >
              {problems.map((candidate, i) => (
                <option key={i} value={i}>
                  {describeSelection(candidate)}
                </option>
              ))}
            </Select>
          </Field>
          {price.error ? (
            <Failure error={price.error} />
          ) : price.data ? (
            <PriceTable price={price.data} goal={site.goal} />
          ) : (
            <Loading rows={2} />
          )}
          <FixFields fields={fields} setFields={setFields} />
          {save.error && <Failure error={save.error} />}
          <div className="flex justify-end gap-2">
            <Button onClick={close}>Cancel</Button>
            <Button type="submit" look="primary" disabled={save.isPending || !price.data}>
              Propose fix
            </Button>
          </div>
        </form>
      )}
    </Dialog>
  )
}

/** What can be priced: the selection itself where it names a problem, else the signals its sessions met. */
function problemsOf(selection: Selection, troubles: CloseUpResult['troubles']): Selection[] {
  const signals = troubles.slice(0, MOST_PROBLEMS).map(({ kind, page, selector, text }): Selection => ({
    type: 'signal',
    kind,
    page,
    selector,
    text: elementName(text, selector).replaceAll(/[“”]/g, '').slice(0, 80),
  }))
  const named =
    selection.type === 'signal' || (selection.type === 'clicks' && selection.selector !== undefined)
  return named ? [selection, ...signals] : signals
}
