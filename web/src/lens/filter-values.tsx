import type { TextTest } from '@dust-trail/core'
import { Check } from 'lucide-react'
import type { ReactNode } from 'react'
import { useState } from 'react'
import { Button, inputLook, Select } from '../ui/controls.tsx'
import { count } from '../ui/format.ts'

const PATTERNS = ['containing', 'not containing', 'starting with', 'ending with', 'matching'] as const
const PATTERN_WORDS: Record<(typeof PATTERNS)[number], string> = {
  containing: 'contains',
  'not containing': 'does not contain',
  'starting with': 'begins with',
  'ending with': 'ends with',
  matching: 'matches (* any, ? one)',
}

/** Choice among values, each with how many sessions hold it, or by what a text is like. */
export function Values({
  values,
  add,
  single = false,
  patterns = false,
  empty = 'Nothing by that name in the lens.',
  children,
}: {
  values: { value: string; sessions?: number | undefined }[] | undefined
  add: (chosen: readonly string[], not: boolean, test?: TextTest) => void
  single?: boolean
  patterns?: boolean
  empty?: string
  /** what else there is to choose */
  children?: ReactNode
}) {
  const [how, setHow] = useState<'is' | 'is not' | (typeof PATTERNS)[number]>('is')
  const [chosen, setChosen] = useState<readonly string[]>([])
  const [search, setSearch] = useState('')
  const pattern = PATTERNS.find((one) => one === how)
  const wanted = search.toLowerCase()
  const shown = (values ?? []).filter(
    ({ value }) => pattern !== undefined || value.toLowerCase().includes(wanted),
  )
  return (
    <form
      className="flex min-h-0 flex-1 flex-col gap-2"
      onSubmit={(event) => {
        event.preventDefault()
        if (pattern) add([], false, { is: pattern, to: search })
        else add(chosen, how === 'is not')
      }}
    >
      <div className="flex gap-2">
        <Select
          aria-label="How"
          className="w-40 shrink-0"
          value={how}
          onChange={(event) => setHow(event.target.value as typeof how)}
        >
          <option>is</option>
          <option>is not</option>
          {patterns &&
            PATTERNS.map((one) => (
              <option key={one} value={one}>
                {PATTERN_WORDS[one]}
              </option>
            ))}
        </Select>
        <input
          autoFocus
          aria-label={pattern ? 'Text' : 'Search values'}
          placeholder={pattern ? 'Text' : 'Search'}
          className={inputLook}
          value={search}
          onChange={(event) => setSearch(event.target.value)}
        />
      </div>
      {!pattern && (
        <div className="min-h-0 flex-1 overflow-auto rounded-md border border-line" aria-busy={!values}>
          {shown.slice(0, 500).map(({ value, sessions }) => {
            const on = chosen.includes(value)
            return (
              <button
                key={value}
                type="button"
                role={single ? 'radio' : 'checkbox'}
                aria-checked={on}
                className="flex h-7 w-full items-center gap-2 px-2 text-left hover:bg-ochre-soft"
                onClick={() =>
                  setChosen(
                    single ? [value] : on ? chosen.filter((one) => one !== value) : [...chosen, value],
                  )
                }
              >
                <Check size={13} aria-hidden className={on ? 'text-spruce' : 'invisible'} />
                <span className="min-w-0 flex-1 truncate" title={value}>
                  {value || 'not known'}
                </span>
                {sessions !== undefined && <span className="text-ink-soft">{count(sessions)}</span>}
              </button>
            )
          })}
          {values && !shown.length && <p className="p-2 text-ink-soft">{empty}</p>}
        </div>
      )}
      {children}
      <div>
        <Button type="submit" look="primary" disabled={pattern ? !search : !chosen.length}>
          Add filter
        </Button>
      </div>
    </form>
  )
}
