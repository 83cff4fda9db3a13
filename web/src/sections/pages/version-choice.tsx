import type { ClickHeatAnswer } from '@dust-trail/core'
import { useLens, useSite } from '../../app/lens.ts'
import { Select } from '../../ui/controls.tsx'
import { count, dayIn, inZones } from '../../ui/format.ts'
import { LinkButton } from '../../ui/link-button.tsx'

const calendar = inZones('en-CA', { year: 'numeric', month: '2-digit', day: '2-digit' })

/** Which version of a page is shown, where it was recorded in several; and a way to look at its days alone. */
export function VersionChoice({
  heat: { versions, snapshot },
  setVersion,
}: {
  heat: ClickHeatAnswer
  setVersion: (version: string | null) => void
}) {
  const site = useSite()
  const { lens, setLens } = useLens()
  const shown = versions.find(({ version }) => version === snapshot?.version)
  if (versions.length < 2 || !shown) return null
  const [from, to] = [shown.firstMs, shown.lastMs].map((ms) => calendar(ms, site.timeZone)) as [
    string,
    string,
  ]
  return (
    <span className="flex items-center gap-2">
      <Select
        aria-label="Version of the page"
        className="max-w-64"
        value={shown.version}
        onChange={({ target }) => setVersion(target.value)}
      >
        {versions.map(({ version, sessions, firstMs, lastMs }) => (
          <option key={version} value={version}>
            {dayIn(firstMs, site.timeZone)} – {dayIn(lastMs, site.timeZone)}, {count(sessions)} recorded
          </option>
        ))}
      </Select>
      {(from > lens.from || to < lens.to) && (
        <LinkButton
          title="Narrows the lens down to the days in which this version was recorded"
          onClick={() => setLens({ ...lens, from, to })}
        >
          its days alone
        </LinkButton>
      )}
    </span>
  )
}
