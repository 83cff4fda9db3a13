import { daysText } from '../ui/format.ts'
import { LinkButton } from '../ui/link-button.tsx'
import { Empty } from '../ui/states.tsx'
import { today, useLens, useSite } from './lens.ts'

/** Stands where there is nothing to count: says when there are sessions, and leads there. */
export function NoSessions() {
  const { days, timeZone } = useSite()
  const { setLens } = useLens()
  return (
    <Empty title="No sessions in the lens">
      {days && (
        <p>
          The site has sessions over {daysText(days.from, days.to, today(timeZone))}:{' '}
          <LinkButton onClick={() => setLens({ ...days, devices: [] })}>show all of them</LinkButton>.
        </p>
      )}
      <p>Choose other dates, or take filters away.</p>
    </Empty>
  )
}
