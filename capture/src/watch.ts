import { Causes } from './causes.ts'
import { watchClicks } from './clicks.ts'
import { describe } from './describe.ts'
import { titleOf } from './dom.ts'
import { watchFaults } from './faults.ts'
import { watchFields } from './fields.ts'
import { forgetIds, randomId, tabId, visitorId } from './identity.ts'
import { listenAgain, on, watching } from './listen.ts'
import { MoreSoon } from './more-soon.ts'
import type { Page } from './page.ts'
import { navigationEntry, PageViews } from './page-views.ts'
import { safeCss } from './privacy/attributes.ts'
import { cleanAddress, cleanLine, cleanTitle } from './privacy/scrubber.ts'
import { forget, recall } from './privacy/typed.ts'
import { leaveFields, lookAtFields, watchTyping } from './privacy/typing.ts'
import { Recorder } from './recorder.ts'
import type { Report } from './reports.ts'
import { watchRequests } from './requests.ts'
import { hasRules, layerOf } from './serialise.ts'
import type { BatchHead } from './transport.ts'
import { Transport } from './transport.ts'

const IDLE_MS = 30 * 60_000
const SCROLL_MS = 60

/** What is done with a page that is being watched. */
export interface Watched {
  report: (report: Report) => void
  /** nothing more is seen, what has not gone yet is dropped, and the visitor forgotten */
  stop: () => void
  /** the visitor allows it, again or more of it: to be known on later visits */
  allow: () => void
}

/**
 * Watches the page from now on.
 *
 * @param address  where batches go
 * @param more     where the part of the script comes from that is loaded once the page stands
 * @param lasting  the visitor may be known again on later visits
 */
export function watchPage(site: string, address: string, more: string, lasting: boolean): Watched {
  let visitor = visitorId(lasting)
  let tab = tabId()
  const newHead = (): BatchHead => ({ site, visitor, tab, document: randomId(), startMs: Date.now() })
  let head = newHead()
  let lastMs = Date.now()
  let serial = 0
  const transport = new Transport(address, head, () => {
    transport.drop()
    forgetIds()
    renamed()
  })
  const recorder = new Recorder(
    transport,
    () => {
      lookAtFields()
      effects.search()
    },
    () => {
      listenAgain()
      effects.again()
      views.end()
      restart('navigate')
    },
  )

  const send: Page['send'] = (line) => {
    lookAtFields()
    const whole = cleanLine({ t: Date.now(), id: `${head.document}.${serial++}`, ...line })
    if (watching.on) transport.line(whole)
    return whole
  }
  const views = new PageViews(send)
  const causes = new Causes()
  const effects = new MoreSoon(import(more) as Promise<typeof import('./more/index.ts')>, {
    send,
    describe,
    causes,
    recorder,
    hasRules,
    layerOf,
    safeCss,
  })

  const restart = (navigation: 'navigate' | 'back_forward') => {
    head = newHead()
    serial = 0
    transport.restart(head)
    recorder.begin(head.startMs)
    views.begin(navigation)
    effects.view()
  }
  const renamed = () => {
    visitor = visitorId(lasting)
    tab = tabId()
    restart('navigate')
  }
  const awake = () => {
    const now = Date.now()
    const slept = now - lastMs > IDLE_MS
    lastMs = now
    if (slept) restart('navigate')
  }
  const moved = () => {
    if (!watching.on || !views.isElsewhere()) return
    effects.happened('navigate')
    views.end()
    setTimeout(() => {
      if (!watching.on) return
      recorder.page(cleanAddress(location.href), cleanTitle(titleOf(document)))
      views.begin('history')
      effects.view()
    })
  }

  // Before all others: what was typed must be known when it is seen.
  watchTyping(window)
  on(window, 'storage', recall)
  const page: Page = { send, awake, effects, causes, recorder }
  watchClicks(page)
  on(document, 'pointermove', ({ clientX, clientY, target }) => recorder.pointer(clientX, clientY, target))
  let scrolling = 0
  on(document, 'scroll', (event) => {
    if (scrolling) return
    const { target } = event
    scrolling = setTimeout(() => {
      scrolling = 0
      awake()
      recorder.scroll(target)
      if (target === document) views.scrolled()
    }, SCROLL_MS) as unknown as number
  })
  on(window, 'resize', () => recorder.viewport())
  on(document, 'load', (event) => {
    if (event.target instanceof HTMLLinkElement) recorder.refresh(event.target)
  })
  watchFields(page)
  watchFaults(page)
  watchRequests(page, address)

  on(document, 'visibilitychange', () => {
    if (document.hidden) views.hidden()
    else {
      views.shown()
      awake()
    }
    send({ kind: document.hidden ? 'hide' : 'show' })
    recorder.visibility(document.hidden)
    if (document.hidden) {
      recorder.flush()
      transport.leave()
    }
  })
  on(window, 'pagehide', () => {
    leaveFields()
    effects.happened('navigate')
    views.end()
    recorder.flush()
    transport.leave()
  })
  on(window, 'pageshow', (event) => {
    if (event.persisted) restart('back_forward')
  })
  for (const method of ['pushState', 'replaceState'] as const) {
    const original = history[method].bind(history)
    history[method] = (...given) => {
      original(...given)
      moved()
    }
  }
  on(window, 'popstate', moved)

  const type = navigationEntry()?.type
  recorder.begin(head.startMs)
  views.begin(type === 'reload' || type === 'back_forward' ? type : 'navigate', document.referrer)
  effects.view()
  return {
    report: (report) => {
      if (report.kind !== 'page') send(report)
      else views.add(report)
    },
    stop: () => {
      watching.on = false
      recorder.stop()
      transport.drop()
      forgetIds()
      forget()
    },
    allow: () => {
      lasting = true
      if (watching.on) visitorId(true)
      else {
        watching.on = true
        renamed()
      }
    },
  }
}
