import { on } from './listen.ts'
import type { Page } from './page.ts'

/** Sends script errors. */
export function watchFaults({ send, causes }: Page): void {
  on(window, 'error', (event) => {
    if (!event.message) return
    send({
      kind: 'error',
      message: event.message,
      source: event.filename || location.href,
      line: event.lineno,
      column: event.colno,
      stack: String((event.error as Error | null)?.stack ?? ''),
      ...causes.of(event.message),
    })
  })
  on(window, 'unhandledrejection', (event) => {
    const reason: unknown = event.reason
    const message = reason instanceof Error ? reason.message : String(reason)
    send({ kind: 'error', message, ...causes.of(message) })
  })
}
