import { useSites } from '../api/queries.ts'
import { Select } from '../ui/controls.tsx'
import { useAddress } from './address.ts'
import { useSite } from './lens.ts'

export function SiteChoice() {
  const site = useSite()
  const sites = useSites()
  const [, changeAddress] = useAddress()
  if ((sites.data?.length ?? 0) < 2)
    return <span className="mr-1 max-w-56 truncate font-semibold">{site.name}</span>
  return (
    <Select
      aria-label="Site"
      value={site.key}
      onChange={(event) => changeAddress(() => new URLSearchParams({ site: event.target.value }))}
    >
      {sites.data?.map(({ key, name }) => (
        <option key={key} value={key}>
          {name}
        </option>
      ))}
    </Select>
  )
}
