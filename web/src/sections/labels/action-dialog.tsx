import type { Action } from '@dust-trail/api'
import { createAction, updateAction } from '@dust-trail/api'
import type { EventCondition } from '@dust-trail/core'
import { questions } from '@dust-trail/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useDeferredValue, useMemo } from 'react'
import { toast } from 'sonner'
import { call } from '../../api/call.ts'
import { useSizes } from '../../api/queries.ts'
import { useQuestion } from '../../api/use-question.ts'
import { useLens, useSite } from '../../app/lens.ts'
import { PageSelect } from '../../lens/page-select.tsx'
import { Field, inputLook, NameField, Select } from '../../ui/controls.tsx'
import { useDraft, useForget } from '../../ui/draft.ts'
import { FormDialog } from '../../ui/form-dialog.tsx'
import { count, day, percent, plural } from '../../ui/format.ts'
import { NoteFields, useOwner } from '../../app/note-fields.tsx'

export function ruleOf(page: string, selector: string): EventCondition {
  return { kinds: ['click'], page: { is: 'equal', to: page }, element: { is: 'equal', to: selector } }
}

export function did(event: EventCondition) {
  return { type: 'where' as const, condition: { type: 'event' as const, event } }
}

const KINDS = [
  ...(['click', 'input', 'submit', 'action', 'seen', 'gesture'] as const),
  ...(['page', 'request', 'error', 'signal', 'answer'] as const),
]
/** What is known by a name of its own, not by an element. */
const NAMED = ['action', 'gesture', 'request', 'error', 'signal', 'answer']

/** A name and a rule, with how much the rule catches as it is written. */
export function ActionDialog({ known: initial, close }: { known: Partial<Action>; close: () => void }) {
  const site = useSite()
  const { lens } = useLens()
  const client = useQueryClient()
  const draft = `action/${initial.id ?? JSON.stringify(initial)}/`
  const forget = useForget()
  const [name, setName] = useDraft(`${draft}name`, initial.name ?? '')
  const [description, setDescription] = useDraft(`${draft}description`, initial.description ?? '')
  const [owner, setOwner] = useOwner(initial.owner)
  const rule = initial.rule ?? {}
  const [kind, setKind] = useDraft<string>(`${draft}kind`, rule.kinds?.[0] ?? 'click')
  const [page, setPage] = useDraft(`${draft}page`, textOf(rule.page))
  const [element, setElement] = useDraft(`${draft}element`, textOf(rule.element) || textOf(rule.name))
  const [text, setText] = useDraft(`${draft}text`, textOf(rule.text))
  const [path, setPath] = useDraft(`${draft}path`, textOf(rule.path))
  const [key, setKey] = useDraft(`${draft}key`, rule.prop?.key ?? '')
  const [value, setValue] = useDraft(`${draft}value`, valueOf(rule.prop))
  const [isSignal, setSignal] = useDraft(`${draft}signal`, initial.isSignal ?? false)
  const hasName = NAMED.includes(kind)
  const next: EventCondition = {
    kinds: [kind as (typeof KINDS)[number]],
    ...(page && { page: kept(rule.page, page) ?? { is: 'equal', to: page } }),
    ...(element &&
      (hasName
        ? { name: kept(rule.name, element) ?? { is: 'matching', to: element } }
        : { element: kept(rule.element, element) ?? { is: 'equal', to: element } })),
    ...(text && { text: kept(rule.text, text) ?? { is: 'containing', to: text } }),
    ...(path && { path: kept(rule.path, path) ?? { is: 'matching', to: path } }),
    ...(key && { prop: propOf(key, value) }),
  }
  const wanted = useDeferredValue(JSON.stringify(next))
  const tested = useMemo(() => JSON.parse(wanted) as EventCondition, [wanted])
  const question = { lens, selection: did(tested) }
  const sizes = useSizes(site.key, [question])
  const times = useQuestion(questions.distribution, question.lens, {
    selection: question.selection,
    options: { countOf: tested, bins: 0, quantiles: [] },
  })
  const size = sizes.data?.sizes[0]
  const found = times.data?.values[0]
  const save = useMutation({
    mutationFn: () => {
      const body = { name, description, owner, rule: next, isSignal }
      return initial.id === undefined
        ? call(createAction, { site: site.key }, body)
        : call(updateAction, { site: site.key, id: initial.id }, body)
    },
    onSuccess: () => {
      void client.invalidateQueries()
      forget(draft)
      toast('Action saved: it counts for all data.')
      close()
    },
  })
  return (
    <FormDialog
      title={initial.id === undefined ? 'Name an action' : 'Change an action'}
      wide
      close={close}
      submit={() => save.mutate()}
      submitText="Save action"
      saving={save.isPending}
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
          <PageSelect
            label="On which page"
            none="any page"
            className="w-full"
            page={page}
            setPage={setPage}
          />
        </Field>
        <Field label={hasName ? 'Its own name (* any)' : 'Element (selector)'}>
          <input
            className={`${inputLook} font-mono text-xs`}
            value={element}
            onChange={(event) => setElement(event.target.value)}
          />
        </Field>
        <Field label="Whose text contains">
          <input className={inputLook} value={text} onChange={(event) => setText(event.target.value)} />
        </Field>
        <Field label="Whose address matches (* any)">
          <input
            className={`${inputLook} font-mono text-xs`}
            value={path}
            onChange={(event) => setPath(event.target.value)}
          />
        </Field>
        <div className="grid grid-cols-2 gap-2">
          <Field label="With property">
            <input className={inputLook} value={key} onChange={(event) => setKey(event.target.value)} />
          </Field>
          <Field label="that is">
            <input
              className={inputLook}
              placeholder="anything"
              value={value}
              onChange={(event) => setValue(event.target.value)}
            />
          </Field>
        </div>
      </div>
      <p
        role="status"
        className="rounded-md bg-ochre-soft px-2.5 py-1.5 text-ochre-text"
        aria-busy={sizes.isPlaceholderData}
      >
        {size && found && !sizes.isPlaceholderData
          ? `Matches ${plural(Math.round((found.mean ?? 0) * found.known), 'time')} in ${plural(size.hits, 'session')}, ${percent(size.share)} of ${count(size.base)} in the lens.`
          : size?.hits === 0
            ? 'Matches nothing in the lens.'
            : 'Counting …'}
        {site.days && ` It holds for the past too: data reach back to ${day(site.days.from)}.`}
      </p>
      <label className="flex items-center gap-2">
        <input type="checkbox" checked={isSignal} onChange={({ target }) => setSignal(target.checked)} />
        It is a signal: list it under Friction, with whom it met and what became of them
      </label>
      <NoteFields label="Description" note={description} setNote={setDescription} {...{ owner, setOwner }} />
    </FormDialog>
  )
}

type Test = EventCondition['page']

/** A test as it was, where what it is held against was not changed: this dialog shows no other ways to compare. */
function kept(test: Test, text: string): Test {
  return textOf(test) === text ? test : undefined
}

/** A test on a property; what looks like a number is one. */
function propOf(key: string, value: string): EventCondition['prop'] {
  if (value === '') return { key }
  const number = Number(value)
  return Number.isFinite(number)
    ? { key, number: { is: 'equal', to: number } }
    : { key, text: { is: 'equal', to: value } }
}

function valueOf(prop: EventCondition['prop']): string {
  return prop?.number && prop.number.is !== 'between' ? String(prop.number.to) : textOf(prop?.text)
}

function textOf(test: Test): string {
  return test && 'to' in test ? ([test.to].flat()[0] ?? '') : ''
}
