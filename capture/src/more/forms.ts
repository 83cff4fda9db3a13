import { on } from '../listen.ts'
import type { Effects } from './effects/effects.ts'
import type { MorePage } from './more-page.ts'

/** Sends when a form is sent or refused, and whether anybody said why. */
export function watchForms({ send, causes, describe }: MorePage, effects: Effects): void {
  let refused: Element | null = null
  on(document, 'invalid', (event) => {
    const form = (event.target as HTMLInputElement).form
    if (!form || refused === form) return
    refused = form
    setTimeout(() => (refused = null))
    // The browser says beside the field what is wrong with it, unless the page keeps it from that.
    if (!event.defaultPrevented) effects.happened('change')
    send({ kind: 'submit', target: describe(form), ok: false, explained: true })
  })
  on(document, 'change', ({ target }) => {
    if (target instanceof Element) causes.note(describe(target))
  })
  on(document, 'submit', (event) => {
    const button = event.submitter
    const target = describe(event.target as Element)
    causes.note(target)
    const line = {
      kind: 'submit' as const,
      t: Date.now(),
      target,
      ...(button && { button: describe(button).selector }),
    }
    // A form that the page stops, and nothing follows: a failure that nobody explains.
    effects.after(event, (effect) =>
      send({ ...line, ...(event.defaultPrevented && effect === 'none' && { ok: false, explained: false }) }),
    )
  })
}
