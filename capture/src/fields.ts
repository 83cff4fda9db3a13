import { describe } from './describe.ts'
import { matches, textOf } from './dom.ts'
import { on } from './listen.ts'
import { labelOf, remember } from './mask.ts'
import type { Page } from './page.ts'

/** Sends of each field that is left how much was typed, how long it took and how often it was corrected; never what. */
export function watchFields({ send, awake, recorder }: Page): void {
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
}

function isField(target: EventTarget | null): target is HTMLElement {
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable ||
      matches(target, 'textarea,select,input:not([type=button],[type=submit],[type=reset])'))
  )
}

function contentOf(field: HTMLElement): string {
  return 'value' in field ? String(field.value) : (textOf(field) ?? '')
}
