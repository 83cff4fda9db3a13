import type { Action } from '@dust-trail/api'
import { Plus } from 'lucide-react'
import { useActions } from '../../api/queries.ts'
import { useSite } from '../../app/lens.ts'
import { Button } from '../../ui/controls.tsx'
import { useDraft } from '../../ui/draft.ts'
import { LinkButton } from '../../ui/link-button.tsx'
import { eventWords } from '../../words/sentences.ts'
import { ActionDialog } from '../labels/action-dialog.tsx'

/** Signals that the site has made of what happens on it, and a way to make another. */
export function OwnSignals() {
  const site = useSite()
  const actions = useActions(site.key)
  const [editing, setEditing] = useDraft<Partial<Action> | null>('own-signal/open', null)
  const own = actions.data?.filter(({ isSignal }) => isSignal) ?? []
  return (
    <section aria-label="Signals of your own">
      <div className="flex items-center gap-3">
        <h2 className="flex-1">Signals of your own</h2>
        <Button onClick={() => setEditing({ isSignal: true, rule: { kinds: ['seen'] } })}>
          <Plus size={14} aria-hidden /> Add a signal
        </Button>
      </div>
      {own.length ? (
        <ul className="space-y-0.5">
          {own.map((action) => (
            <li key={action.id}>
              <LinkButton onClick={() => setEditing(action)}>{action.name}</LinkButton>{' '}
              <span className="text-ink-soft">{eventWords(action.rule)}</span>
            </li>
          ))}
        </ul>
      ) : (
        <p className="text-ink-soft">
          None yet. What tells of trouble on this site alone, such as a text that comes into view or a
          property, can be one: it counts for the past too, and stands among the hot spots.
        </p>
      )}
      {editing && <ActionDialog known={editing} close={() => setEditing(null)} />}
    </section>
  )
}
