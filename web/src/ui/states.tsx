import { clsx } from 'clsx'
import type { ReactNode } from 'react'
import { CallError } from '../api/call.ts'
import { Button } from './controls.tsx'

/** The shape of what is coming. */
export function Loading({ rows = 5, label = 'Loading' }: { rows?: number; label?: string }) {
  return (
    <div role="status" aria-label={label} className="space-y-2 p-3">
      {Array.from({ length: rows }, (_, i) => (
        <div key={i} className="skeleton h-6" style={{ width: `${92 - ((i * 17) % 40)}%` }} />
      ))}
    </div>
  )
}

export function Empty({ title, children }: { title: string; children?: ReactNode }) {
  return (
    <div className="mx-auto max-w-md px-6 py-10 text-center">
      <p className="font-semibold">{title}</p>
      {children && <div className="mt-1 text-ink-soft">{children}</div>}
    </div>
  )
}

export function Failure({ error, retry }: { error: Error; retry?: () => void }) {
  return (
    <div role="alert" className="m-3 rounded-md border border-clay bg-clay-soft px-3 py-2">
      <p className="font-semibold">{error.message}</p>
      {error instanceof CallError && <p>{error.hint}</p>}
      {retry && (
        <Button className="mt-2" onClick={retry}>
          Try again
        </Button>
      )}
    </div>
  )
}

/** Dims an answer that belongs to an earlier question while the new one is on its way. */
export function Settling({
  stale,
  children,
  className,
}: {
  stale: boolean
  children: ReactNode
  className?: string
}) {
  return (
    <div aria-busy={stale} className={clsx('transition-opacity', stale && 'opacity-45', className)}>
      {children}
    </div>
  )
}
