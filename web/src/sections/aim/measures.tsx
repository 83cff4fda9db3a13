import type { Lens } from '@dust-trail/core'
import { difference, meanDifference, questions } from '@dust-trail/core'
import { Link } from 'react-router'
import { useQuestion } from '../../api/use-question.ts'
import { useLens, useLensLink } from '../../app/lens.ts'
import { useSelection } from '../../closeup/use-selection.ts'
import { verdictOf } from '../../ui/difference.tsx'
import { count, percent, points } from '../../ui/format.ts'
import { LinkButton } from '../../ui/link-button.tsx'
import { EVERYONE } from '../../words/selections.ts'
import { strainText } from '../friction/strain-parts.tsx'
import { useGoalSelection } from './goal-selection.ts'
import type { GoalsAnswer } from './main-result.tsx'

/** What feeds the main result: how many came, the other goals, how hard it was. */
export function Measures({ now, before, earlier }: { now: GoalsAnswer; before: GoalsAnswer; earlier: Lens }) {
  const { lens } = useLens()
  const linkTo = useLensLink()
  const { setSelection } = useSelection()
  const selectionOf = useGoalSelection()
  const hard = useQuestion(questions.strain, lens, {}).data
  const hardBefore = useQuestion(questions.strain, earlier, {}).data
  const strainGap =
    hard &&
    hardBefore &&
    meanDifference({ n: hard.sessions, ...hard }, { n: hardBefore.sessions, ...hardBefore })
  return (
    <section aria-label="What feeds it" className="rounded-md border border-line bg-sheet p-3">
      <h2 className="mb-1">What feeds it</h2>
      <table className="w-full table-fixed">
        <thead>
          <tr>
            <th className="cell !pl-0">Measure</th>
            <th className="cell cell-n w-18">Now</th>
            <th className="cell cell-n w-18">Before</th>
            <th className="cell cell-n w-28 !pr-0">Change</th>
          </tr>
        </thead>
        <tbody>
          <tr>
            <td className="cell !pl-0">
              <LinkButton onClick={() => setSelection(EVERYONE)}>Sessions</LinkButton>
            </td>
            <td className="cell cell-n">{count(now.sessions)}</td>
            <td className="cell cell-n">{count(before.sessions)}</td>
            <td className="cell cell-n !pr-0">{ratio(now.sessions, before.sessions)}</td>
          </tr>
          <tr>
            <td className="cell !pl-0">Visitors</td>
            <td className="cell cell-n">{count(now.visitors)}</td>
            <td className="cell cell-n">{count(before.visitors)}</td>
            <td className="cell cell-n !pr-0">{ratio(now.visitors, before.visitors)}</td>
          </tr>
          {now.goals.slice(1).map((goal) => {
            const was = before.goals.find(({ name }) => name === goal.name)
            const gap = was && difference(goal.reached, was.reached)
            return (
              <tr key={goal.name}>
                <td className="cell truncate !pl-0" title={goal.name}>
                  <LinkButton onClick={() => setSelection(selectionOf(goal.name))}>{goal.name}</LinkButton>
                </td>
                <td
                  className="cell cell-n"
                  title={`${count(goal.reached.hits)} of ${count(goal.reached.base)}`}
                >
                  {percent(goal.reached.share)}
                </td>
                <td className="cell cell-n">{percent(was?.reached.share ?? null)}</td>
                <td className="cell cell-n !pr-0">
                  {gap ? `${points(gap.difference)}${sure(gap.difference, gap.interval)}` : '–'}
                </td>
              </tr>
            )
          })}
          <tr>
            <td className="cell !pl-0">
              <Link className="text-spruce hover:underline" to={linkTo('/friction/strain')}>
                Strain, 0 to 100
              </Link>
            </td>
            <td className="cell cell-n">{hard?.mean == null ? '–' : strainText(hard.mean)}</td>
            <td className="cell cell-n">{hardBefore?.mean == null ? '–' : strainText(hardBefore.mean)}</td>
            <td className="cell cell-n !pr-0">
              {strainGap
                ? `${strainGap.difference > 0 ? '+' : ''}${strainText(strainGap.difference)}${sure(strainGap.difference, strainGap.interval)}`
                : '–'}
            </td>
          </tr>
        </tbody>
      </table>
      <p className="mt-1 text-xs text-ink-soft">“?”: may be noise (95 % interval).</p>
    </section>
  )
}

const sure = (found: number | null, interval: [number, number]) =>
  verdictOf(found, interval) === 'cannot tell' ? ' ?' : ''

function ratio(now: number, before: number): string {
  return before ? `${now >= before ? '+' : '−'}${percent(Math.abs(now / before - 1))}` : '–'
}
