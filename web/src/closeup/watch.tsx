import type { Lens, Selection, WatchOrder } from '@dust-trail/core'
import { questions } from '@dust-trail/core'
import { useState } from 'react'
import { useQuestion } from '../api/use-question.ts'
import { useLens } from '../app/lens.ts'
import { Button } from '../ui/controls.tsx'
import { count } from '../ui/format.ts'
import { RadioGroup } from '../ui/radio-group.tsx'
import { Empty, Failure, Loading, Settling } from '../ui/states.tsx'
import { SessionList } from './session-list.tsx'

const PAGE = 50
const MOST = 200

/** The selected sessions, of the lens or another, as a list, most telling first; each opens at its moment. */
export function Watch({ selection, through }: { selection: Selection; through?: Lens }) {
  const throughLens = useLens().lens
  const lens = through ?? throughLens
  const [order, setOrder] = useState<WatchOrder>('telling')
  const [limit, setLimit] = useState(PAGE)
  const answer = useQuestion(questions.sessions, lens, { selection, order, limit })
  if (answer.error) return <Failure error={answer.error} retry={() => void answer.refetch()} />
  if (!answer.data) return <Loading />
  const { sessions, total } = answer.data
  if (!total) return <Empty title="No sessions">Widen the dates or take filters away.</Empty>
  return (
    <>
      <div className="flex items-center gap-3 px-3 py-2">
        <RadioGroup
          label="Order"
          value={order}
          onChange={setOrder}
          options={[
            ['telling', 'Most telling'],
            ['newest', 'Newest'],
            ['longest', 'Longest'],
          ]}
        />
        <span className="text-ink-soft">
          {count(sessions.length)} of {count(total)} sessions
        </span>
      </div>
      <Settling stale={answer.isPlaceholderData}>
        <SessionList sessions={sessions} />
      </Settling>
      {limit < Math.min(total, MOST) && (
        <div className="p-3">
          <Button onClick={() => setLimit(Math.min(MOST, limit + PAGE))}>Show more</Button>
        </div>
      )}
      {limit >= MOST && total > MOST && (
        <p className="p-3 text-ink-soft">The first {MOST} are listed. Narrow the selection to see others.</p>
      )}
    </>
  )
}
