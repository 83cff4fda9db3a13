import { oncePer } from '../columns/block-cache.ts'
import type { Words } from '../columns/dictionary.ts'
import type { TextTest } from '../labels/event-condition.ts'
import type { Names } from '../labels/names.ts'
import { textTester } from './predicates.ts'

/*
 * Which codes pass a test, as tables with 1 at those that do: a text is tested once for each value that occurs, not once
 * for each event that has it.
 */

/** By test, and by the list of values tested, the table: all blocks of a question share it. */
const tablesOf = oncePer((_test: TextTest) => new Map<object, Uint8Array>())

function tableOf(test: TextTest, values: object, size: number, make: () => Uint8Array): Uint8Array {
  const tables = tablesOf(test)
  let table = tables.get(values)
  // Lists of words only grow: one of the same length holds the same words.
  if (table?.length !== size) tables.set(values, (table = make()))
  return table
}

/** By index of a value whether it passes. */
export function passing(values: readonly string[], test: TextTest): Uint8Array {
  return tableOf(test, values, values.length, () => {
    const passes = textTester(test)
    return Uint8Array.from(values, (value) => (passes(value) ? 1 : 0))
  })
}

/** By code of a word whether it passes; for very many words: where the test names those that pass, only these are looked up. */
export function passingWords(words: Words, test: TextTest): Uint8Array {
  return tableOf(test, words, words.size, () => {
    const passes = textTester(test)
    if (test.is !== 'equal' && test.is !== 'one of')
      return Uint8Array.from({ length: words.size }, (_, code) => (passes(words.word(code)) ? 1 : 0))
    const table = new Uint8Array(words.size)
    for (const value of [test.to].flat()) {
      const code = words.find(value)
      if (code >= 0) table[code] = 1
    }
    return table
  })
}

/** By page code whether the name of the page's group passes. */
export function pageTable(test: TextTest, { groups }: Names): Uint8Array {
  return tableOf(test, groups.groupOf, groups.groupOf.length, () => {
    const byGroup = passing(groups.names, test)
    return Uint8Array.from(groups.groupOf, (group) => byGroup[group]!)
  })
}

/** By target code whether the selector of the element's family passes. */
export function targetTable(test: TextTest, { families }: Names): Uint8Array {
  return tableOf(test, families.familyOf, families.familyOf.length, () => {
    const byFamily = passing(families.names, test)
    return Uint8Array.from(families.familyOf, (family) => byFamily[family]!)
  })
}
