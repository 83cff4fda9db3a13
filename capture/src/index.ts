/**
 * The script a site loads: <script async src=".../capture.js" data-site="KEY"></script>.
 * Sees what visitors do and records the page; never what they type. Must not disturb the page whatever happens.
 */
import type { Effect } from '@dust-trail/core'
import { Effects } from './effects.ts'
import { deviceOf } from './device.ts'
import { cleanUrl, labelOf, remember, withoutTyped } from './mask.ts'
import { Recorder } from './recorder.ts'
import { listen } from './reports.ts'
import { intended, selectorOf } from './selector.ts'
import type { BatchHead, SentLine } from './transport.ts'
import { Transport } from './transport.ts'

const IDLE_MS = 30 * 60_000
const SCROLL_STEP = 0.05
const FREEZE_MS = 200
/** A hidden tab draws no frames: then it begins after this. */
const LATEST_MS = 300

function start(script: HTMLScriptElement): void {
  const site = script.dataset['site']
  if (!site) return
  const address = script.dataset['collect'] ?? new URL('/collect', script.src).href
  const visitor = kept('localStorage', 'dust-trail-visitor')
  const tab = kept('sessionStorage', 'dust-trail-tab')

  const newHead = (): BatchHead => ({
    site,
    visitor,
    tab,
    document: randomId(),
    startMs: Date.now(),
  })
  let head = newHead()
  const transport = new Transport(address, head)
  const effects = new Effects()
  const recorder = new Recorder(transport, () => effects.happened('change'))

  let path = ''
  let shownSinceMs = 0
  let shownMs = 0
  let deepest = 0
  let lastMs = Date.now()
  let pageLine: SentLine | undefined
  let serial = 0

  const send = (line: Omit<SentLine, 't'> & { t?: number }): SentLine => {
    const whole = { t: Date.now(), id: `${head.document}.${serial++}`, ...line } as SentLine
    transport.line(whole)
    return whole
  }

  const viewPage = (navigation: 'navigate' | 'reload' | 'back_forward' | 'history', referrer?: string) => {
    path = location.pathname + location.search
    shownMs = 0
    shownSinceMs = document.hidden ? 0 : performance.now()
    deepest = 0
    const entry = performance.getEntriesByType('navigation')[0] as PerformanceNavigationTiming | undefined
    pageLine = send({
      kind: 'page',
      url: cleanUrl(location.href),
      title: withoutTyped(document.title).slice(0, 500),
      navigation,
      height: Math.max(1, document.documentElement.scrollHeight),
      device: deviceOf(navigator.userAgent),
      ...(navigation !== 'history' && entry?.responseStatus && { status: entry.responseStatus }),
      ...(referrer && { referrer: cleanUrl(referrer) }),
    })
    depth()
  }

  const leavePage = () => {
    const ms = Math.round(shownMs + (shownSinceMs ? performance.now() - shownSinceMs : 0))
    shownSinceMs = 0
    send({ kind: 'leave', ms })
  }

  const depth = () => {
    const height = document.documentElement.scrollHeight
    const now = Math.min(1, (scrollY + innerHeight) / Math.max(1, height))
    if (now - deepest < SCROLL_STEP && !(now === 1 && deepest < 1)) return
    deepest = now
    send({ kind: 'scroll', depth: Math.round(now * 1000) / 1000, top: Math.round(scrollY) })
  }

  /** Begins anew where the visitor comes back after a session has ended. */
  const awake = () => {
    const now = Date.now()
    const slept = now - lastMs > IDLE_MS
    lastMs = now
    if (slept) restart('navigate')
  }

  const restart = (navigation: 'navigate' | 'back_forward') => {
    head = newHead()
    serial = 0
    transport.restart(head)
    recorder.begin(head.startMs)
    viewPage(navigation)
  }

  const moved = () => {
    effects.happened('navigate')
    if (location.pathname + location.search === path) return
    leavePage()
    setTimeout(() => {
      recorder.page(cleanUrl(location.href), withoutTyped(document.title))
      viewPage('history')
    })
  }

  const describe = (element: Element, interactive?: boolean) => {
    const box = element.getBoundingClientRect()
    return {
      selector: selectorOf(element),
      tag: element.localName.slice(0, 40),
      text: labelOf(element),
      ...(interactive !== undefined && { interactive }),
      w: Math.round(box.width),
      h: Math.round(box.height),
    }
  }

  on(document, 'click', (event) => {
    awake()
    if (!(event.target instanceof Element) || !event.isTrusted) return
    const { clientX, clientY } = event
    const t = Date.now()
    const { element, interactive } = intended(event.target)
    const box = element.getBoundingClientRect()
    recorder.click(event.target, clientX, clientY, event.pointerType === 'touch')
    const line = {
      kind: 'click' as const,
      t,
      url: cleanUrl(location.href),
      target: describe(element, interactive),
      x: Math.round(clientX + scrollX),
      y: Math.round(clientY + scrollY),
      rx: within(clientX - box.left, box.width),
      ry: within(clientY - box.top, box.height),
    }
    const report = (effect: Effect) => send({ ...line, effect })
    if (getSelection()?.isCollapsed === false || element.matches('input,textarea,select,option,label'))
      report('change')
    else effects.after(report)
  })
  on(document, 'change', () => effects.happened('change'))
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
      if (target === document) depth()
    }, 60) as unknown as number
  })
  on(window, 'resize', () => recorder.viewport())
  on(document, 'load', (event) => {
    if (event.target instanceof HTMLLinkElement) recorder.refresh(event.target)
  })

  const fields = new WeakMap<Element, { sinceMs: number; corrections: number; deleting: boolean }>()
  on(document, 'focusin', (event) => {
    if (isField(event.target))
      fields.set(event.target, { sinceMs: performance.now(), corrections: 0, deleting: false })
  })
  on(document, 'input', (event) => {
    awake()
    const field = event.target
    if (!isField(field)) return
    const value = contentOf(field)
    remember(field, value)
    recorder.input(field, value.length)
    const state = fields.get(field)
    if (!state) return
    const deleting = event.inputType?.startsWith('delete') ?? false
    if (deleting && !state.deleting) state.corrections++
    state.deleting = deleting
  })
  on(document, 'focusout', (event) => {
    const field = event.target
    const state = isField(field) && fields.get(field)
    if (!state || !isField(field)) return
    fields.delete(field)
    send({
      kind: 'input',
      target: describe(field, true),
      label: labelOf(field),
      length: contentOf(field).length,
      corrections: state.corrections,
      ms: Math.round(performance.now() - state.sinceMs),
    })
  })
  let refused: Element | null = null
  on(document, 'invalid', (event) => {
    const form = (event.target as HTMLInputElement).form
    if (!form || refused === form) return
    refused = form
    setTimeout(() => (refused = null))
    effects.happened('change')
    send({ kind: 'submit', target: describe(form), ok: false, explained: true })
  })
  on(document, 'submit', (event) => {
    const button = event.submitter
    const line = {
      kind: 'submit' as const,
      t: Date.now(),
      target: describe(event.target as Element),
      ...(button && { button: selectorOf(button) }),
    }
    // A form that the page stops, and nothing follows: a failure that nobody explains.
    effects.after((effect) =>
      send({ ...line, ...(event.defaultPrevented && effect === 'none' && { ok: false, explained: false }) }),
    )
  })

  on(window, 'error', (event) => {
    if (!event.message) return
    send({
      kind: 'error',
      message: withoutTyped(event.message).slice(0, 2000),
      source: cleanUrl(event.filename || location.href),
      line: event.lineno,
      column: event.colno,
      stack: withoutTyped(String((event.error as Error | null)?.stack ?? '')).slice(0, 8000),
    })
  })
  on(window, 'unhandledrejection', (event) => {
    const reason: unknown = event.reason
    send({
      kind: 'error',
      message: withoutTyped(reason instanceof Error ? reason.message : String(reason)).slice(0, 2000),
    })
  })

  watch('resource', (entry) => {
    const request = entry as PerformanceResourceTiming
    if (request.name.startsWith(address)) return
    effects.happened('change')
    const known = request.responseStatus > 0 || request.name.startsWith(location.origin)
    if (!/fetch|xmlhttprequest/.test(request.initiatorType)) return
    send({
      kind: 'request',
      path: new URL(request.name).pathname.slice(0, 2048),
      ms: Math.round(request.duration),
      ...(known && { status: request.responseStatus }),
    })
  })
  watch('largest-contentful-paint', (entry) => {
    if (pageLine && pageLine.navigation !== 'history') pageLine.load = Math.round(entry.startTime)
  })
  watch('longtask', (entry) => {
    if (entry.duration >= FREEZE_MS) send({ kind: 'freeze', ms: Math.round(entry.duration) })
  })

  on(document, 'visibilitychange', () => {
    if (document.hidden) {
      if (shownSinceMs) shownMs += performance.now() - shownSinceMs
      shownSinceMs = 0
    } else {
      shownSinceMs = performance.now()
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
    leavePage()
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

  const entry = performance.getEntriesByType('navigation')[0] as PerformanceNavigationTiming | undefined
  recorder.begin(head.startMs)
  viewPage(
    entry?.type === 'reload' || entry?.type === 'back_forward' ? entry.type : 'navigate',
    document.referrer,
  )
  listen((report) => {
    if (report.kind !== 'page') send(report)
    else if (pageLine) Object.assign(pageLine, report)
  })
}

/** Listens early and never lets a mistake of ours reach the page. */
function on<K extends keyof WindowEventMap>(
  target: Window,
  name: K,
  handle: (event: WindowEventMap[K]) => void,
): void
function on<K extends keyof DocumentEventMap>(
  target: Document,
  name: K,
  handle: (event: DocumentEventMap[K]) => void,
): void
function on(target: EventTarget, name: string, handle: (event: never) => void): void {
  const quiet = (event: Event) => {
    try {
      handle(event as never)
    } catch {
      // The visitor's page matters more than what we would have learnt.
    }
  }
  target.addEventListener(name, quiet, { capture: true, passive: true })
}

function watch(type: string, see: (entry: PerformanceEntry) => void): void {
  try {
    new PerformanceObserver((list) => list.getEntries().forEach(see)).observe({
      type,
      buffered: type !== 'resource',
    })
  } catch {
    // A browser without this kind of entry simply does not report it.
  }
}

/** A lasting random name; a passing one where the browser keeps nothing. */
function kept(storage: 'localStorage' | 'sessionStorage', key: string): string {
  const fresh = randomId()
  try {
    const known = window[storage].getItem(key)
    if (known) return known
    window[storage].setItem(key, fresh)
  } catch {
    // Storage is switched off: each page load is then a visitor of its own.
  }
  return fresh
}

/** `crypto.randomUUID` exists on secure pages only. */
function randomId(): string {
  return [...crypto.getRandomValues(new Uint8Array(16))]
    .map((byte) => byte.toString(16).padStart(2, '0'))
    .join('')
}

function isField(target: EventTarget | null): target is HTMLElement {
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable ||
      target.matches('textarea,select,input:not([type=button],[type=submit],[type=reset])'))
  )
}

function contentOf(field: HTMLElement): string {
  return 'value' in field ? String(field.value) : (field.textContent ?? '')
}

function within(offset: number, size: number): number {
  return size > 0 ? Math.round(Math.min(1, Math.max(0, offset / size)) * 1000) / 1000 : 0
}

const script = document.currentScript
if (script instanceof HTMLScriptElement) {
  let begun = false
  const begin = () => {
    if (begun) return
    begun = true
    try {
      start(script)
    } catch {
      // Never disturb the page.
    }
  }
  // After the first frame: before it every size we ask for would make the browser lay the page out out of turn.
  const soon = () => {
    requestAnimationFrame(() => setTimeout(begin))
    setTimeout(begin, LATEST_MS)
  }
  if (document.readyState === 'loading') document.addEventListener('DOMContentLoaded', soon)
  else soon()
}
