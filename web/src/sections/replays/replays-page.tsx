import type { Selection } from '@dust-trail/core'
import { questions } from '@dust-trail/core'
import { useState } from 'react'
import { Link } from 'react-router'
import { z } from 'zod'
import { useAddressValue } from '../../app/address.ts'
import { useLens, useLensLink } from '../../app/lens.ts'
import { Watch } from '../../closeup/watch.tsx'
import { useSides } from '../../lens/sides.tsx'
import { keptTable } from '../../trail/kept-table.ts'
import { useView } from '../../trail/view.tsx'
import { RadioGroup } from '../../ui/radio-group.tsx'
import type { Sought } from './found-sessions.tsx'
import { FindForm, FoundSessions, isSought } from './found-sessions.tsx'
import { lensCondition } from '../../words/sentences.ts'
import { EVERYONE } from '../../words/selections.ts'

const wordsSchema = z.string().min(2)
const tagSchema = z.string().min(1)
const yesSchema = z.literal('yes')

/** All sessions of the lens, to be watched. Better narrowed first: a funnel's leak, an element, a signal. */
export function ReplaysPage() {
  const { lens } = useLens()
  const { sides } = useSides()
  const [shown, setShown] = useState(0)
  // Each by itself: a change builds on those before it, however quick they come.
  const [words, setWords] = useAddressValue('words', wordsSchema)
  const [tag, setTag] = useAddressValue('tag', tagSchema)
  const [unwatched, setUnwatched] = useAddressValue('unwatched', yesSchema)
  const sought: Sought = { words, tag, unwatched: unwatched !== null }
  const seek = (change: Partial<Sought>) => {
    if (change.words !== undefined) setWords(change.words)
    if (change.tag !== undefined) setTag(change.tag)
    if (change.unwatched !== undefined) setUnwatched(change.unwatched ? 'yes' : null)
  }
  const side = sides[shown] ?? sides[0]!
  const linkTo = useLensLink()
  const condition = lensCondition(side.lens)
  const who: Selection | undefined = condition && { type: 'where', condition }
  const { where: _, ...days } = side.lens
  const everyone = { ...days, devices: [] }
  useView({
    words: 'All sessions in the lens',
    question: { lens, selection: EVERYONE },
    tables: [
      keptTable(
        questions.sessions,
        'Most telling sessions',
        { selection: EVERYONE, order: 'telling', limit: 10 },
        [
          ['startMs', 'Began', 'moment'],
          ['device', 'Device'],
          ['entry', 'Began on'],
          ['pages', 'Pages', 'count'],
          ['durationMs', 'Took', 'ms'],
          ['why', 'Why watch it'],
        ],
      ),
    ],
  })
  return (
    <div>
      <div className="flex items-start gap-4 px-5 pt-3">
        <div className="min-w-0 flex-1">
          <h1>Replays</h1>
          <p className="text-ink-soft">
            What did one visitor go through? Watching pays once it is narrowed: open a leak in a funnel or an
            element on a page, and watch those.
          </p>
        </div>
        {who && (
          <Link
            className="shrink-0 text-spruce hover:underline"
            title="Holds these sessions against all others of the same days: who they are, what went wrong, with intervals"
            to={linkTo('/replays', { close: JSON.stringify(who), facet: 'who' }, everyone)}
          >
            What they have in common
          </Link>
        )}
      </div>
      <div className="mx-5 my-3 rounded-md border border-line bg-sheet">
        {sides.length > 1 && (
          <div className="px-3 pt-2">
            <RadioGroup
              label="Whose sessions"
              value={String(sides.indexOf(side))}
              onChange={(k) => setShown(Number(k))}
              options={sides.map(({ name }, k) => [String(k), name])}
            />
          </div>
        )}
        <div className="flex items-center gap-3 px-3 pt-2">
          <FindForm key={words} sought={sought} seek={seek} />
        </div>
        {isSought(sought) ? (
          <FoundSessions sought={sought} lens={side.lens} />
        ) : (
          <Watch key={sides.indexOf(side)} selection={EVERYONE} through={side.lens} />
        )}
      </div>
    </div>
  )
}
