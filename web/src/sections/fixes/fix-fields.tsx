import type { Fix } from '@dust-trail/api'
import { EFFORTS, FIX_STATUSES } from '@dust-trail/api'
import { Field, inputLook, Select } from '../../ui/controls.tsx'
import { OwnerField } from '../../app/owner-field.tsx'
import { lastOwner } from '../../app/note-fields.tsx'

export type FixDraft = Pick<
  Fix,
  | 'title'
  | 'hypothesis'
  | 'belief'
  | 'change'
  | 'expectation'
  | 'effort'
  | 'status'
  | 'owner'
  | 'links'
  | 'expectedGain'
  | 'shippedDay'
>

export function emptyFix(title: string): FixDraft {
  return {
    ...{ title: title.slice(0, 160), hypothesis: '', belief: '', change: '', expectation: '' },
    ...{
      effort: 'days',
      status: 'idea',
      owner: lastOwner(),
      links: [],
      expectedGain: null,
      shippedDay: null,
    },
  }
}

/** The fields of a fix alone, without what else is known of it. */
export function draftOf(fix: FixDraft): FixDraft {
  const { title, hypothesis, belief, change, expectation, effort, status } = fix
  const { owner, links, expectedGain, shippedDay } = fix
  return {
    ...{ title, hypothesis, belief, change, expectation, effort, status },
    ...{ owner, links, expectedGain, shippedDay },
  }
}

export function FixFields({
  fields,
  setFields,
}: {
  fields: FixDraft
  setFields: (fields: FixDraft) => void
}) {
  return (
    <>
      <Field label="Title">
        <input
          required
          maxLength={160}
          className={inputLook}
          value={fields.title}
          onChange={(event) => setFields({ ...fields, title: event.target.value })}
        />
      </Field>
      <Field label="Because we saw" hint="What you saw, with its numbers.">
        <textarea
          required
          rows={3}
          maxLength={4000}
          className={inputLook}
          value={fields.hypothesis}
          onChange={(event) => setFields({ ...fields, hypothesis: event.target.value })}
        />
      </Field>
      <Field label="we believe that … for …" hint="Why it happens, and to whom.">
        <textarea
          rows={2}
          maxLength={4000}
          className={inputLook}
          value={fields.belief}
          onChange={(event) => setFields({ ...fields, belief: event.target.value })}
        />
      </Field>
      <Field label="so we change">
        <textarea
          rows={2}
          maxLength={4000}
          className={inputLook}
          value={fields.change}
          onChange={(event) => setFields({ ...fields, change: event.target.value })}
        />
      </Field>
      <Field label="and expect">
        <textarea
          rows={2}
          maxLength={4000}
          className={inputLook}
          value={fields.expectation}
          onChange={(event) => setFields({ ...fields, expectation: event.target.value })}
        />
      </Field>
      <Field label="Links" hint="One a line: the ticket, the design.">
        <textarea
          rows={2}
          className={`${inputLook} font-mono text-xs`}
          value={fields.links.join('\n')}
          onChange={(event) => setFields({ ...fields, links: event.target.value.split('\n') })}
          onBlur={() => setFields({ ...fields, links: fields.links.filter((link) => link.trim() !== '') })}
        />
      </Field>
      <div className="grid grid-cols-3 gap-4">
        <OwnerField owner={fields.owner} setOwner={(owner) => setFields({ ...fields, owner })} />
        <Field label="Hoped for" hint="conversions more in 30 days">
          <input
            type="number"
            className={inputLook}
            value={fields.expectedGain ?? ''}
            onChange={({ target }) =>
              setFields({ ...fields, expectedGain: target.value === '' ? null : Number(target.value) })
            }
          />
        </Field>
        <Field label="Shipped on">
          <input
            type="date"
            className={inputLook}
            value={fields.shippedDay ?? ''}
            onChange={({ target }) => setFields({ ...fields, shippedDay: target.value || null })}
          />
        </Field>
      </div>
      <div className="grid grid-cols-2 gap-4">
        <Field label="Effort">
          <Select
            className="w-full"
            value={fields.effort}
            onChange={(event) => setFields({ ...fields, effort: event.target.value as FixDraft['effort'] })}
          >
            {EFFORTS.map((effort) => (
              <option key={effort}>{effort}</option>
            ))}
          </Select>
        </Field>
        <Field label="Status">
          <Select
            className="w-full"
            value={fields.status}
            onChange={(event) => setFields({ ...fields, status: event.target.value as FixDraft['status'] })}
          >
            {FIX_STATUSES.map((status) => (
              <option key={status}>{status}</option>
            ))}
          </Select>
        </Field>
      </div>
    </>
  )
}
