import type { UseQueryResult } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { Failure, Loading, Settling } from './states.tsx'

/** What a question answered: the shape of what comes until it is there, what went wrong, and dimmed while a new one is on its way. */
export function Answered<Answer>({
  answer,
  rows,
  className,
  children,
}: {
  answer: UseQueryResult<Answer, Error>
  /** lines that are drawn until it is there */
  rows?: number
  className?: string
  children: (data: Answer) => ReactNode
}) {
  const { data, error, isPending, isPlaceholderData } = answer
  return (
    <>
      {error && <Failure error={error} retry={() => void answer.refetch()} />}
      {isPending && !error && <Loading {...(rows !== undefined && { rows })} />}
      {data !== undefined && (
        <Settling stale={isPlaceholderData} {...(className !== undefined && { className })}>
          {children(data)}
        </Settling>
      )}
    </>
  )
}

/** The look of a table that stands on a screen of its own. */
export const TABLE_BOX = 'overflow-auto rounded-md border border-line bg-sheet'
