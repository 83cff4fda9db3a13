import { createFix, listFixes } from '@dust-trail/api'
import type { CloseUpAnswer, Lens, Selection } from '@dust-trail/core'
import { questions } from '@dust-trail/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { toast } from 'sonner'
import { call } from '../../api/call.ts'
import { useQuestion } from '../../api/use-question.ts'
import { goalName, useLens, useLensLink, useSite } from '../../app/lens.ts'
import { Field, Select } from '../../ui/controls.tsx'
import { Dialog } from '../../ui/dialog.tsx'
import { useDraft, useForget } from '../../ui/draft.ts'
import { FormDialog } from '../../ui/form-dialog.tsx'
import { Failure, Loading } from '../../ui/states.tsx'
import { elementName } from '../../words/selections.ts'
import { describeSelection } from '../../words/sentences.ts'
import { candidateFor, CandidatePrice, pricedOf } from './candidate-price.tsx'
import { emptyFix, FixFields } from './fix-fields.tsx'
import { PriceTable } from './price-table.tsx'

/** Problems offered in the dialog: the most frequent; the rest can be opened first and proposed from there. */
const MOST_PROBLEMS = 12

interface Props {
  selection: Selection
  troubles: CloseUpAnswer['troubles']
  sessionId: string | null
  /** whose days and filters it is seen through; the lens where it is missing */
  through?: Lens
  close: () => void
}

/** Writes down a fix for what a close-up shows, with the evidence of the day. */
export function ProposeFix({ selection, troubles, sessionId, through, close }: Props) {
  const site = useSite()
  const { lens: own } = useLens()
  const lens = through ?? own
  const linkTo = useLensLink()
  const navigate = useNavigate()
  const client = useQueryClient()
  const problems = problemsOf(selection, troubles)
  const [chosen, setChosen] = useState(0)
  const problem = problems[chosen]
  const draft = `fix/${JSON.stringify(selection)}`
  const forget = useForget()
  const [fields, setFields] = useDraft(draft, emptyFix(problem ? describeSelection(problem) : ''))
  const price = useQuestion(
    questions.price,
    lens,
    { selection: problem ?? selection },
    { enabled: problem !== undefined, keep: false },
  )
  const candidates = useQuestion(questions.candidates, lens, {}).data?.candidates
  const found = problem && candidates && candidateFor(candidates, problem)
  const save = useMutation({
    mutationFn: () =>
      call(
        createFix,
        { site: site.key },
        { ...fields, lens, selection: problem!, sessionId, priced: pricedOf(found) },
      ),
    onSuccess: (fix) => {
      void client.invalidateQueries({ queryKey: [listFixes.path] })
      forget(draft)
      toast('Fix proposed.')
      close()
      void navigate(linkTo(`/fixes/${fix.id}`))
    },
  })
  const about = { title: 'Propose a fix', description: describeSelection(selection), wide: true }
  if (problems.length === 0)
    return (
      <Dialog open onClose={close} {...about}>
        <p>
          These sessions met no signal that we detect, so there is nothing to set a price on. Open an element
          on the page’s heat map or a signal, and propose the fix from there.
        </p>
      </Dialog>
    )
  return (
    <FormDialog
      {...about}
      close={close}
      submit={() => save.mutate()}
      submitText="Propose fix"
      ready={!!price.data}
      saving={save.isPending}
      error={save.error}
    >
      <Field label="What they met" hint="Its sessions are compared with the others that saw the same page.">
        <Select
          className="w-full"
          value={chosen}
          onChange={(event) => {
            const next = Number(event.target.value)
            setFields((before) =>
              before.title === describeSelection(problems[chosen]!)
                ? { ...before, title: describeSelection(problems[next]!) }
                : before,
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
      {problem && <CandidatePrice problem={problem} />}
      <p className="mb-1 text-ink-soft">Beside it, as a plain comparison:</p>
      {price.error ? (
        <Failure error={price.error} />
      ) : price.data ? (
        <PriceTable price={price.data} goal={goalName(site)} />
      ) : (
        <Loading rows={2} />
      )}
      <FixFields fields={fields} setFields={setFields} />
    </FormDialog>
  )
}

/** What can be priced: the selection itself where it names a problem, else the signals its sessions met. */
function problemsOf(selection: Selection, troubles: CloseUpAnswer['troubles']): Selection[] {
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
