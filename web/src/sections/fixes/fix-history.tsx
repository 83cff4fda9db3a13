import type { Fix, FixEvent } from '@dust-trail/api'
import { commentFix, getFix } from '@dust-trail/api'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { call } from '../../api/call.ts'
import { useSite } from '../../app/lens.ts'
import { Button, inputLook } from '../../ui/controls.tsx'
import { useDraft } from '../../ui/draft.ts'
import { moment } from '../../ui/format.ts'
import { Failure } from '../../ui/states.tsx'

const KIND_WORDS: Record<FixEvent['kind'], string> = {
  ...{ created: 'Written down', changed: 'Changed', status: 'Status', comment: 'Said' },
  ...{ merged: 'Merged', split: 'Split' },
}

/** All that happened to a fix and was said of it, the latest last; and a place to say more. */
export function FixHistory({ fix, history }: { fix: Fix; history: readonly FixEvent[] }) {
  const site = useSite()
  const client = useQueryClient()
  const [text, setText] = useDraft(`fix/${fix.id}/comment`, '')
  const say = useMutation({
    mutationFn: () => call(commentFix, { site: site.key, id: fix.id }, { text }),
    onSuccess: () => {
      setText('')
      void client.invalidateQueries({ queryKey: [getFix.path] })
    },
  })
  return (
    <section aria-label="History">
      <h2 className="mb-1">History</h2>
      <ol className="space-y-1">
        {history.map(({ atMs, kind, words }, k) => (
          <li key={k} className="grid grid-cols-[116px_96px_minmax(0,1fr)] gap-2">
            <span className="text-ink-soft">{moment(atMs, site.timeZone)}</span>
            <span className="text-ink-soft">{KIND_WORDS[kind]}</span>
            <span className="break-words whitespace-pre-wrap">{words}</span>
          </li>
        ))}
      </ol>
      <form
        className="mt-2 flex gap-2"
        onSubmit={(event) => {
          event.preventDefault()
          if (text.trim()) say.mutate()
        }}
      >
        <input
          aria-label="Comment"
          maxLength={4000}
          className={inputLook}
          placeholder="Say something about it"
          value={text}
          onChange={({ target }) => setText(target.value)}
        />
        <Button type="submit" disabled={!text.trim() || say.isPending}>
          Comment
        </Button>
      </form>
      {say.error && <Failure error={say.error} />}
    </section>
  )
}
