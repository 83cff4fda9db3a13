import { day } from '../ui/format.ts'
import { LinkButton } from '../ui/link-button.tsx'
import { Empty } from '../ui/states.tsx'
import { useLens, useSite } from './lens.ts'

/** Stands where there is nothing to count: says when there are sessions, and leads there. */
export function NoSessions() {
  const { days } = useSite()
  const { setLens } = useLens()
  return (
    <Empty title="No sessions in the lens">
      {days && (
        <p>
          The site has sessions from {day(days.from)} to {day(days.to)}:{' '}
          <LinkButton onClick={() => setLens({ ...days, devices: [] })}>show all of them</LinkButton>.
        </p>
      )}
      <p>Choose other dates, or take filters away.</p>
    </Empty>
  )
}
