import type { Block } from '../columns/block.ts'
import { KIND_CODE } from '../columns/event-codes.ts'
import type { Dictionaries } from '../columns/dictionaries.ts'

/** The words of what an event is about: the text of its element, else its name; "" of page views, whose text is a title. */
export function eventWords({ events }: Block, event: number, { text, name }: Dictionaries): string {
  if (events.kind[event] === KIND_CODE.page) return ''
  return text.values[events.text[event]!]! || name.values[events.name[event]!]!
}
