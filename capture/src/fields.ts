import { describe } from './describe.ts'
import { on } from './listen.ts'
import type { Page } from './page.ts'
import { labelOf } from './privacy/shown.ts'
import { contentOf, fieldOf, isFreeText } from './privacy/typing.ts'
import { targetOf } from './target.ts'

/** Sends of each field that is left how much was typed, how long it took and how often it was corrected; never what. */
export function watchFields({ send, awake, recorder }: Page): void {
  const fields = new WeakMap<Element, { sinceMs: number; corrections: number; deleting: boolean }>()
  on(document, 'focusin', (event) => {
    const field = fieldOf(targetOf(event))
    if (field) fields.set(field, { sinceMs: performance.now(), corrections: 0, deleting: false })
  })
  on(document, 'input', (event) => {
    awake()
    const field = fieldOf(targetOf(event))
    if (!field) return
    recorder.input(field, lengthOf(field))
    const state = fields.get(field)
    if (!state) return
    const deleting = event.inputType?.startsWith('delete') ?? false
    if (deleting && !state.deleting) state.corrections++
    state.deleting = deleting
  })
  on(document, 'focusout', (event) => {
    const field = fieldOf(targetOf(event))
    const state = field && fields.get(field)
    if (!state) return
    fields.delete(field)
    send({
      kind: 'input',
      target: describe(field, true),
      label: labelOf(field),
      length: lengthOf(field),
      corrections: state.corrections,
      ms: Math.round(performance.now() - state.sinceMs),
    })
  })
}

/** Stands for the length of what only a few could have typed: whether there is anything. */
const SOME = 8

function lengthOf(field: HTMLElement): number {
  const { length } = contentOf(field)
  return isFreeText(field) || !length ? length : SOME
}
