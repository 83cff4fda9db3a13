import { questions } from '@dust-trail/core'
import { Link } from 'react-router'
import { useQuestion } from '../../api/use-question.ts'
import { comparedLens, goalName, today, useLens, useLensLink, useSite, useVersus } from '../../app/lens.ts'
import { NoSessions } from '../../app/no-sessions.tsx'
import { keptTable } from '../../trail/kept-table.ts'
import { useView } from '../../trail/view.tsx'
import { daysText } from '../../ui/format.ts'
import { Empty, Failure, Loading, Settling } from '../../ui/states.tsx'
import { EVERYONE } from '../../words/selections.ts'
import { CostsMost } from './costs-most.tsx'
import { GuidedStart } from './guided-start.tsx'
import { LargestLeaks } from './largest-leaks.tsx'
import { MainResult } from './main-result.tsx'
import { Measures } from './measures.tsx'
import { NewSince } from './new-since.tsx'
import { Pinned } from './pinned.tsx'
import { WorthALook } from './worth-a-look.tsx'

/** Is something wrong today, and where does most go astray? Where the application opens. */
export function AimPage() {
  const site = useSite()
  const { lens } = useLens()
  const [versus] = useVersus()
  const linkTo = useLensLink()
  const earlier = comparedLens(lens, versus === 'none' ? 'before' : versus)!
  // By landing page, since what is new or worse needs that as well: one question for both.
  const now = useQuestion(questions.goals, lens, { by: 'entry page' })
  const before = useQuestion(questions.goals, earlier, { by: 'entry page' })
  useView({
    words: 'All sessions in the lens',
    question: { lens, selection: EVERYONE },
    tables: [
      keptTable(questions.goals, 'Goals', {}, [
        ['name', 'Goal'],
        ['reached.share', 'Reached', 'percent'],
        ['reached.hits', 'Sessions', 'count'],
        ['visitors', 'Visitors', 'count'],
        ['value', 'Value', 'decimal'],
      ]),
    ],
  })
  const error = now.error ?? before.error
  const days = daysText(earlier.from, earlier.to, today(site.timeZone))
  return (
    <div className="space-y-5 px-5 py-3">
      <header>
        <h1>Aim</h1>
        <p className="text-ink-soft">
          How far are visitors from the goal, and what has changed since {days}?
        </p>
      </header>
      <GuidedStart />
      {error && <Failure error={error} retry={() => void Promise.all([now.refetch(), before.refetch()])} />}
      {(now.isPending || before.isPending) && !error && <Loading />}
      {now.data?.sessions === 0 && <NoSessions />}
      {now.data && before.data && now.data.sessions > 0 && (
        <Settling stale={now.isPlaceholderData || before.isPlaceholderData} className="space-y-5">
          {!goalName(site) ? (
            <Empty title="This site has no goal yet">
              Name one in{' '}
              <Link className="text-spruce underline" to={linkTo('/setup')}>
                Setup
              </Link>
              : a page, an action, anything that counts as success.
            </Empty>
          ) : (
            <div className="grid grid-cols-[minmax(0,3fr)_minmax(0,2fr)] gap-5">
              <MainResult now={now.data} before={before.data} days={days} />
              <Measures now={now.data} before={before.data} earlier={earlier} />
            </div>
          )}
          <div className="grid grid-cols-2 gap-5">
            <LargestLeaks earlier={earlier} />
            <NewSince earlier={earlier} />
          </div>
          <div className="grid grid-cols-2 gap-5">
            <CostsMost />
            <WorthALook />
          </div>
          <Pinned />
        </Settling>
      )}
    </div>
  )
}
