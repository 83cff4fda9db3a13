import type { Fix } from '@dust-trail/api'
import type { Candidate, Selection, SignalKind } from '@dust-trail/core'
import { questions, withoutPlaces } from '@dust-trail/core'
import { useQuestion } from '../../api/use-question.ts'
import { useLens } from '../../app/lens.ts'
import { count, decimal } from '../../ui/format.ts'
import { Failure, Loading } from '../../ui/states.tsx'

/** Signals that are told of something else than what was tried: a form for its button, a page for what is slow. */
const TOLD_OF_ANOTHER: Partial<Record<SignalKind, readonly Candidate['kind'][]>> = {
  'failed submit': ['refused form'],
  'slow page': ['slow page', 'became slow'],
}

/** The candidate that a problem is, among those that were priced. */
export function candidateFor(candidates: readonly Candidate[], problem: Selection): Candidate | undefined {
  const same = JSON.stringify(problem)
  const exact = candidates.find(({ met }) => JSON.stringify(met) === same)
  if (exact || (problem.type !== 'signal' && problem.type !== 'clicks')) return exact
  const here = candidates.filter(({ page }) => page === problem.page)
  const kinds = problem.type === 'signal' ? TOLD_OF_ANOTHER[problem.kind] : undefined
  if (kinds) return here.find(({ kind }) => kinds.includes(kind))
  const element = withoutPlaces(problem.selector ?? '')
  return element ? here.find(({ selector }) => withoutPlaces(selector) === element) : undefined
}

/** The price of a candidate as it is kept with a fix. */
export function pricedOf(found: Candidate | undefined): Fix['priced'] {
  if (!found) return null
  const { price, money, whether, compared } = found
  return { ...price, money: money?.value ?? null, whether, compared }
}

/** What a problem costs, by comparison with people who were at the same point; says so where it is not among those that cost. */
export function CandidatePrice({ problem }: { problem: Selection }) {
  const { lens } = useLens()
  const answer = useQuestion(questions.candidates, lens, {})
  if (answer.error) return <Failure error={answer.error} retry={() => void answer.refetch()} />
  if (!answer.data) return <Loading rows={1} />
  const found = candidateFor(answer.data.candidates, problem)
  return (
    <p className="mb-2">
      {found ? (
        <>
          <strong>About {count(Math.round(found.price.value))} conversions lost in 30 days</strong> (95 %
          interval {decimal(found.price.low, 0)} to {decimal(found.price.high, 0)}): {found.compared}. That it
          costs is {found.whether === 'cannot tell' ? 'not clear yet' : found.whether}; how much is{' '}
          {found.howMuch}.
        </>
      ) : (
        <>
          <strong>No price.</strong> It is not among the problems that stand out from chance in this lens.
        </>
      )}
    </p>
  )
}
