import { useState } from 'react'
import { useLens } from '../../app/lens.ts'
import { Watch } from '../../closeup/watch.tsx'
import { useSides } from '../../lens/sides.tsx'
import { useView } from '../../trail/view.tsx'
import { RadioGroup } from '../../ui/radio-group.tsx'
import { EVERYONE } from '../../words/selections.ts'

/** All sessions of the lens, to be watched. Better narrowed first: a funnel's leak, an element, a signal. */
export function ReplaysPage() {
  const { lens } = useLens()
  const { sides } = useSides()
  const [shown, setShown] = useState(0)
  const side = sides[shown] ?? sides[0]!
  useView({ words: 'All sessions in the lens', question: { lens, selection: EVERYONE } })
  return (
    <div>
      <div className="px-5 pt-3">
        <h1>Replays</h1>
        <p className="text-ink-soft">
          What did one visitor go through? Watching pays once it is narrowed: open a leak in a funnel or an
          element on a page, and watch those.
        </p>
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
        <Watch key={sides.indexOf(side)} selection={EVERYONE} through={side.lens} />
      </div>
    </div>
  )
}
