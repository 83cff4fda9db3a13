import type { PathNode, Selection } from '@dust-trail/core'
import { pathSteps, questions, routesOf } from '@dust-trail/core'
import { useMemo } from 'react'
import { z } from 'zod'
import { useQuestion } from '../../api/use-question.ts'
import { useAddressValue } from '../../app/address.ts'
import { useLens } from '../../app/lens.ts'
import { useSelection } from '../../closeup/use-selection.ts'
import { PageSelect } from '../../lens/page-select.tsx'
import { useView } from '../../trail/view.tsx'
import { Select } from '../../ui/controls.tsx'
import { count, percent, plural } from '../../ui/format.ts'
import { LinkButton } from '../../ui/link-button.tsx'
import { RadioGroup } from '../../ui/radio-group.tsx'
import { Empty, Failure, Loading, Settling } from '../../ui/states.tsx'
import { Lanes } from './lanes.tsx'
import { StepColumns } from './step-columns.tsx'

const PAGE = z.string()
const DIRECTION = z.enum(['onward', 'back'])
const SHARES = [0.02, 0.05, 0.1, 0.2] as const
const LEAST = z.coerce.number().refine((share) => SHARES.some((one) => one === share))
const STEPS = [3, 5, 7, 10] as const
const DEPTH = z.coerce.number().refine((steps) => STEPS.some((one) => one === steps))
/** Different ways that are listed: rarer ones are counted together. */
const MOST = 5000

/** Where visitors went from a page, or by which way they came to it. */
export function PathsPage() {
  const { lens } = useLens()
  const { setSelection } = useSelection()
  const [page, setPage] = useAddressValue('start', PAGE)
  const [chosenDirection, setDirection] = useAddressValue('way', DIRECTION)
  const [chosenLeast, setLeast] = useAddressValue('least', LEAST)
  const [chosenDepth, setDepth] = useAddressValue('depth', DEPTH)
  const direction = chosenDirection ?? 'onward'
  const depth = chosenDepth ?? 5
  const least = chosenLeast ?? 0.05
  const selection = useMemo((): Selection => (page ? { type: 'page', page } : { type: 'everyone' }), [page])
  const answer = useQuestion(questions.paths, lens, {
    selection,
    options: { direction, depth, most: MOST },
  })
  useView({
    words: page ? `Paths ${direction === 'back' ? 'to' : 'from'} ${page}` : 'Paths of all sessions',
    question: { lens, selection },
  })
  const { data } = answer
  const open = (parts: (string | null)[], ended = false) =>
    setSelection({ type: 'path', page: page ?? null, direction, parts, ...(ended && { ended }) })
  const end = direction === 'onward' ? 'left' : 'began'
  return (
    <div className="space-y-4 px-5 py-3">
      <header className="flex flex-wrap items-start gap-3">
        <div className="min-w-72 flex-1">
          <h1>Paths</h1>
          <p className="text-ink-soft">{data ? sentence(data, page, direction) : 'Following sessions …'}</p>
        </div>
        <PageSelect
          label="Page in focus"
          none={direction === 'onward' ? 'from where sessions begin' : 'back from where they end'}
          className="max-w-56"
          page={page ?? ''}
          setPage={(next) => setPage(next || null)}
        />
        <RadioGroup
          label="Direction"
          value={direction}
          onChange={(next) => setDirection(next === 'onward' ? null : next)}
          options={[
            ['onward', 'Onward'],
            ['back', 'Back'],
          ]}
        />
        <Select
          aria-label="Steps"
          value={String(depth)}
          onChange={({ target }) => setDepth(Number(target.value) === 5 ? null : Number(target.value))}
        >
          {STEPS.map((steps) => (
            <option key={steps} value={steps}>
              {steps} steps
            </option>
          ))}
        </Select>
        <Select
          aria-label="Routes with at least"
          value={String(least)}
          onChange={({ target }) => setLeast(Number(target.value) === 0.05 ? null : Number(target.value))}
        >
          {SHARES.map((share) => (
            <option key={share} value={share}>
              routes of {percent(share)} and more
            </option>
          ))}
        </Select>
      </header>
      {answer.error && <Failure error={answer.error} retry={() => void answer.refetch()} />}
      {answer.isPending && !answer.error && <Loading />}
      {data && data.sessions === 0 && (
        <Empty title="Nobody was there">Choose another page, or other dates.</Empty>
      )}
      {data && data.sessions > 0 && (
        <Settling stale={answer.isPlaceholderData} className="space-y-5">
          <Lanes
            routes={routesOf(data.next, Math.max(1, Math.ceil(least * data.sessions)))}
            entered={data.sessions}
            least={least}
            focus={page ?? (direction === 'onward' ? 'Begin' : 'End')}
            direction={direction}
            open={open}
            pathOf={(parts) => ({ type: 'path', page: page ?? null, direction, parts })}
          />
          <StepColumns
            steps={pathSteps(data, depth)}
            entered={data.sessions}
            end={end}
            open={(step, place, ended) => open([...new Array<null>(step).fill(null), place], ended)}
            back={direction === 'back'}
          />
          <p className="text-xs text-ink-soft">
            Views of the same page one after another count as one.{' '}
            {page
              ? `A path begins with the first view of ${page} in a session; ${direction === 'back' ? 'sessions that began there' : 'sessions that ended there'} have no step.`
              : ''}{' '}
            {plural(data.places, 'place')} on all ways together.{' '}
            <LinkButton onClick={() => setSelection(selection)}>
              The {plural(data.sessions, 'session')}
            </LinkButton>
          </p>
        </Settling>
      )}
    </div>
  )
}

/** What the paths say, in a sentence. */
function sentence(
  { sessions, ended, next }: { sessions: number; ended: number; next: readonly PathNode[] },
  page: string | null,
  direction: 'onward' | 'back',
): string {
  const [first] = next
  const from = page ?? (direction === 'onward' ? 'where they began' : 'where they ended')
  if (!sessions) return `No session was at ${from}.`
  const share = (n: number) => `${percent(n / sessions)} of ${count(sessions)}`
  if (direction === 'onward')
    return `From ${from} ${first ? `${share(first.sessions)} went on to ${first.page}; ` : ''}${share(ended)} went nowhere further.`
  return `To ${from}: ${first ? `${share(first.sessions)} came from ${first.page}; ` : ''}${share(ended)} had been nowhere before.`
}
