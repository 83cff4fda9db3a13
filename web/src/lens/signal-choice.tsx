import type { Condition, SignalKind } from '@dust-trail/core'
import { SIGNAL_KINDS, questions } from '@dust-trail/core'
import { useState } from 'react'
import { useQuestion } from '../api/use-question.ts'
import { useLens } from '../app/lens.ts'
import { inputLook, Select } from '../ui/controls.tsx'
import { plural } from '../ui/format.ts'
import { elementName } from '../words/selections.ts'
import { Values } from './filter-values.tsx'
import { PageSelect } from './page-select.tsx'
import { useCounts } from './size-of.tsx'

const MOST_ELEMENTS = 100

/** A condition on signals: of which kinds, where, and how often. */
export function SignalChoice({ add }: { add: (condition: Condition) => void }) {
  const [page, setPage] = useState('')
  const [element, setElement] = useState('')
  const [times, setTimes] = useState('1')
  const least = Number(times)
  const signal = (kind: SignalKind): Condition => ({
    type: 'signal',
    kind,
    ...(page && { page: { is: 'equal', to: page } }),
    ...(element && { element: { is: 'equal', to: element } }),
    ...(least > 1 && { count: { is: 'at least', to: least } }),
  })
  const counts = useCounts(SIGNAL_KINDS.map(signal))
  const elements = useElements(page)
  return (
    <Values
      values={SIGNAL_KINDS.map((value, k) => ({ value, sessions: counts[k] }))}
      add={(kinds, not) => {
        const any = kinds.map((kind) => signal(kind as SignalKind))
        const one: Condition = any.length === 1 ? any[0]! : { type: 'any', of: any }
        add(not ? { type: 'not', of: one } : one)
      }}
    >
      <div className="grid grid-cols-[auto_minmax(0,1fr)] items-center gap-1.5 text-ink-soft">
        on
        <PageSelect
          label="On which page"
          none="any page"
          page={page}
          setPage={(next) => {
            setPage(next)
            setElement('')
          }}
        />
        at
        <Select
          aria-label="At which element"
          value={element}
          onChange={(event) => setElement(event.target.value)}
        >
          <option value="">any element</option>
          {elements.map(({ selector, text, sessions }) => (
            <option key={selector} value={selector}>
              {elementName(text, selector)}
              {sessions === undefined ? '' : `, ${plural(sessions, 'session')}`}
            </option>
          ))}
        </Select>
        <span className="col-span-2 flex items-center gap-1.5">
          at least
          <input
            aria-label="Times"
            type="number"
            min={1}
            className={`${inputLook} !w-16`}
            value={times}
            onChange={(event) => setTimes(event.target.value)}
          />
          {least === 1 ? 'time' : 'times'}
        </span>
      </div>
    </Values>
  )
}

/**
 * Elements at which something went wrong in the lens, on one page or on any ("" = any), each with in how many sessions;
 * those of most sessions first.
 */
function useElements(page: string): { selector: string; text: string; sessions: number | undefined }[] {
  const { lens } = useLens()
  const everyone = useQuestion(questions.closeUp, lens, { selection: { type: 'everyone' } }, { keep: false })
  const texts = new Map<string, string>()
  // What is met by most comes first.
  for (const { page: on, selector, text } of everyone.data?.troubles ?? [])
    if (selector !== '' && (page === '' || on === page) && !texts.has(selector)) texts.set(selector, text)
  const elements = [...texts].slice(0, MOST_ELEMENTS).map(([selector, text]) => ({ selector, text }))
  const counts = useCounts(
    elements.map(({ selector }) => ({
      type: 'signal',
      element: { is: 'equal', to: selector },
      ...(page && { page: { is: 'equal', to: page } }),
    })),
  )
  return elements.map((one, k) => ({ ...one, sessions: counts[k] }))
}
