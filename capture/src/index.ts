/**
 * The script a site loads: <script async src=".../capture.js" data-site="KEY"></script>.
 * Sees what visitors do and records the page; never what they type. Must not disturb the page whatever happens.
 */
import type { SentLine } from '@dust-trail/core'
import { watchClicks } from './clicks.ts'
import { quiet, titleOf } from './dom.ts'
import { Causes } from './causes.ts'
import { Effects } from './effects/effects.ts'
import { watchFaults } from './faults.ts'
import { watchFields } from './fields.ts'
import { watchForms } from './forms.ts'
import { watchGestures } from './gestures.ts'
import { lastingId, randomId } from './identity.ts'
import { listenAgain, on } from './listen.ts'
import { cleanUrl, withoutTyped } from './mask.ts'
import type { Page } from './page.ts'
import { navigationEntry, PageViews } from './page-views.ts'
import { Recorder } from './recorder.ts'
import { listen } from './reports.ts'
import { watchRequests } from './requests.ts'
import { Seen } from './seen.ts'
import type { BatchHead } from './transport.ts'
import { Transport } from './transport.ts'

const IDLE_MS = 30 * 60_000
const SCROLL_MS = 60
/** A hidden tab draws no frames: then it begins after this. */
const LATEST_MS = 300

function start(script: HTMLScriptElement): void {
  const site = script.dataset['site']
  if (!site) return
  const collect = new URL(script.dataset['collect'] ?? '/collect', script.src)
  // In the address, so that what is not wanted need not be read.
  collect.searchParams.set('site', site)
  const address = collect.href
  const visitor = lastingId('localStorage', 'dust-trail-visitor')
  const tab = lastingId('sessionStorage', 'dust-trail-tab')

  const newHead = (): BatchHead => ({
    site,
    visitor,
    tab,
    document: randomId(),
    startMs: Date.now(),
  })
  let head = newHead()
  let lastMs = Date.now()
  let serial = 0
  const transport = new Transport(address, head)
  const effects = new Effects()
  const recorder = new Recorder(
    transport,
    () => seen.search(),
    () => {
      listenAgain()
      effects.observe()
      views.end()
      restart('navigate')
    },
  )

  const send: Page['send'] = (line) => {
    const whole = { t: Date.now(), id: `${head.document}.${serial++}`, ...line } as SentLine
    transport.line(whole)
    return whole
  }
  const views = new PageViews(send)
  const seen = new Seen(send)

  const restart = (navigation: 'navigate' | 'back_forward') => {
    head = newHead()
    serial = 0
    transport.restart(head)
    recorder.begin(head.startMs)
    views.begin(navigation)
    seen.begin()
  }
  const awake = () => {
    const now = Date.now()
    const slept = now - lastMs > IDLE_MS
    lastMs = now
    if (slept) restart('navigate')
  }
  const moved = () => {
    if (!views.isElsewhere()) return
    effects.happened('navigate')
    views.end()
    setTimeout(() => {
      recorder.page(cleanUrl(location.href), withoutTyped(titleOf(document)).slice(0, 2048))
      views.begin('history')
      seen.begin()
    })
  }

  const page: Page = { send, awake, effects, causes: new Causes(), recorder }
  watchClicks(page)
  on(document, 'pointermove', (event) => recorder.pointer(event.clientX, event.clientY))
  on(document, 'mouseout', (event) => {
    if (!event.relatedTarget && event.clientY <= 0) send({ kind: 'out' })
  })
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
  watchForms(page)
  watchFaults(page)
  watchRequests(page, address)
  watchGestures(page)

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
  seen.begin()
  listen((report) => {
    if (report.kind !== 'page') send(report)
    else views.add(report)
  })
}

const script = document.currentScript
if (script instanceof HTMLScriptElement) {
  let begun = false
  const begin = quiet(() => {
    if (begun) return
    begun = true
    start(script)
  })
  // After the first frame: before it, reading any size would force the browser to lay out the page an extra time.
  const soon = () => {
    requestAnimationFrame(() => setTimeout(begin))
    setTimeout(begin, LATEST_MS)
  }
  if (document.readyState === 'loading') document.addEventListener('DOMContentLoaded', soon)
  else soon()
}
