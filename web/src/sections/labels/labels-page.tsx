import { useSite } from '../../app/lens.ts'
import { Actions } from './actions.tsx'
import { PageGroups } from './page-groups.tsx'

/** Names for pages and for what visitors do; they count for the past as well, at once. */
export function LabelsPage() {
  const site = useSite()
  return (
    <div className="max-w-5xl space-y-6 px-5 py-3">
      <div>
        <h1>Labels</h1>
        <p className="text-ink-soft">
          Names for pages and for what visitors do. They count for the past as well, and on every screen at
          once.
        </p>
      </div>
      <Actions />
      <PageGroups key={JSON.stringify(site.pageGroups)} />
    </div>
  )
}
