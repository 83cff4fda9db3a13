import { useAsOf } from '../api/as-of.ts'
import { moment } from '../ui/format.ts'
import { useSite } from './lens.ts'

/** As of when the answers on screen are. */
export function AsOfLine() {
  const site = useSite()
  const atMs = useAsOf(site.key)
  return (
    atMs !== undefined && (
      <p
        className="px-2 pt-1 text-[11px] text-ink-soft"
        title="Everything that had arrived by then is in the answers."
      >
        as of {moment(atMs, site.timeZone)}
      </p>
    )
  )
}
