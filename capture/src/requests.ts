import { now, quiet, replace } from './dom.ts'
import type { Page } from './page.ts'

/** Sends the requests of the page with their outcome and what they came of; what is not ours goes through untouched. */
export function watchRequests({ send, effects, causes }: Page, collectAddress: string): void {
  /** @returns tells how it ended: a status, 0 = no answer, undefined = the page itself broke it off */
  const begin = (method: string, address: string) => {
    const { href, protocol, pathname } = new URL(address, location.href)
    // What is made on the page itself asks nobody for anything.
    if (!protocol.startsWith('http') || href.startsWith(collectAddress)) return undefined
    const path = pathname.slice(0, 2048)
    const t = now()
    const answered = effects.request(path)
    const cause = causes.of(`${method} ${path}`)
    return quiet((status: number | undefined, length?: () => string | null) => {
      answered()
      if (status !== undefined)
        send({
          kind: 'request',
          t,
          method: method.toUpperCase().slice(0, 10),
          path,
          status,
          ms: now() - t,
          ...sized(length?.(), href),
          ...cause,
        })
    })
  }

  const watchAnswer = quiet(
    (answer: Promise<Response>, input: RequestInfo | URL, init: RequestInit | undefined) => {
      const request = input instanceof Request ? input : undefined
      const end = begin(init?.method ?? request?.method ?? 'GET', request?.url ?? `${input as string}`)
      if (end)
        answer.then(
          ({ status, headers }) => end(status, () => headers.get('content-length')),
          (error: unknown) => end((error as Error | undefined)?.name === 'AbortError' ? undefined : 0),
        )
    },
  )
  const originalFetch = window.fetch
  const watchedFetch: typeof fetch = function (this: Window, input, init) {
    const answer = originalFetch.call(this, input, init)
    watchAnswer(answer, input, init)
    return answer
  }
  replace(window, 'fetch', watchedFetch)

  const prototype = XMLHttpRequest.prototype
  const opened = new WeakMap<XMLHttpRequest, [string, string]>()
  const { open: originalOpen, send: originalSend } = prototype
  const watchedOpen = function (this: XMLHttpRequest, ...given: [string, string | URL]) {
    opened.set(this, [`${given[0]}`, `${given[1] as string}`])
    return originalOpen.apply(this, given as never)
  }
  replace(prototype, 'open', watchedOpen)
  const watchSent = quiet((request: XMLHttpRequest) => {
    const about = opened.get(request)
    const end = about && begin(...about)
    if (!end) return
    let aborted = false
    request.addEventListener('abort', () => (aborted = true))
    request.addEventListener('loadend', () =>
      end(aborted ? undefined : request.status, () => lengthOf(request)),
    )
  })
  const watchedSend: typeof originalSend = function (this: XMLHttpRequest, body) {
    watchSent(this)
    return originalSend.call(this, body)
  }
  replace(prototype, 'send', watchedSend)
}

/** Asked for only where it is there: a header that is not would be told in the console. */
function lengthOf(request: XMLHttpRequest): string | null {
  return /^content-length:\s*(\d+)/im.exec(request.getAllResponseHeaders())?.[1] ?? null
}

/** How many bytes an answer has, as it says or as the browser counted them; nothing where neither is known. */
function sized(said: string | null | undefined, href: string): { size?: number } {
  const size = Number(said) || bytesOf(href)
  return size > 0 ? { size } : {}
}

function bytesOf(href: string): number {
  const [last] = performance.getEntriesByName(href, 'resource').slice(-1)
  return (last as PerformanceResourceTiming | undefined)?.encodedBodySize ?? 0
}
