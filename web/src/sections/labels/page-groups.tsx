import { listSites, savePageGroups } from '@dust-trail/api'
import { pathPattern, questions, suggestPatterns } from '@dust-trail/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Plus } from 'lucide-react'
import { useDeferredValue, useMemo, useState } from 'react'
import { toast } from 'sonner'
import { call } from '../../api/call.ts'
import { usePageGroupUses } from '../../api/queries.ts'
import { useQuestion } from '../../api/use-question.ts'
import { useLens, useSite } from '../../app/lens.ts'
import { Button } from '../../ui/controls.tsx'
import { DataTable } from '../../ui/data-table.tsx'
import { useDraft, useForget } from '../../ui/draft.ts'
import { plural } from '../../ui/format.ts'
import { NoteFields } from '../../app/note-fields.tsx'
import { Failure } from '../../ui/states.tsx'
import type { PageGroup, Url } from './page-group-columns.tsx'
import { ruleColumns } from './page-group-columns.tsx'

/** Rules in order: the first that catches an address names it. */
export function PageGroups() {
  const site = useSite()
  const { lens } = useLens()
  const client = useQueryClient()
  const urls = useQuestion(questions.urls, lens, {})
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
  const urlsOf = (k: number) => (k < rules.length ? (sorted.of[k] ?? []) : sorted.rest)
  const columns = ruleColumns({
    rules,
    set,
    move,
    remove,
    usedBy,
    urlsOf,
    toggleUrls: (which) => setOpen(open === which ? null : which),
    noted,
    setNoted,
  })
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
        <DataTable
          name="page-groups"
          rows={[...rules, null]}
          columns={columns}
          rowKey={(_, k) => String(k)}
          rowHeight={40}
          below={(rule, k) =>
            rule && noted === k ? (
              <tr>
                <td className="cell px-4 py-2" colSpan={99}>
                  <div className="grid grid-cols-[1fr_14rem] items-start gap-3">
                    <NoteFields
                      label="Description"
                      note={rule.description ?? ''}
                      setNote={(description) => set(k, { description })}
                      owner={rule.owner ?? ''}
                      setOwner={(owner) => set(k, { owner })}
                    />
                  </div>
                  <p className="mt-1 text-ink-soft">Used by {usedBy(rule).join(', ') || 'nothing yet'}.</p>
                </td>
              </tr>
            ) : null
          }
        />
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
        <Suggestions urls={urls.data} rules={shown} add={(rule) => setRules([...rules, rule])} />
      </div>
    </section>
  )
}

/** Patterns that the addresses without a rule have in common. */
function Suggestions({
  urls,
  rules,
  add,
}: {
  urls: readonly Url[] | undefined
  rules: readonly PageGroup[]
  add: (rule: PageGroup) => void
}) {
  const patterns = useMemo(
    () =>
      suggestPatterns(
        urls ?? [],
        rules.filter(isRule).map(({ pattern }) => pattern),
      ).slice(0, 5),
    [urls, rules],
  )
  return (
    <>
      {patterns.length > 0 && <span className="text-ink-soft">The addresses suggest:</span>}
      {patterns.map(({ pattern, pages, examples }) => (
        <Button
          key={pattern}
          title={`${examples.join('\n')}\n…`}
          onClick={() =>
            add({
              name: pattern.split('/').find((part) => part && !part.startsWith(':')) ?? pattern,
              pattern,
            })
          }
        >
          <span className="font-mono text-xs">{pattern}</span>
          <span className="text-ink-soft">{plural(pages, 'address', 'addresses')}</span>
        </Button>
      ))}
    </>
  )
}

function isRule({ name, pattern }: PageGroup): boolean {
  return name.trim() !== '' && pattern.startsWith('/')
}

/** The addresses that each rule catches, and those that none does. */
function sortUrls(urls: readonly Url[], rules: readonly PageGroup[]): { of: Url[][]; rest: Url[] } {
  const tests = rules.map((rule) => (isRule(rule) ? pathPattern(rule.pattern) : { test: () => false }))
  const of = rules.map((): Url[] => [])
  const rest: Url[] = []
  for (const url of urls) {
    const k = tests.findIndex((test) => test.test(url.path))
    ;(k < 0 ? rest : of[k]!).push(url)
  }
  return { of, rest }
}
