import { clsx } from 'clsx'
import type { ReactNode } from 'react'

/** What is asked of somebody before there is a site to look at: one card under the name of the product. */
export function FrontDoor({ wide = false, children }: { wide?: boolean; children: ReactNode }) {
  return (
    <main className="flex min-h-full items-start justify-center bg-chalk py-[8vh]">
      <div
        className={clsx(
          'max-w-full space-y-4 rounded-md border border-line bg-sheet p-5',
          wide ? 'w-[36rem]' : 'w-96',
        )}
      >
        <p className="flex items-center gap-2">
          <img src="/mark.svg" alt="" width={22} height={22} />
          <span className="text-[15px] font-semibold tracking-tight">Dust Trail</span>
        </p>
        {children}
      </div>
    </main>
  )
}
