import type { Action } from '@dust-trail/api'
import { deleteAction, listActions } from '@dust-trail/api'
import { questions } from '@dust-trail/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Plus } from 'lucide-react'
import { Link } from 'react-router'
import { call } from '../../api/call.ts'
import { useActions, useSizes } from '../../api/queries.ts'
import { useQuestion } from '../../api/use-question.ts'
import { useAddress } from '../../app/address.ts'
import { useLens, useLensLink, useSite } from '../../app/lens.ts'
import { useSelection } from '../../closeup/use-selection.ts'
import { Button } from '../../ui/controls.tsx'
import type { DataColumn } from '../../ui/data-table.tsx'
import { DataTable } from '../../ui/data-table.tsx'
import { useDraft } from '../../ui/draft.ts'
import { count, plural } from '../../ui/format.ts'
import { LinkButton } from '../../ui/link-button.tsx'
import { Empty, Failure, Loading } from '../../ui/states.tsx'
import { elementName } from '../../words/selections.ts'
import { eventWords } from '../../words/sentences.ts'
import { ActionDialog, did, ruleOf } from './action-dialog.tsx'

/** What visitors do, by the names that the site has given it. */
export function Actions() {
  const site = useSite()
  const { lens } = useLens()
  const actions = useActions(site.key)
  const catalogue = useQuestion(questions.catalogue, lens, {})
  const [parameters, setParameters] = useAddress()
  const linkTo = useLensLink()
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
    setParameters((before) => {
      const next = new URLSearchParams(before)
      for (const name of ['name', 'on', 'element']) next.delete(name)
      return next
    }, true)
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
  const sizeOf = (action: Action) => sizes.data?.sizes[actions.data?.indexOf(action) ?? -1]
  const columns: DataColumn<Action>[] = [
    {
      id: 'name',
      head: 'Name',
      cell: ({ name, owner }) => (
        <>
          {name}
          {owner && <span className="font-normal text-ink-soft"> · {owner}</span>}
        </>
      ),
      value: ({ name }) => name,
      title: ({ description }) => description,
      className: 'font-semibold',
    },
    { id: 'rule', head: 'What it is', value: ({ rule }) => eventWords(rule) },
    {
      id: 'sessions',
      head: 'In the lens',
      cell: (action) => (
        <LinkButton onClick={() => setSelection(did({ action: action.name }))}>
          {sizeOf(action) ? plural(sizeOf(action)!.hits, 'session') : '…'}
        </LinkButton>
      ),
      value: (action) => sizeOf(action)?.hits ?? null,
      numeric: true,
      width: 124,
    },
    {
      id: 'used by',
      head: 'Used by',
      cell: ({ usedBy }) => usedBy.join(', ') || 'nothing yet',
      value: ({ usedBy }) => usedBy.join(', '),
      className: 'text-ink-soft',
      folds: 1,
    },
    {
      id: 'change',
      head: '',
      words: '',
      cell: (action) => (
        <>
          <LinkButton onClick={() => setEditing(action)}>Change</LinkButton>{' '}
          <LinkButton tone="clay" onClick={() => remove.mutate(action.id)}>
            Delete
          </LinkButton>
        </>
      ),
      numeric: true,
      width: 128,
    },
  ]
  return (
    <section aria-label="Actions">
      <div className="mb-1 flex items-center gap-2">
        <h2 className="flex-1">Actions: what visitors do</h2>
        <Link className="text-spruce underline" to={linkTo('/pages')}>
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
        <DataTable
          name="actions"
          className="rounded-md border border-line bg-sheet"
          rows={actions.data}
          columns={columns}
          rowKey={({ id }) => String(id)}
        />
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
