/*
 * What a click may do outside of the page: open a window, start a download, fill the clipboard, play a sound. The browser
 * tells nobody of some of these, so that its functions are watched; the page gets what it asked for, whatever happens here.
 */

import { quiet } from '../../dom.ts'

type Owner = object | undefined

/** Calls through to the browser's function and tells of it. */
function tellOf(
  owner: Owner,
  name: string,
  happened: () => void,
  when: (self: unknown, given: unknown[], result: unknown) => boolean = () => true,
): void {
  const host = owner as Record<string, (...given: unknown[]) => unknown> | undefined
  const original = host?.[name]
  if (!original) return
  const tell = quiet((...about: Parameters<typeof when>) => {
    if (when(...about)) happened()
  })
  try {
    host[name] = function (this: unknown, ...given: unknown[]) {
      const result = original.apply(this, given)
      tell(this, given, result)
      return result
    }
  } catch {
    // A browser that lets nobody put anything in its place is not watched.
  }
}

/** Tells of all that leaves the page or can be heard, other than by its own links. */
export function watchOutside(happened: (effect: 'change' | 'navigate') => void): void {
  const watched: [Owner, string][] = [
    [window, 'alert confirm prompt print'],
    [window.Clipboard?.prototype, 'writeText write'],
    [Navigator.prototype, 'share'],
    [HTMLMediaElement.prototype, 'play'],
    [window.AudioScheduledSourceNode?.prototype, 'start'],
    [window.SpeechSynthesis?.prototype, 'speak'],
  ]
  for (const [owner, names] of watched)
    for (const name of names.split(' ')) tellOf(owner, name, () => happened('change'))
  // A window that the browser did not open was not seen by anybody.
  tellOf(
    window,
    'open',
    () => happened('navigate'),
    (_, [, , features], result) => !!result || /no(opener|referrer)/.test(String(features)),
  )
  // Links and choosers of files that a script clicks, whether or not they stand in the page.
  tellOf(
    HTMLElement.prototype,
    'click',
    () => happened('navigate'),
    (self) => leadsOutside(self) || (self instanceof HTMLInputElement && self.type === 'file'),
  )
  tellOf(HTMLFormElement.prototype, 'submit', () => happened('navigate'))
}

/** Whether an element is a link that opens something else than a place on this page. */
export function leadsOutside(element: unknown): boolean {
  if (!(element instanceof HTMLAnchorElement || element instanceof HTMLAreaElement)) return false
  const { href, protocol } = element
  if (!href || protocol === 'javascript:') return false
  const [page, place] = href.split('#')
  return (
    element.hasAttribute('download') ||
    !/^http/.test(protocol) ||
    place === undefined ||
    page !== location.href.split('#')[0]
  )
}
