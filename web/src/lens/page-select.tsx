import { questions } from '@dust-trail/core'
import { useQuestion } from '../api/use-question.ts'
import { useLens } from '../app/lens.ts'
import { Select } from '../ui/controls.tsx'

/** Choice of one of the pages that the lens holds; "" is none, in words of its own. */
export function PageSelect({
  label,
  none,
  className,
  page,
  setPage,
}: {
  label: string
  none: string
  className?: string
  page: string
  setPage: (page: string) => void
}) {
  const { lens } = useLens()
  const catalogue = useQuestion(questions.catalogue, lens, {})
  return (
    <Select
      aria-label={label}
      className={className}
      value={page}
      onChange={(event) => setPage(event.target.value)}
    >
      <option value="">{none}</option>
      {catalogue.data?.pages.map((one) => (
        <option key={one.page}>{one.page}</option>
      ))}
    </Select>
  )
}
