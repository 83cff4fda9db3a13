import type { Words } from '../events/dictionary.ts'
import type { Block, Codes } from '../events/columns.ts'
import { amountAt, numberAt, rowOf } from '../events/columns.ts'
import { FRICTION, KIND } from '../events/loose.ts'
import { EFFECTS } from '../events/line.ts'
import type { Names } from '../funnel/trace.ts'
import type { EventCondition, TextTest } from './schema.ts'
import { numberTester, textTester } from './tests.ts'

/** Tells of the event at an index of a block whether it is meant. */
export type EventMatcher = (event: number) => boolean

/**
 * Turns a condition on events into a test over a block's columns. Texts are tested once for each known value, not once
 * for each event: what remains for an event is a look into a table.
 */
export function eventMatcher(block: Block, condition: EventCondition, names: Names): EventMatcher {
  const { events, props, propped } = block
  const { dictionaries } = names
  const tests: EventMatcher[] = []
  const byCode = (codes: Codes, table: Uint8Array) => tests.push((i) => table[codes[i]!] === 1)
  if (condition.action !== undefined) {
    const rule = names.actions?.get(condition.action)
    const code = dictionaries.name.find(condition.action)
    const ruled = rule && eventMatcher(block, rule, names)
    tests.push((i) => (events.kind[i] === KIND.action && events.name[i] === code) || ruled?.(i) === true)
  }
  if (condition.kinds) {
    const wanted = new Uint8Array(256)
    for (const kind of condition.kinds) wanted[KIND[kind]] = 1
    tests.push((i) => wanted[events.kind[i]!] === 1)
  }
  if (condition.page) byCode(events.page, pageTable(condition.page, names))
  if (condition.path) byCode(events.page, passing(dictionaries.page.values, condition.path))
  if (condition.element) byCode(events.target, targetTable(condition.element, names))
  if (condition.text) byCode(events.text, passing(dictionaries.text.values, condition.text))
  if (condition.name) byCode(events.name, passing(dictionaries.name.values, condition.name))
  if (condition.effect) {
    const code = EFFECTS.indexOf(condition.effect) + 1
    tests.push((i) => events.effect[i] === code)
  }
  if (condition.friction) {
    const bit = FRICTION[condition.friction]
    tests.push((i) => (events.friction[i]! & bit) !== 0)
  }
  if (condition.number) {
    const test = numberTester(condition.number)
    tests.push((i) => test(numberAt(block, i)))
  }
  if (condition.amount) {
    const test = numberTester(condition.amount)
    tests.push((i) => test(amountAt(block, i)))
  }
  if (condition.prop) {
    const { key, text, number } = condition.prop
    const code = dictionaries.propKey.find(key)
    const texts = text && passing(dictionaries.propText.values, text)
    const numbers = number && numberTester(number)
    tests.push((i) => {
      const row = rowOf(events.hasProps, events.propsBefore, i)
      if (row < 0) return false
      for (let p = propped.first[row]!; p < propped.first[row + 1]!; p++)
        if (
          props.key[p] === code &&
          (!texts || (Number.isNaN(props.number[p]!) && texts[props.text[p]!] === 1)) &&
          (!numbers || numbers(props.number[p]!))
        )
          return true
      return false
    })
  }
  if (condition.all) tests.push(...condition.all.map((one) => eventMatcher(block, one, names)))
  if (condition.any) {
    const any = condition.any.map((one) => eventMatcher(block, one, names))
    tests.push((i) => any.some((test) => test(i)))
  }
  if (condition.not) {
    const not = eventMatcher(block, condition.not, names)
    tests.push((i) => !not(i))
  }
  return joined(tests)
}

function joined(tests: readonly EventMatcher[]): EventMatcher {
  const [a, b] = tests
  if (!a) return () => true
  if (!b) return a
  if (tests.length === 2) return (i) => a(i) && b(i)
  return (i) => tests.every((test) => test(i))
}

/** Tables made for a test, by what they were made of: all blocks of a question share them. */
const tables = new WeakMap<TextTest, Map<object, Uint8Array>>()

function tableOf(test: TextTest, of: object, size: number, make: () => Uint8Array): Uint8Array {
  let known = tables.get(test)
  if (!known) tables.set(test, (known = new Map<object, Uint8Array>()))
  let table = known.get(of)
  // A list of words may have grown since.
  if (table?.length !== size) known.set(of, (table = make()))
  return table
}

/** For each value whether it passes. */
export function passing(values: readonly string[], test: TextTest): Uint8Array {
  return tableOf(test, values, values.length, () => {
    const passes = textTester(test)
    return Uint8Array.from(values, (value) => (passes(value) ? 1 : 0))
  })
}

/** The same for very many words, of which none is kept: only those are looked up that can pass, where it is known which. */
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

/** For each page code whether its group's name passes. */
export function pageTable(test: TextTest, { groups }: Names): Uint8Array {
  return tableOf(test, groups.groupOf, groups.groupOf.length, () => {
    const byGroup = passing(groups.names, test)
    return Uint8Array.from(groups.groupOf, (group) => byGroup[group]!)
  })
}

/** For each target code whether its family's selector passes. */
export function targetTable(test: TextTest, { families }: Names): Uint8Array {
  return tableOf(test, families.familyOf, families.familyOf.length, () => {
    const byFamily = passing(families.names, test)
    return Uint8Array.from(families.familyOf, (family) => byFamily[family]!)
  })
}
