import { questions, SIGNAL_KINDS, signalTraits } from '@dust-trail/core'
import { Link, useParams } from 'react-router'
import { useQuestion } from '../../api/use-question.ts'
import { useLens, useLensLink } from '../../app/lens.ts'
import { useView } from '../../trail/view.tsx'
import { plural } from '../../ui/format.ts'
import { Empty, Failure, Loading, Settling } from '../../ui/states.tsx'
import { HotSpots } from './hot-spots.tsx'
import { Thresholds } from './thresholds.tsx'

/** One kind of signal: what it means, where it is met, from where on it counts. */
export function KindPage() {
  const { kind: named } = useParams()
  const kind = SIGNAL_KINDS.find((one) => one === named)
  const { lens } = useLens()
  const linkTo = useLensLink()
  const answer = useQuestion(questions.friction, lens, {}, { enabled: kind !== undefined })
  useView({ words: 'All sessions in the lens', question: { lens, selection: { type: 'everyone' } } })
  const back = (
    <Link className="text-spruce hover:underline" to={linkTo('/friction')}>
      All friction
    </Link>
  )
  if (!kind)
    return (
      <div className="px-5 py-3">
        <Empty title={`There is no signal called “${named}”`}>{back}</Empty>
      </div>
    )
  const { technical, means } = signalTraits(kind)
  const spots = answer.data?.spots.filter((spot) => spot.kind === kind) ?? []
  return (
    <div className="space-y-5 px-5 py-3">
      <header className="flex items-start gap-3">
        <div className="min-w-0 flex-1">
          <h1 className="first-letter:uppercase">{kind}</h1>
          <p className="text-ink-soft">
            What it is: {means}. It points to {technical ? 'a technical fault' : 'the interface'} first.
          </p>
        </div>
        {back}
      </header>
      {answer.error && <Failure error={answer.error} retry={() => void answer.refetch()} />}
      {answer.isPending && !answer.error && <Loading />}
      {answer.data && (
        <Settling stale={answer.isPlaceholderData}>
          <section aria-label="Where it is met">
            <h2>
              Where it is met: {plural(spots.length, 'spot')}, {plural(answer.data.sessions, 'session')} in
              the lens
            </h2>
            {spots.length ? (
              <HotSpots spots={spots} answer={answer.data} />
            ) : answer.data.notMeasured.includes(kind) ? (
              <p className="text-ink-soft">Not measured: the data of the lens do not tell it.</p>
            ) : (
              <p className="text-ink-soft">No session of the lens met it.</p>
            )}
          </section>
        </Settling>
      )}
      <Thresholds key={kind} kind={kind} />
    </div>
  )
}
