import { listSites, savePageGroups } from '@dust-trail/api'
import { pathPattern, questions, suggestPatterns } from '@dust-trail/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { toast } from 'sonner'
import { call } from '../../api/call.ts'
import { useQuestion } from '../../api/use-question.ts'
import { useLens, useSite } from '../../app/lens.ts'
import { Field, inputLook, NameField } from '../../ui/controls.tsx'
import { FormDialog } from '../../ui/form-dialog.tsx'
import { count, plural } from '../../ui/format.ts'

/** Makes one page of several: a rule for page groups, with what it would catch. It counts everywhere, for the past too. */
export function GroupPages({
  pages,
  close,
}: {
  /** the pages from which one comes, each a group of its own so far */
  pages: readonly { page: string; sessions: number }[]
  close: () => void
}) {
  const site = useSite()
  const { lens } = useLens()
  const client = useQueryClient()
  const urls = useQuestion(questions.urls, lens, {}).data
  const [first] = suggestPatterns(
    pages.map(({ page, sessions }) => ({ path: page, sessions })),
    site.pageGroups.map(({ pattern }) => pattern),
  )
  const [name, setName] = useState('')
  const [typed, setPattern] = useState<string | null>(null)
  const pattern = typed ?? first?.pattern ?? '/'
  const test = pathPattern(pattern)
  const caught = (urls ?? []).filter(({ path }) => test.test(path))
  const save = useMutation({
    mutationFn: () =>
      call(
        savePageGroups,
        { site: site.key },
        // The rule that is made here is meant, whatever others say of the same addresses.
        { pageGroups: [{ name, pattern }, ...site.pageGroups] },
      ),
    onSuccess: async () => {
      close()
      await client.invalidateQueries({ queryKey: [listSites.path] })
      void client.invalidateQueries()
      toast(`“${name}” is one page from now on, for all data.`)
    },
  })
  return (
    <FormDialog
      title="Group pages"
      description="Addresses that are one page to a person. The group counts everywhere, for the past as well."
      close={close}
      submit={() => save.mutate()}
      submitText="Group them"
      ready={name.trim() !== '' && caught.length > 0}
      saving={save.isPending}
      error={save.error}
    >
      <NameField error={undefined} name={name} setName={setName} />
      <Field label="Addresses" hint=":name stands for one part of the path, * for any rest.">
        <input
          className={`${inputLook} font-mono`}
          value={pattern}
          maxLength={500}
          onChange={({ target }) => setPattern(target.value)}
        />
      </Field>
      <p role="status">
        {plural(caught.length, 'address', 'addresses')}, seen in{' '}
        {count(caught.reduce((sum, { sessions }) => sum + sessions, 0))} sessions (each address for itself).
      </p>
      <ul className="max-h-32 overflow-auto font-mono text-xs">
        {caught.slice(0, 50).map(({ path, sessions }) => (
          <li key={path} className="flex gap-3">
            <span className="min-w-0 flex-1 truncate">{path}</span>
            <span className="text-ink-soft">{count(sessions)}</span>
          </li>
        ))}
      </ul>
    </FormDialog>
  )
}
