import type { PathNode } from '@dust-trail/core'
import { questions, routesOf } from '@dust-trail/core'
import { Table2 } from 'lucide-react'
import { useState } from 'react'
import { useQuestion } from '../../api/use-question.ts'
import { useLens } from '../../app/lens.ts'
import { useSelection } from '../../closeup/use-selection.ts'
import { keptTable } from '../../trail/kept-table.ts'
import { useView } from '../../trail/view.tsx'
import { Button } from '../../ui/controls.tsx'
import { count, percent, plural } from '../../ui/format.ts'
import { LinkButton } from '../../ui/link-button.tsx'
import { Empty, Failure, Loading, Settling } from '../../ui/states.tsx'
import { placeName } from '../../words/sentences.ts'
import { Lanes } from './lanes.tsx'
import { PathControls } from './path-controls.tsx'
import { PathViews } from './path-views.tsx'
import { SavedPaths } from './saved-paths.tsx'
import { StepColumns } from './step-columns.tsx'
import { StepTable } from './step-table.tsx'
import type { Direction, PathsAsked } from './use-paths.ts'
import { usePaths, usePinned } from './use-paths.ts'

/** Different ways that are listed as routes: rarer ones are counted in the columns below alone. */
const MOST = 5000

/** Where visitors went from a page or any moment, or by which way they came to it. */
export function PathsPage() {
  const { lens } = useLens()
  const asked = usePaths()
  const [first, second]: readonly (Direction | undefined)[] =
    asked.way === 'around' ? ['back', 'onward'] : [asked.way]
  useView({
    words: `Paths ${asked.way === 'back' ? 'to' : asked.way === 'around' ? 'around' : 'from'} ${asked.focus(asked.way === 'back' ? 'back' : 'onward')}`,
    question: { lens, selection: asked.selection },
    tables: [first!, ...(second ? [second] : [])].map((direction) =>
      keptTable(
        questions.pathSteps,
        direction === 'back' ? 'The steps before' : 'Step by step',
        { selection: asked.selection, options: { ...asked.walk, direction, depth: asked.depth } },
        [
          ['step', 'Step', 'count'],
          ['page', 'Place'],
          ['name', 'What'],
          ['sessions', 'Were here', 'count'],
          ['of', 'Of all', 'count'],
          ['ended', direction === 'back' ? 'Began here' : 'Ended here', 'count'],
        ],
      ),
    ),
  })
  return (
    <div className="space-y-4 px-5 py-3">
      <header className="space-y-2">
        <div className="flex items-start gap-3">
          <div className="min-w-0 flex-1">
            <h1>Paths</h1>
            <p className="text-ink-soft">
              Where did they go instead, and by which way do people reach the goal?
            </p>
          </div>
          <PathViews />
        </div>
        <div className="flex flex-wrap items-center gap-2">
          <PathControls asked={asked} />
          <SavedPaths asked={asked} />
        </div>
      </header>
      <OneWay key={first} asked={asked} direction={first!} />
      {second && <OneWay key={second} asked={asked} direction={second} />}
    </div>
  )
}

function OneWay({ asked, direction }: { asked: PathsAsked; direction: Direction }) {
  const { lens } = useLens()
  const { setSelection } = useSelection()
  const [table, setTable] = useState(false)
  const [pinned, setPinned] = usePinned()
  const { selection, depth, least, walk, pathOf } = asked
  const options = { ...walk, direction, depth }
  const answer = useQuestion(questions.paths, lens, { selection, options: { ...options, most: MOST } })
  const steps = useQuestion(questions.pathSteps, lens, { selection, options })
  // What lies deeper than is looked cannot be followed.
  const held = pinned?.direction === direction && pinned.parts.length <= depth ? pinned : null
  const through = useQuestion(questions.pathSteps, held && lens, {
    selection,
    options: { ...options, through: held?.parts },
  })
  const error = answer.error ?? steps.error
  const { data } = answer
  const what = walk.at === 'every' ? 'path' : (walk.per ?? 'session')
  const focus = asked.focus(direction)
  const open = (parts: Parameters<typeof pathOf>[1], ended = false) =>
    setSelection(pathOf(direction, parts, ended))
  return (
    <section aria-label={direction === 'back' ? 'Paths to it' : 'Paths from it'} className="space-y-4">
      <Settling stale={answer.isPlaceholderData}>
        <p className="text-[15px]">
          {data ? sentence(data, focus, direction, what) : `Following ${what}s …`}
        </p>
      </Settling>
      {error && <Failure error={error} retry={() => void Promise.all([answer.refetch(), steps.refetch()])} />}
      {(answer.isPending || steps.isPending) && !error && <Loading />}
      {data && data.sessions === 0 && (
        <Empty title="Nobody was there">Choose another page, or other dates.</Empty>
      )}
      {data && steps.data && data.sessions > 0 && (
        <Settling stale={answer.isPlaceholderData} className="space-y-5">
          <Lanes
            routes={routesOf(data.next, Math.max(1, Math.ceil(least * data.sessions)))}
            entered={data.sessions}
            least={least}
            focus={focus}
            page={asked.page}
            direction={direction}
            open={open}
            pathOf={(parts) => pathOf(direction, parts)}
          />
          <div>
            <div className="flex items-baseline gap-3">
              <h2>Step by step</h2>
              <p className="min-w-0 flex-1 text-ink-soft">
                Bold: of all {count(data.sessions)} who entered. “here”: of those who took this step.
                {held && (
                  <>
                    {' '}
                    Followed:{' '}
                    {held.parts
                      .filter((part) => part !== null)
                      .map(placeName)
                      .join(' → ')}
                    , walked by {through.data ? plural(through.data.sessions, what) : '…'}; the rest fades.{' '}
                    <LinkButton onClick={() => setPinned(null)}>Follow nothing</LinkButton>
                  </>
                )}
              </p>
              <Button look="quiet" aria-pressed={table} onClick={() => setTable(!table)}>
                <Table2 size={14} aria-hidden /> As a table
              </Button>
            </div>
            {table ? (
              <StepTable steps={steps.data} direction={direction} open={open} />
            ) : (
              <StepColumns
                answer={steps.data}
                through={held ? (through.data ?? null) : null}
                held={held?.parts ?? null}
                direction={direction}
                asked={asked}
                open={open}
                follow={(parts) => setPinned({ direction, parts })}
              />
            )}
          </div>
          <p className="text-xs text-ink-soft">
            {walk.fold ? 'Equal steps one after another count as one. ' : ''}
            {definition(asked, direction)} {plural(data.places, 'place')} on all ways together.{' '}
            <LinkButton onClick={() => setSelection(selection)}>
              {walk.at === 'every' || walk.per === 'visitor'
                ? 'The sessions'
                : `The ${plural(data.sessions, 'session')}`}
            </LinkButton>
          </p>
        </Settling>
      )}
    </section>
  )
}

/** Where paths begin and what is said of sessions that have no step, in a sentence. */
function definition({ page, origin, walk }: PathsAsked, direction: Direction): string {
  const whose = walk.per ?? 'session'
  const none =
    direction === 'back'
      ? `${whose}s that begin there have no step before it`
      : `${whose}s that end there have no step after it`
  const joined =
    walk.per === 'visitor'
      ? ' The visits of a visitor in the lens are one path; what became of them is told of the visit in which a route was complete.'
      : ''
  const nth = { first: 'the first', last: 'the last', every: 'every' }[walk.at ?? 'first']
  if (walk.start) return `A path begins with ${nth} such event of a ${whose}; ${none}.${joined}`
  if (origin) return `A path begins with the moment of the selection; ${none}.${joined}`
  return page === null ? joined : `A path begins with ${nth} view of ${page} in a ${whose}; ${none}.${joined}`
}

/** What the paths say, in a sentence. */
function sentence(
  { sessions, ended, next }: { sessions: number; ended: number; next: readonly PathNode[] },
  focus: string,
  direction: Direction,
  what: string,
): string {
  const [first] = next
  if (!sessions) return `No ${what} in the lens has such a path.`
  const of = what === 'session' ? '' : ` ${what}s`
  const share = (n: number) => `${percent(n / sessions)} of ${count(sessions)}${of}`
  if (direction === 'onward')
    return `From ${focus} ${first ? `${share(first.sessions)} went on to ${placeName(first)}; ` : ''}${share(ended)} went nowhere further.`
  return `To ${focus}: ${first ? `${share(first.sessions)} came from ${placeName(first)}; ` : ''}${share(ended)} had been nowhere before.`
}
