import type { Action } from '@dust-trail/api'
import {
  createAction,
  deleteAction,
  listActions,
  listSites,
  savePageGroups,
  updateAction,
} from '@dust-trail/api'
import type { EventCondition, PageGroupRule } from '@dust-trail/core'
import { pathPattern, suggestPatterns } from '@dust-trail/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { ArrowDown, ArrowUp, Plus, Trash2 } from 'lucide-react'
import { useDeferredValue, useMemo, useState } from 'react'
import { Link, useSearchParams } from 'react-router'
import { toast } from 'sonner'
import { call } from '../../api/call.ts'
import { useActions, useCatalogue, useDistribution, useSizes, useUrls } from '../../api/queries.ts'
import { keepLens, useLens, useSite } from '../../app/lens.ts'
import { elementName } from '../../closeup/describe.ts'
import { useSelection } from '../../closeup/use-selection.ts'
import { eventWords } from '../../lens/words.ts'
import { Button, Field, IconButton, inputLook, NameField, Select } from '../../ui/controls.tsx'
import { useDraft, useForget } from '../../ui/draft.ts'
import { Dialog } from '../../ui/dialog.tsx'
import { NoteFields, useOwner } from '../../ui/note-fields.tsx'
import { count, percent, plural } from '../../ui/format.ts'
import { Empty, Failure, Loading } from '../../ui/states.tsx'

/** Names for pages and for what visitors do; they count for the past as well, at once. */
export function LabelsPage() {
  const site = useSite()
  return (
    <div className="max-w-5xl space-y-6 px-5 py-3">
      <div>
        <h1>Labels</h1>
        <p className="text-ink-soft">
          Names for pages and for what visitors do. They count for the past as well, and on every screen at
          once.
        </p>
      </div>
      <Actions />
      <Groups key={JSON.stringify(site.pageGroups)} />
    </div>
  )
}

/** Rules in order: the first that catches an address names it. */
function Groups() {
  const site = useSite()
  const { lens } = useLens()
  const client = useQueryClient()
  const urls = useUrls(site.key, lens)
  const [rules, setRules] = useDraft<PageGroupRule[]>(
    `groups/${JSON.stringify(site.pageGroups)}`,
    site.pageGroups,
  )
  const forget = useForget()
  const [open, setOpen] = useState<number | 'rest' | null>(null)
  const shown = useDeferredValue(rules)
  const sorted = useMemo(() => sortUrls(urls.data ?? [], shown), [urls.data, shown])
  const suggestions = useMemo(
    () =>
      suggestPatterns(
        urls.data ?? [],
        shown.filter(isRule).map(({ pattern }) => pattern),
      ).slice(0, 5),
    [urls.data, shown],
  )
  const changed = JSON.stringify(rules) !== JSON.stringify(site.pageGroups)
  const bad = rules.some((rule) => !isRule(rule))
  const save = useMutation({
    mutationFn: () => call(savePageGroups, { site: site.key }, { pageGroups: rules }),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: [listSites.path] })
      void client.invalidateQueries()
      forget('groups/')
      toast('Page groups saved: they count for all data.')
    },
  })
  const set = (k: number, rule: Partial<PageGroupRule>) =>
    setRules(rules.map((old, i) => (i === k ? { ...old, ...rule } : old)))
  const move = (k: number, by: number) => {
    const next = [...rules]
    ;[next[k], next[k + by]] = [next[k + by]!, next[k]!]
    setRules(next)
  }
  return (
    <section aria-label="Page groups">
      <div className="mb-1 flex items-center gap-2">
        <h2 className="flex-1">Page groups: addresses that are one page to a person</h2>
        {changed && <Button onClick={() => setRules(site.pageGroups)}>Undo edits</Button>}
        <Button look="primary" disabled={!changed || bad || save.isPending} onClick={() => save.mutate()}>
          Save page groups
        </Button>
      </div>
      {save.error && <Failure error={save.error} />}
      {urls.error && <Failure error={urls.error} />}
      <div className="rounded-md border border-line bg-sheet">
        <table className="w-full">
          <thead>
            <tr>
              <th className="cell w-16">Order</th>
              <th className="cell">Name</th>
              <th className="cell">Pattern (:part for one part, * for any rest)</th>
              <th className="cell cell-n">Addresses</th>
              <th className="cell cell-n">Views in the lens</th>
              <th className="cell" aria-label="Remove" />
            </tr>
          </thead>
          <tbody>
            {rules.map((rule, k) => (
              <tr key={k}>
                <td className="cell">
                  <IconButton
                    label={`Move ${rule.name || 'rule'} up`}
                    disabled={k === 0}
                    onClick={() => move(k, -1)}
                  >
                    <ArrowUp size={13} />
                  </IconButton>
                  <IconButton
                    label={`Move ${rule.name || 'rule'} down`}
                    disabled={k === rules.length - 1}
                    onClick={() => move(k, 1)}
                  >
                    <ArrowDown size={13} />
                  </IconButton>
                </td>
                <td className="cell py-1">
                  <input
                    aria-label={`Name of rule ${k + 1}`}
                    className={inputLook}
                    value={rule.name}
                    onChange={(event) => set(k, { name: event.target.value })}
                  />
                </td>
                <td className="cell py-1">
                  <input
                    aria-label={`Pattern of rule ${k + 1}`}
                    className={`${inputLook} font-mono text-xs`}
                    value={rule.pattern}
                    onChange={(event) => set(k, { pattern: event.target.value })}
                  />
                </td>
                <td className="cell cell-n">
                  <button
                    type="button"
                    className="text-spruce hover:underline"
                    onClick={() => setOpen(open === k ? null : k)}
                  >
                    {count(sorted.of[k]?.length ?? 0)}
                  </button>
                </td>
                <td className="cell cell-n">{count(viewsOf(sorted.of[k] ?? []))}</td>
                <td className="cell cell-n">
                  <IconButton
                    label={`Remove rule ${rule.name || k + 1}`}
                    onClick={() => setRules(rules.filter((_, i) => i !== k))}
                  >
                    <Trash2 size={13} />
                  </IconButton>
                </td>
              </tr>
            ))}
            <tr>
              <td className="cell" />
              <td className="cell text-ink-soft" colSpan={2}>
                No rule: each a page of its own
              </td>
              <td className="cell cell-n">
                <button
                  type="button"
                  className="text-spruce hover:underline"
                  onClick={() => setOpen(open === 'rest' ? null : 'rest')}
                >
                  {count(sorted.rest.length)}
                </button>
              </td>
              <td className="cell cell-n">{count(viewsOf(sorted.rest))}</td>
              <td className="cell" />
            </tr>
          </tbody>
        </table>
        {open !== null && (
          <ul
            className="max-h-48 overflow-auto border-t border-line px-3 py-2 font-mono text-xs"
            aria-label="Addresses"
          >
            {(open === 'rest' ? sorted.rest : (sorted.of[open] ?? []))
              .slice(0, 200)
              .map(({ path, sessions }) => (
                <li key={path} className="flex gap-3">
                  <span className="min-w-0 flex-1 truncate">{path}</span>
                  <span className="text-ink-soft">{plural(sessions, 'session')}</span>
                </li>
              ))}
          </ul>
        )}
      </div>
      {bad && <p className="mt-1 text-clay">Each rule needs a name and a pattern that begins with /.</p>}
      <div className="mt-2 flex flex-wrap items-center gap-2">
        <Button onClick={() => setRules([...rules, { name: '', pattern: '/' }])}>
          <Plus size={14} aria-hidden /> Add a rule
        </Button>
        {suggestions.length > 0 && <span className="text-ink-soft">The addresses suggest:</span>}
        {suggestions.map(({ pattern, pages, examples }) => (
          <Button
            key={pattern}
            title={`${examples.join('\n')}\n…`}
            onClick={() =>
              setRules([
                ...rules,
                {
                  name: pattern.split('/').find((part) => part && !part.startsWith(':')) ?? pattern,
                  pattern,
                },
              ])
            }
          >
            <span className="font-mono text-xs">{pattern}</span>
            <span className="text-ink-soft">{plural(pages, 'address', 'addresses')}</span>
          </Button>
        ))}
      </div>
    </section>
  )
}

interface Url {
  path: string
  sessions: number
  views: number
}

function isRule({ name, pattern }: PageGroupRule): boolean {
  return name.trim() !== '' && pattern.startsWith('/')
}

/** The addresses that each rule catches, and those that none does. */
function sortUrls(urls: readonly Url[], rules: readonly PageGroupRule[]): { of: Url[][]; rest: Url[] } {
  const tests = rules.map((rule) => (isRule(rule) ? pathPattern(rule.pattern) : /(?!)/))
  const of = rules.map((): Url[] => [])
  const rest: Url[] = []
  for (const url of urls) {
    const k = tests.findIndex((test) => test.test(url.path))
    ;(k < 0 ? rest : of[k]!).push(url)
  }
  return { of, rest }
}

function viewsOf(urls: readonly Url[]): number {
  return urls.reduce((sum, { views }) => sum + views, 0)
}

function Actions() {
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

function ruleOf(page: string, selector: string): EventCondition {
  return { kinds: ['click'], page: { is: 'equal', to: page }, element: { is: 'equal', to: selector } }
}

function did(event: EventCondition) {
  return { type: 'where' as const, condition: { type: 'event' as const, event } }
}

const KINDS = ['click', 'input', 'submit', 'action', 'seen', 'gesture'] as const

/** A name and a rule, with how much the rule catches as it is written. */
function ActionDialog({ known, close }: { known: Partial<Action>; close: () => void }) {
  const site = useSite()
  const { lens } = useLens()
  const client = useQueryClient()
  const catalogue = useCatalogue(site.key, lens)
  const draft = `action/${known.id ?? JSON.stringify(known)}/`
  const forget = useForget()
  const [name, setName] = useDraft(`${draft}name`, known.name ?? '')
  const [description, setDescription] = useDraft(`${draft}description`, known.description ?? '')
  const [owner, setOwner] = useOwner(known.owner)
  const rule = known.rule ?? {}
  const [kind, setKind] = useDraft<string>(`${draft}kind`, rule.kinds?.[0] ?? 'click')
  const [page, setPage] = useDraft(`${draft}page`, textOf(rule.page))
  const [element, setElement] = useDraft(`${draft}element`, textOf(rule.element) || textOf(rule.name))
  const [text, setText] = useDraft(`${draft}text`, textOf(rule.text))
  const next: EventCondition = {
    kinds: [kind as (typeof KINDS)[number]],
    ...(page && { page: { is: 'equal', to: page } }),
    ...(element && {
      [kind === 'action' || kind === 'gesture' ? 'name' : 'element']: { is: 'equal', to: element },
    }),
    ...(text && { text: { is: 'containing', to: text } }),
  }
  const wanted = useDeferredValue(JSON.stringify(next))
  const tested = useMemo(() => JSON.parse(wanted) as EventCondition, [wanted])
  const question = { lens, selection: did(tested) }
  const sizes = useSizes(site.key, [question])
  const times = useDistribution(site.key, question, { countOf: tested, bins: 0, quantiles: [] })
  const size = sizes.data?.sizes[0]
  const found = times.data?.values[0]
  const save = useMutation({
    mutationFn: () => {
      const body = { name, description, owner, rule: next }
      return known.id === undefined
        ? call(createAction, { site: site.key }, body)
        : call(updateAction, { site: site.key, id: known.id }, body)
    },
    onSuccess: () => {
      void client.invalidateQueries()
      forget(draft)
      toast('Action saved: it counts for all data.')
      close()
    },
  })
  return (
    <Dialog open onClose={close} title={known.id === undefined ? 'Name an action' : 'Change an action'} wide>
      <form
        className="space-y-3"
        onSubmit={(event) => {
          event.preventDefault()
          save.mutate()
        }}
      >
        <NameField error={save.error?.message} name={name} setName={setName} />
        <div className="grid grid-cols-2 gap-3">
          <Field label="What is done">
            <Select
              aria-label="What is done"
              className="w-full"
              value={kind}
              onChange={(event) => setKind(event.target.value)}
            >
              {KINDS.map((one) => (
                <option key={one}>{one}</option>
              ))}
            </Select>
          </Field>
          <Field label="On which page">
            <Select
              aria-label="On which page"
              className="w-full"
              value={page}
              onChange={(event) => setPage(event.target.value)}
            >
              <option value="">any page</option>
              {catalogue.data?.pages.map((one) => (
                <option key={one.page}>{one.page}</option>
              ))}
            </Select>
          </Field>
          <Field label={kind === 'action' || kind === 'gesture' ? 'Its own name' : 'Element (selector)'}>
            <input
              className={`${inputLook} font-mono text-xs`}
              value={element}
              onChange={(event) => setElement(event.target.value)}
            />
          </Field>
          <Field label="Whose text contains">
            <input className={inputLook} value={text} onChange={(event) => setText(event.target.value)} />
          </Field>
        </div>
        <p
          role="status"
          className="rounded-md bg-ochre-soft px-2.5 py-1.5 text-ochre-text"
          aria-busy={sizes.isPlaceholderData}
        >
          {size && found && !sizes.isPlaceholderData
            ? `Matches ${count(Math.round((found.mean ?? 0) * found.known))} times in ${plural(size.hits, 'session')}, ${percent(size.share)} of ${count(size.base)} in the lens.`
            : size?.hits === 0
              ? 'Matches nothing in the lens.'
              : 'Counting …'}
        </p>
        <NoteFields
          label="Description"
          note={description}
          setNote={setDescription}
          {...{ owner, setOwner }}
        />
        <div className="flex justify-end gap-2">
          <Button onClick={close}>Cancel</Button>
          <Button type="submit" look="primary" disabled={save.isPending}>
            Save action
          </Button>
        </div>
      </form>
    </Dialog>
  )
}

function textOf(test: EventCondition['page']): string {
  return test && 'to' in test ? ([test.to].flat()[0] ?? '') : ''
}
