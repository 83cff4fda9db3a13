import type { Action } from '@dust-trail/api'
import { deleteAction, listActions } from '@dust-trail/api'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Plus } from 'lucide-react'
import { Link, useSearchParams } from 'react-router'
import { call } from '../../api/call.ts'
import { useActions, useCatalogue, useSizes } from '../../api/queries.ts'
import { keepLens, useLens, useSite } from '../../app/lens.ts'
import { elementName } from '../../closeup/describe.ts'
import { useSelection } from '../../closeup/use-selection.ts'
import { eventWords } from '../../lens/words.ts'
import { Button } from '../../ui/controls.tsx'
import { useDraft } from '../../ui/draft.ts'
import { count, plural } from '../../ui/format.ts'
import { Empty, Failure, Loading } from '../../ui/states.tsx'
import { ActionDialog, did, ruleOf } from './action-dialog.tsx'

/** What visitors do, by the names that the site has given it. */
export function Actions() {
  const site = useSite()
  const { lens } = useLens()
  const actions = useActions(site.key)
  const catalogue = useCatalogue(site.key, lens)
  const [parameters, setParameters] = useSearchParams()
  // An element that was picked on a recorded page comes along in the address.
  const picked = parameters.get('element')
  const [editing, setEditing] = useDraft<Partial<Action> | null>(
    `action/open/${picked ?? ''}`,
    picked === null
      ? null
      : { name: parameters.get('name') ?? '', rule: ruleOf(parameters.get('on') ?? '', picked) },
  )
  const close = () => {
    setEditing(null)
    setParameters(
      (known) => {
        const next = new URLSearchParams(known)
        for (const name of ['name', 'on', 'element']) next.delete(name)
        return next
      },
      { replace: true },
    )
  }
  const { setSelection } = useSelection()
  const client = useQueryClient()
  const remove = useMutation({
    mutationFn: (id: number) => call(deleteAction, { site: site.key, id }),
    onSuccess: () => void client.invalidateQueries({ queryKey: [listActions.path] }),
  })
  const sizes = useSizes(
    site.key,
    (actions.data ?? []).map(({ name }) => ({ lens, selection: did({ action: name }) })),
  )
  const named = JSON.stringify(actions.data?.map(({ rule }) => rule) ?? [])
  const unnamed = (catalogue.data?.elements ?? [])
    .filter(({ selector, page }) => !named.includes(JSON.stringify(ruleOf(page, selector))))
    .slice(0, 8)
  return (
    <section aria-label="Actions">
      <div className="mb-1 flex items-center gap-2">
        <h2 className="flex-1">Actions: what visitors do</h2>
        <Link className="text-spruce underline" to={keepLens('/pages', parameters)}>
          Pick the element on a recorded page
        </Link>
        <Button look="primary" onClick={() => setEditing({})}>
          <Plus size={14} aria-hidden /> Name an action
        </Button>
      </div>
      {actions.error && <Failure error={actions.error} />}
      {remove.error && <Failure error={remove.error} />}
      {actions.isPending ? (
        <Loading />
      ) : !actions.data?.length ? (
        <Empty title="No action has a name yet">Name one, or begin with what is clicked most, below.</Empty>
      ) : (
        <table className="w-full rounded-md border border-line bg-sheet" data-list>
          <thead>
            <tr>
              <th className="cell">Name</th>
              <th className="cell">What it is</th>
              <th className="cell cell-n">In the lens</th>
              <th className="cell">Used by</th>
              <th className="cell" aria-label="Change" />
            </tr>
          </thead>
          <tbody>
            {actions.data.map((action, k) => (
              <tr key={action.id}>
                <td className="cell font-semibold" title={action.description}>
                  {action.name}
                  {action.owner && <span className="font-normal text-ink-soft"> · {action.owner}</span>}
                </td>
                <td className="cell max-w-72 truncate" title={eventWords(action.rule)}>
                  {eventWords(action.rule)}
                </td>
                <td className="cell cell-n">
                  <button
                    type="button"
                    className="text-spruce hover:underline"
                    onClick={() => setSelection(did({ action: action.name }))}
                  >
                    {sizes.data?.sizes[k] ? plural(sizes.data.sizes[k].hits, 'session') : '…'}
                  </button>
                </td>
                <td className="cell max-w-56 truncate text-ink-soft" title={action.usedBy.join(', ')}>
                  {action.usedBy.join(', ') || 'nothing yet'}
                </td>
                <td className="cell cell-n">
                  <button
                    type="button"
                    className="text-spruce hover:underline"
                    onClick={() => setEditing(action)}
                  >
                    Change
                  </button>{' '}
                  <button
                    type="button"
                    className="text-clay hover:underline"
                    onClick={() => remove.mutate(action.id)}
                  >
                    Delete
                  </button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {unnamed.length > 0 && (
        <div className="mt-2 flex flex-wrap items-center gap-2">
          <span className="text-ink-soft">Clicked most, without a name:</span>
          {unnamed.map(({ page, selector, text, sessions }) => (
            <Button
              key={`${page}/${selector}`}
              title={`${selector}\non ${page}`}
              onClick={() => setEditing({ name: text || selector, rule: ruleOf(page, selector) })}
            >
              <span className="max-w-40 truncate">{elementName(text, selector)}</span>
              <span className="text-ink-soft">{count(sessions)}</span>
            </Button>
          ))}
        </div>
      )}
      {editing && <ActionDialog known={editing} close={close} />}
    </section>
  )
}
