import type { Site } from '@dust-trail/api'
import { ArrowDown, ArrowUp, NotebookPen, Trash2 } from 'lucide-react'
import { IconButton, inputLook } from '../../ui/controls.tsx'
import type { DataColumn } from '../../ui/data-table.tsx'
import { count } from '../../ui/format.ts'
import { LinkButton } from '../../ui/link-button.tsx'

function viewsOf(urls: readonly Url[]): number {
  return urls.reduce((sum, { views }) => sum + views, 0)
}

/** The first of what uses something, and how many more. */
function usedWords(by: readonly string[]): string {
  return by.length > 1 ? `${by[0]} and ${by.length - 1} more` : (by[0] ?? 'nothing yet')
}

export interface Url {
  path: string
  sessions: number
  views: number
}

export type PageGroup = Site['pageGroups'][number]

/** The list of rules as it is worked on. */
export interface RuleList {
  rules: readonly PageGroup[]
  set: (k: number, rule: Partial<PageGroup>) => void
  move: (k: number, by: number) => void
  remove: (k: number) => void
  usedBy: (rule: PageGroup) => readonly string[]
  /** the addresses that a rule catches; after the last rule those that none catches */
  urlsOf: (k: number) => readonly Url[]
  toggleUrls: (which: number | 'rest') => void
  noted: number | null
  setNoted: (noted: number | null) => void
}

/** A row is a rule, in order; the last row, null, stands for the addresses without one. */
export function ruleColumns({
  rules,
  set,
  move,
  remove,
  usedBy,
  urlsOf,
  toggleUrls,
  noted,
  setNoted,
}: RuleList): DataColumn<PageGroup | null>[] {
  return [
    {
      id: 'order',
      head: 'Order',
      cell: (rule, k) =>
        rule && (
          <>
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
          </>
        ),
      width: 78,
    },
    {
      id: 'name',
      head: 'Name',
      cell: (rule, k) =>
        rule ? (
          <input
            aria-label={`Name of rule ${k + 1}`}
            className={inputLook}
            value={rule.name}
            onChange={(event) => set(k, { name: event.target.value })}
          />
        ) : (
          <span className="text-ink-soft">No rule: each a page of its own</span>
        ),
      width: 210,
    },
    {
      id: 'pattern',
      head: 'Pattern (:part is one part, * any rest)',
      cell: (rule, k) =>
        rule && (
          <input
            aria-label={`Pattern of rule ${k + 1}`}
            className={`${inputLook} font-mono text-xs`}
            value={rule.pattern}
            onChange={(event) => set(k, { pattern: event.target.value })}
          />
        ),
      width: 230,
    },
    {
      id: 'addresses',
      head: 'Addresses',
      cell: (rule, k) => (
        <LinkButton onClick={() => toggleUrls(rule ? k : 'rest')}>{count(urlsOf(k).length)}</LinkButton>
      ),
      numeric: true,
      width: 92,
    },
    {
      id: 'views',
      head: 'Views in the lens',
      cell: (_, k) => count(viewsOf(urlsOf(k))),
      numeric: true,
      width: 130,
      folds: 2,
    },
    {
      id: 'used by',
      head: 'Used by',
      cell: (rule) => rule && usedWords(usedBy(rule)),
      title: (rule) => (rule ? usedBy(rule).join('\n') : ''),
      className: 'text-ink-soft',
      width: 150,
      folds: 1,
    },
    {
      id: 'change',
      head: '',
      words: '',
      cell: (rule, k) =>
        rule && (
          <>
            <IconButton
              label={`Description and owner of ${rule.name || `rule ${k + 1}`}`}
              aria-expanded={noted === k}
              className={rule.description || rule.owner ? 'text-ochre-text' : undefined}
              onClick={() => setNoted(noted === k ? null : k)}
            >
              <NotebookPen size={13} />
            </IconButton>
            <IconButton label={`Remove rule ${rule.name || k + 1}`} onClick={() => remove(k)}>
              <Trash2 size={13} />
            </IconButton>
          </>
        ),
      numeric: true,
      width: 84,
    },
  ]
}
