import { z } from 'zod'
import { useAddressValue } from '../../app/address.ts'
import { HeatMap } from './heat-map.tsx'
import { PageSheet } from './page-sheet.tsx'
import { PageTable } from './page-table.tsx'

const PAGE = z.string()

/** The pages of the site; one of them as a sheet with what is known of it, and its heat map. */
export function PagesPage() {
  const [page] = useAddressValue('page', PAGE)
  if (!page) return <PageTable />
  return (
    <div className="flex h-full min-h-0 flex-col">
      <PageSheet key={`sheet ${page}`} page={page} />
      <div className="min-h-[28rem] flex-1">
        <HeatMap key={page} page={page} />
      </div>
    </div>
  )
}
