import type { AnswerOf } from '@dust-trail/core'
import { endpointOf } from '@dust-trail/api'
import { meanDifference, questions } from '@dust-trail/core'
import { useQueries } from '@tanstack/react-query'
import { call } from '../../api/call.ts'
import { useSites } from '../../api/queries.ts'
import { useLens, useSite } from '../../app/lens.ts'
import { verdictOf } from '../../ui/difference.tsx'
import { plural } from '../../ui/format.ts'
import { strainText } from './strain-parts.tsx'

type Answer = AnswerOf<typeof questions.strain>

/** The strain of this site held against that of the others that this installation knows, in the same days. */
export function AllSites({ own }: { own: Answer }) {
  const site = useSite()
  const { lens } = useLens()
  const others = useSites().data?.filter(({ key }) => key !== site.key) ?? []
  const { from, to } = lens
  const answers = useQueries({
    queries: others.map(({ key }) => ({
      queryKey: ['strain of', key, from, to],
      queryFn: ({ signal }: { signal: AbortSignal }) =>
        call(endpointOf(questions.strain), { site: key }, { lens: { from, to } }, signal),
    })),
  })
  if (!others.length) return null
  return (
    <section aria-label="Against all sites" className="mt-4">
      <h2>Against the other sites here, in the same days</h2>
      <ul>
        {others.map(({ key, name }, k) => (
          <li key={key}>
            {name}: {answers[k]?.data ? against(own, answers[k].data) : 'adding up …'}
          </li>
        ))}
      </ul>
      <p className="text-ink-soft">Each by its own weights and thresholds, without filters.</p>
    </section>
  )
}

function against(own: Answer, other: Answer): string {
  if (other.mean === null) return 'no sessions.'
  const apart = meanDifference({ n: own.sessions, ...own }, { n: other.sessions, ...other })
  const words = `${strainText(other.mean)} over ${plural(other.sessions, 'session')}`
  if (!apart) return `${words}.`
  const { difference, interval } = apart
  const sure = verdictOf(difference, interval) === 'cannot tell' ? 'which may be noise' : 'more than noise'
  return `${words}; here it is ${difference > 0 ? '+' : ''}${strainText(difference)}, ${sure}.`
}
