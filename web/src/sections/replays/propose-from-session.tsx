import type { SessionSummary } from '@dust-trail/core'
import { questions } from '@dust-trail/core'
import { useQuestion } from '../../api/use-question.ts'
import { useLens } from '../../app/lens.ts'
import { Dialog } from '../../ui/dialog.tsx'
import { Failure, Loading } from '../../ui/states.tsx'
import { ProposeFix } from '../fixes/propose-fix.tsx'

/** A fix for something that this session met: priced on everybody in the lens, with the session as its evidence. */
export function ProposeFromSession({ summary, close }: { summary: SessionSummary; close: () => void }) {
  const { lens } = useLens()
  const selection = {
    type: 'where' as const,
    condition: {
      type: 'text' as const,
      of: 'visitor' as const,
      test: { is: 'equal' as const, to: summary.visitor },
    },
  }
  const answer = useQuestion(questions.closeUp, lens, { selection, against: undefined }, { keep: false })
  if (!answer.data)
    return (
      <Dialog open onClose={close} title="Propose a fix">
        {answer.error ? <Failure error={answer.error} /> : <Loading label="Looking at what it met" />}
      </Dialog>
    )
  return (
    <ProposeFix selection={selection} troubles={answer.data.troubles} sessionId={summary.id} close={close} />
  )
}
