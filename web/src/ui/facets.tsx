import { clsx } from 'clsx'
import { Tabs } from 'radix-ui'
import type { ReactNode } from 'react'
import { count } from './format.ts'

export function Facet({
  value,
  n,
  children,
}: {
  value: string
  n?: number | undefined
  children: ReactNode
}) {
  return (
    <Tabs.Trigger
      value={value}
      className={clsx(
        '-mb-px h-8 border-b-2 border-transparent px-2.5 text-ink-soft',
        'data-[state=active]:border-ochre data-[state=active]:font-semibold data-[state=active]:text-ink',
      )}
    >
      {children}
      {n !== undefined && <span className="ml-1.5 text-ink-soft">{count(n)}</span>}
    </Tabs.Trigger>
  )
}
