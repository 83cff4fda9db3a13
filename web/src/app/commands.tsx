import { questions } from '@dust-trail/core'
import { Command } from 'cmdk'
import { Dialog as Radix } from 'radix-ui'
import { useNavigate } from 'react-router'
import { useFixes, useFunnels } from '../api/queries.ts'
import { useQuestion } from '../api/use-question.ts'
import { useLens, useLensLink, useSite } from './lens.ts'
import { SECTIONS, SETUP } from './sections.ts'
import { useTheme } from './theme.ts'

interface Props {
  open: boolean
  close: () => void
  toggleTrail: () => void
  addMark: () => void
  showKeys: () => void
}

/** Everything that can be gone to or done, by name. */
export function Commands({ open, close, ...actions }: Props) {
  return (
    <Radix.Root open={open} onOpenChange={(next) => !next && close()}>
      <Radix.Portal>
        <Radix.Overlay className="fixed inset-0 z-40 bg-ink/30" />
        <Radix.Content
          aria-describedby={undefined}
          className="fixed top-[14vh] left-1/2 z-50 w-[92vw] max-w-xl -translate-x-1/2 overflow-hidden rounded-md border border-line bg-sheet shadow-lg"
        >
          <Radix.Title className="sr-only">Commands and search</Radix.Title>
          <List close={close} {...actions} />
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  )
}

function List({ close, toggleTrail, addMark, showKeys }: Omit<Props, 'open'>) {
  const site = useSite()
  const { lens } = useLens()
  const linkTo = useLensLink()
  const navigate = useNavigate()
  const { toggle } = useTheme()
  const pages = useQuestion(questions.catalogue, lens, {}).data?.pages ?? []
  const funnels = useFunnels(site.key).data ?? []
  const fixes = useFixes(site.key, lens).data ?? []
  const go = (path: string, more?: Record<string, string>) => () => {
    close()
    void navigate(linkTo(path, more))
  }
  const then = (action: () => void) => () => {
    close()
    action()
  }
  const group =
    '[&_[cmdk-group-heading]]:px-3 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:pb-1 [&_[cmdk-group-heading]]:text-ink-soft'
  const item = 'flex h-8 items-center gap-2 truncate px-3 data-[selected=true]:bg-ochre-soft'
  return (
    <Command label="Commands and search">
      <Command.Input
        autoFocus
        placeholder="Go to a page, a funnel, a fix, or do something"
        className="h-11 w-full border-b border-line bg-sheet px-3 outline-none placeholder:text-ink-soft"
      />
      <Command.List className="max-h-[50vh] overflow-auto pb-2">
        <Command.Empty className="p-4 text-ink-soft">Nothing by that name.</Command.Empty>
        <Command.Group heading="Go to" className={group}>
          {[...SECTIONS, SETUP].map(({ path, name }) => (
            <Command.Item key={path} value={`go ${name}`} onSelect={go(path)} className={item}>
              {name}
            </Command.Item>
          ))}
        </Command.Group>
        <Command.Group heading="Do" className={group}>
          <Command.Item onSelect={then(addMark)} className={item}>
            Add what is shown to the trail
          </Command.Item>
          <Command.Item onSelect={then(toggleTrail)} className={item}>
            Show or hide the trail
          </Command.Item>
          <Command.Item onSelect={then(toggle)} className={item}>
            Switch between light and dark
          </Command.Item>
          <Command.Item onSelect={then(showKeys)} className={item}>
            Show keyboard shortcuts
          </Command.Item>
        </Command.Group>
        <Command.Group heading="Funnels" className={group}>
          {funnels.map(({ id, name }) => (
            <Command.Item
              key={id}
              value={`funnel ${name} ${id}`}
              onSelect={go('/funnels', { funnel: String(id) })}
              className={item}
            >
              {name}
            </Command.Item>
          ))}
        </Command.Group>
        <Command.Group heading="Pages" className={group}>
          {pages.map(({ page }) => (
            <Command.Item
              key={page}
              value={`page ${page}`}
              onSelect={go('/pages', { page })}
              className={item}
            >
              {page}
            </Command.Item>
          ))}
        </Command.Group>
        <Command.Group heading="Fixes" className={group}>
          {fixes.map(({ fix }) => (
            <Command.Item
              key={fix.id}
              value={`fix ${fix.title} ${fix.id}`}
              onSelect={go(`/fixes/${fix.id}`)}
              className={item}
            >
              {fix.title}
            </Command.Item>
          ))}
        </Command.Group>
      </Command.List>
    </Command>
  )
}
