import { describe } from './describe.ts'
import { on } from './listen.ts'
import type { Page } from './page.ts'
import { contentOf, fieldOf, isFreeText, isTick } from './privacy/typing.ts'

/** Sends of each field that is left how much was typed, how long it took and how often it was corrected; never what. */
export function watchFields({ send, awake, effects }: Page): void {
  const fields = new WeakMap<Element, { sinceMs: number; corrections: number; deleting: boolean }>()
  on(document, 'focusin', ({ target }) => {
    const field = fieldOf(target)
    if (field) fields.set(field, { sinceMs: performance.now(), corrections: 0, deleting: false })
  })
  on(document, 'input', (event) => {
    awake()
    const field = fieldOf(event.target)
    if (!field) return
    // Which box was ticked is told by nothing.
    if (!isTick(field)) effects.recording?.input(field, lengthOf(field))
    const state = fields.get(field)
    if (!state) return
    const deleting = event.inputType?.startsWith('delete') ?? false
    if (deleting && !state.deleting) state.corrections++
    state.deleting = deleting
  })
  on(document, 'focusout', (event) => {
    const field = fieldOf(event.target)
    const state = field && fields.get(field)
    if (!state) return
    fields.delete(field)
    const target = describe(field, true)
    send({
      kind: 'input',
      target,
      label: target.text,
      length: lengthOf(field),
      corrections: state.corrections,
      ms: Math.round(performance.now() - state.sinceMs),
    })
  })
}

/** Stands for the length of what only a few could have typed: whether there is anything. */
const SOME = 8

/** How much stands in a field, as it may be told. */
export function lengthOf(field: HTMLElement): number {
  const { length } = contentOf(field)
  return isFreeText(field) || !length ? length : SOME
}
