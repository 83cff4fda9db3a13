/**
 * The script a site loads: <script async src=".../capture.js" data-site="KEY"></script>.
 * Sees what visitors do and records the page; never what they type. Must not disturb the page whatever happens.
 */
import { quiet } from './dom.ts'
import { isInShare, visitorId } from './identity.ts'
import { setLevel } from './privacy/scrubber.ts'
import { forgetKept } from './left-behind.ts'
import { watchMade } from './made.ts'
import type { Report } from './reports.ts'
import { listen } from './reports.ts'
import { settingsOf } from './settings.ts'
import type { Watched } from './watch.ts'
import { watchPage } from './watch.ts'

/** A hidden tab draws no frames: then it begins after this. */
const LATEST_MS = 300
/** What the page reports before it may be watched; of more nothing is known. */
const MOST_WAITING = 200

async function start(script: HTMLScriptElement, stands: Promise<void>): Promise<void> {
  const site = script.dataset['site']
  if (!site) return
  const collect = new URL(script.dataset['collect'] ?? '/collect', script.src)
  // In the address, so that what is not wanted need not be read.
  collect.searchParams.set('site', site)
  const [settings] = await Promise.all([settingsOf(script, collect), stands])
  setLevel(settings.text)

  // A signal that the browser sends for its owner (Global Privacy Control); who allows it here nevertheless is asked here.
  const refused = (navigator as { globalPrivacyControl?: boolean }).globalPrivacyControl === true
  let watched: Watched | undefined
  let reports: Report[] = []
  const begin = quiet((lasting: boolean) => {
    if (!isInShare(visitorId(lasting), settings.share)) return
    const more = new URL('capture-more.js', script.src).href
    watched = watchPage(site, collect.href, more, lasting, settings)
    reports.forEach(watched.report)
    reports = []
  })
  let answered: boolean | undefined
  listen(
    (report) => {
      if (watched) watched.report(report)
      else if (reports.length < MOST_WAITING) reports.push(report)
    },
    (allowed) => {
      answered = allowed
      if (!allowed) {
        forgetKept()
        watched?.stop()
      } else if (watched) watched.allow()
      else begin(true)
    },
  )
  if (answered === undefined && settings.consent !== 'asked' && !refused) begin(settings.consent === 'free')
}

/** Whether the page around this one, of the same site, is watched: then this one is a part of it. */
function isPart(): boolean {
  try {
    for (let at: Window = window; at !== at.parent; at = at.parent)
      if (at.parent.document.querySelector('script[data-site][src*="capture.js"]')) {
        const own = window as { dustTrail?: unknown }
        own.dustTrail = (at.parent as typeof own).dustTrail
        return true
      }
  } catch {
    // The page around is of another site.
  }
  return false
}

const script = document.currentScript
if (script instanceof HTMLScriptElement && !isPart()) {
  watchMade()
  // After the first frame: before it, reading any size would force the browser to lay out the page an extra time.
  const stands = new Promise<void>((resolve) => {
    const soon = () => {
      requestAnimationFrame(() => setTimeout(resolve))
      setTimeout(resolve, LATEST_MS)
    }
    if (document.readyState === 'loading') document.addEventListener('DOMContentLoaded', soon)
    else soon()
  })
  start(script, stands).catch(() => undefined)
}
