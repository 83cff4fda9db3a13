import type { CaptureSettings } from '@dust-trail/core/recording'
import { Causes } from './causes.ts'
import { watchClicks } from './clicks.ts'
import { describe } from './describe.ts'
import { send as ask, titleOf, replace } from './dom.ts'
import { watchFaults } from './faults.ts'
import { lengthOf, watchFields } from './fields.ts'
import { forgetIds, randomId, tabId, visitorId } from './identity.ts'
import { listenAgain, on, watching } from './listen.ts'
import { made } from './made.ts'
import { MoreSoon } from './more-soon.ts'
import type { Page } from './page.ts'
import { navigationEntry, PageViews } from './page-views.ts'
import * as scrubber from './privacy/scrubber.ts'
import * as shown from './privacy/shown.ts'
import { forget, recall } from './privacy/typed.ts'
import { leaveFields, lookAtFields, watchTyping, watchTypingIn } from './privacy/typing.ts'
import type { Report } from './reports.ts'
import { watchRequests } from './requests.ts'
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

/** Where pictures and fonts go, beside the batches. */
function filesAt(address: string): string {
  const url = new URL(address)
  url.pathname += '/files'
  return url.href
}

/**
 * Watches the page from now on.
 *
 * @param address  where batches go
 * @param moreAddress  where the part of the script comes from that is loaded once the page stands
 * @param lasting   the visitor may be known again on later visits
 * @param settings  what may leave the page
 */
export function watchPage(
  site: string,
  address: string,
  moreAddress: string,
  lasting: boolean,
  { drawings, pictures }: Pick<CaptureSettings, 'drawings' | 'pictures'>,
): Watched {
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
  const send: Page['send'] = (line) => {
    lookAtFields()
    const whole = scrubber.cleanLine({ t: Date.now(), id: `${head.document}.${serial++}`, ...line })
    if (watching.on) transport.line(whole)
    return whole
  }
  const views = new PageViews(send)
  const causes = new Causes()
  const more = new MoreSoon(import(moreAddress) as Promise<typeof import('./more/index.ts')>, {
    send,
    describe,
    causes,
    lengthOf,
    ask,
    made,
    drawings,
    files: pictures === 'none' ? undefined : filesAt(address),
    privacy: { ...scrubber, ...shown },
    sink: {
      item: (item) => transport.item(item),
      snapshot: (snapshot) => transport.snapshot(snapshot),
    },
    changed: () => {
      lookAtFields()
      more.search()
    },
    replaced: () => {
      listenAgain()
      more.again()
      viewEnds()
      restart('navigate')
    },
    pageIn: (page) => clicks.listenIn(page),
    treeIn: (tree) => watchTypingIn(tree, document),
  })

  const viewEnds = () => {
    more.viewEnds()
    views.end()
  }
  const restart = (navigation: 'navigate' | 'back_forward') => {
    head = newHead()
    serial = 0
    transport.restart(head)
    more.begin(head.startMs)
    views.begin(navigation)
    more.view()
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
    more.happened('navigate')
    viewEnds()
    setTimeout(() => {
      if (!watching.on) return
      more.recording?.page(scrubber.cleanAddress(location.href), scrubber.cleanTitle(titleOf(document)))
      views.begin('history')
      more.view()
    })
  }

  // Before all others: what was typed must be known when it is seen.
  watchTyping(window)
  on(window, 'storage', recall)
  const page: Page = { send, awake, effects: more, causes }
  const clicks = watchClicks(page)
  let scrolling = 0
  on(document, 'scroll', () => {
    if (scrolling) return
    scrolling = setTimeout(() => {
      scrolling = 0
      awake()
      views.scrolled()
    }, SCROLL_MS) as unknown as number
  })
  on(window, 'resize', () => more.recording?.viewport())
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
    more.recording?.visibility(document.hidden)
    if (document.hidden) {
      more.recording?.flush()
      transport.leave()
    }
  })
  on(window, 'pagehide', () => {
    leaveFields()
    more.happened('navigate')
    viewEnds()
    more.recording?.flush()
    transport.leave()
  })
  on(window, 'pageshow', (event) => {
    if (event.persisted) restart('back_forward')
  })
  for (const method of ['pushState', 'replaceState'] as const) {
    const original = history[method].bind(history)
    const watched: typeof original = (...given) => {
      original(...given)
      moved()
    }
    replace(history, method, watched)
  }
  on(window, 'popstate', moved)

  const type = navigationEntry()?.type
  more.begin(head.startMs)
  views.begin(type === 'reload' || type === 'back_forward' ? type : 'navigate', document.referrer)
  more.view()
  return {
    report: (report) => {
      if (report.kind !== 'page') send(report)
      else views.add(report)
    },
    stop: () => {
      watching.on = false
      more.stop()
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
