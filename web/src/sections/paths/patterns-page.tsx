import { useView } from '../../trail/view.tsx'
import { useLens } from '../../app/lens.ts'
import { Patterns } from './patterns.tsx'
import { PathViews } from './path-views.tsx'
import { usePaths } from './use-paths.ts'

/** What many do in the same order, and what tells two sets apart. */
export function PatternsPage() {
  const { lens } = useLens()
  const { selection } = usePaths()
  useView({ words: 'Patterns of all sessions', question: { lens, selection } })
  return (
    <div className="space-y-3 px-5 py-3">
      <header className="flex items-start gap-3">
        <div className="min-w-0 flex-1">
          <h1>Patterns</h1>
          <p className="text-ink-soft">
            What do many do in the same order, and what do those do who get there, and others not?
          </p>
        </div>
        <PathViews />
      </header>
      <Patterns lens={lens} selection={selection} />
    </div>
  )
}
