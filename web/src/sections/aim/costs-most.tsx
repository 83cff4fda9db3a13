import { questions } from '@dust-trail/core'
import { Link } from 'react-router'
import { useQuestion } from '../../api/use-question.ts'
import { useLens, useLensLink } from '../../app/lens.ts'
import { useSelection } from '../../closeup/use-selection.ts'
import { LinkButton } from '../../ui/link-button.tsx'
import { Failure } from '../../ui/states.tsx'
import { candidateWords } from '../fixes/candidate-words.ts'
import { PriceBar } from '../fixes/price-bar.tsx'

const SHOWN = 4

/** The problems that cost most, and the way to the whole list. */
export function CostsMost() {
  const { lens } = useLens()
  const linkTo = useLensLink()
  const { setSelection } = useSelection()
  const answer = useQuestion(questions.candidates, lens, {})
  const rows = answer.data?.candidates.slice(0, SHOWN) ?? []
  const most = Math.max(1, ...rows.map(({ price }) => price.high))
  return (
    <section aria-label="What costs most">
      <h2 className="mb-1">What costs most</h2>
      {answer.error && <Failure error={answer.error} />}
      <p className="mb-1 text-ink-soft">
        {!answer.data
          ? 'Pricing …'
          : rows.length
            ? 'Conversions lost in 30 days, with the 95 % interval.'
            : 'No problem stands out from chance in this lens.'}{' '}
        <Link className="text-spruce hover:underline" to={linkTo('/fixes')}>
          All fixes
        </Link>
      </p>
      {rows.length > 0 && (
        <ol className="divide-y divide-line rounded-md border border-line bg-sheet">
          {rows.map((row) => (
            <li key={row.rank} className="px-3 py-1.5">
              <LinkButton className="font-semibold" onClick={() => setSelection(row.met)}>
                {candidateWords(row)}, {row.page}
              </LinkButton>
              <PriceBar value={row.price.value} low={row.price.low} high={row.price.high} most={most} />
              <p className="text-ink-soft">
                That it costs is {row.whether === 'cannot tell' ? 'not clear yet' : row.whether}.
              </p>
            </li>
          ))}
        </ol>
      )}
    </section>
  )
}
