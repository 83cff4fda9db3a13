import type { Block } from '../columns/block.ts'
import { FRICTION_BIT, KIND_CODE } from '../columns/event-codes.ts'
import type { Names } from '../labels/names.ts'
import type { ClickSort } from './grammar/conditions.ts'

/** Tells whether event i of a block is such an act: a click of some kind, a gesture, or a rest of the pointer. */
export function actTest(block: Block, which: ClickSort, names: Names): (i: number) => boolean {
  const { kind, friction, name } = block.events
  switch (which) {
    case 'all':
      return (i) => kind[i] === KIND_CODE.click
    case 'rest':
      return (i) => kind[i] === KIND_CODE.rest
    case 'swipe':
    case 'zoom': {
      const code = names.dictionaries.name.find(which)
      return (i) => kind[i] === KIND_CODE.gesture && code > 0 && name[i] === code
    }
    default: {
      const bit = FRICTION_BIT[which]
      return (i) => kind[i] === KIND_CODE.click && (friction[i]! & bit) !== 0
    }
  }
}
