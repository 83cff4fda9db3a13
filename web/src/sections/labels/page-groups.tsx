import type { Site } from '@dust-trail/api'
import { listSites, savePageGroups } from '@dust-trail/api'
import { pathPattern, suggestPatterns } from '@dust-trail/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { ArrowDown, ArrowUp, NotebookPen, Plus, Trash2 } from 'lucide-react'
import { Fragment, useDeferredValue, useMemo, useState } from 'react'
import { toast } from 'sonner'
import { call } from '../../api/call.ts'
import { usePageGroupUses, useUrls } from '../../api/queries.ts'
import { useLens, useSite } from '../../app/lens.ts'
import { Button, IconButton, inputLook } from '../../ui/controls.tsx'
import { useDraft, useForget } from '../../ui/draft.ts'
import { NoteFields } from '../../ui/note-fields.tsx'
import { count, plural } from '../../ui/format.ts'
import { Failure } from '../../ui/states.tsx'

type PageGroup = Site['pageGroups'][number]

/** Rules in order: the first that catches an address names it. */
export function PageGroups() {
  const site = useSite()
  const { lens } = useLens()
  const client = useQueryClient()
  const urls = useUrls(site.key, lens)
  const [rules, setRules] = useDraft<PageGroup[]>(
    `groups/${JSON.stringify(site.pageGroups)}`,
    site.pageGroups,
  )
  const forget = useForget()
  const [open, setOpen] = useState<number | 'rest' | null>(null)
  const [noted, setNoted] = useState<number | null>(null)
  const uses = usePageGroupUses(site.key)
  const [kept, setKept] = useState<string | null>(null)
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
  const set = (k: number, rule: Partial<PageGroup>) =>
    setRules(rules.map((old, i) => (i === k ? { ...old, ...rule } : old)))
  const usedBy = (rule: PageGroup) => uses.data?.[rule.name] ?? []
  const remove = (k: number) => {
    const { name } = rules[k]!
    const by = rules.some((other, i) => i !== k && other.name === name) ? [] : usedBy(rules[k]!)
    setKept(
      by.length ? `“${name}” is used by ${by.join(', ')}. Take it out there first; then it can go.` : null,
    )
    if (by.length) return
    setNoted(null)
    setRules(rules.filter((_, i) => i !== k))
  }
  const move = (k: number, by: number) => {
    const next = [...rules]
    ;[next[k], next[k + by]] = [next[k + by]!, next[k]!]
    setNoted(null)
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
      {kept && (
        <p role="alert" className="mb-2 rounded-md border border-clay bg-clay-soft px-3 py-2">
          {kept}
        </p>
      )}
      <div className="rounded-md border border-line bg-sheet">
        <table className="w-full">
          <thead>
            <tr>
              <th className="cell w-16">Order</th>
              <th className="cell">Name</th>
              <th className="cell">Pattern (:part is one part, * any rest)</th>
              <th className="cell cell-n">Addresses</th>
              <th className="cell cell-n">Views in the lens</th>
              <th className="cell">Used by</th>
              <th className="cell" aria-label="Change" />
            </tr>
          </thead>
          <tbody>
            {rules.map((rule, k) => (
              <Fragment key={k}>
                <tr>
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
                  <td className="cell max-w-40 truncate text-ink-soft" title={usedBy(rule).join('\n')}>
                    {usedWords(usedBy(rule))}
                  </td>
                  <td className="cell cell-n whitespace-nowrap">
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
                  </td>
                </tr>
                {noted === k && (
                  <tr>
                    <td className="cell" />
                    <td className="cell py-2" colSpan={6}>
                      <div className="grid grid-cols-[1fr_14rem] items-start gap-3">
                        <NoteFields
                          label="Description"
                          note={rule.description ?? ''}
                          setNote={(description) => set(k, { description })}
                          owner={rule.owner ?? ''}
                          setOwner={(owner) => set(k, { owner })}
                        />
                      </div>
                      <p className="mt-1 text-ink-soft">
                        Used by {usedBy(rule).join(', ') || 'nothing yet'}.
                      </p>
                    </td>
                  </tr>
                )}
              </Fragment>
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
              <td className="cell" colSpan={2} />
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

/** The first of what uses something, and how many more. */
function usedWords(by: readonly string[]): string {
  return by.length > 1 ? `${by[0]} and ${by.length - 1} more` : (by[0] ?? 'nothing yet')
}

function isRule({ name, pattern }: PageGroup): boolean {
  return name.trim() !== '' && pattern.startsWith('/')
}

/** The addresses that each rule catches, and those that none does. */
function sortUrls(urls: readonly Url[], rules: readonly PageGroup[]): { of: Url[][]; rest: Url[] } {
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
