import type { Block } from '../columns/block.ts'
import { numberAt, rowOf } from '../columns/block.ts'
import { FRICTION_BIT, KIND_CODE } from '../columns/event-codes.ts'
import type { Codes } from '../columns/layout.ts'
import { EFFECTS } from '../events/line.ts'
import type { EventCondition } from '../labels/event-condition.ts'
import { errorPlaces, errorTexts } from '../labels/errors.ts'
import type { Names } from '../labels/names.ts'
import { amountReader } from './amounts.ts'
import { pageTable, passing, targetTable } from './code-tables.ts'
import { numberTester } from './predicates.ts'

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
    tests.push((i) => (events.kind[i] === KIND_CODE.action && events.name[i] === code) || ruled?.(i) === true)
  }
  if (condition.kinds) {
    const wanted = new Uint8Array(256)
    for (const kind of condition.kinds) wanted[KIND_CODE[kind]] = 1
    tests.push((i) => wanted[events.kind[i]!] === 1)
  }
  if (condition.page) byCode(events.page, pageTable(condition.page, names))
  if (condition.path) byCode(events.page, passing(dictionaries.page.values, condition.path))
  if (condition.element) byCode(events.target, targetTable(condition.element, names))
  if (condition.text) {
    const table = passing(dictionaries.text.values, condition.text)
    byCode(events.text, table)
    // The text of a page view is its title: meant only where views are.
    if (!condition.kinds?.includes('page')) tests.push((i) => events.kind[i] !== KIND_CODE.page)
  }
  if (condition.name) byCode(events.name, passing(dictionaries.name.values, condition.name))
  if (condition.effect) {
    const code = EFFECTS.indexOf(condition.effect) + 1
    tests.push((i) => events.effect[i] === code)
  }
  if (condition.friction) {
    const bit = FRICTION_BIT[condition.friction]
    tests.push((i) => (events.friction[i]! & bit) !== 0)
  }
  if (condition.number) {
    const test = numberTester(condition.number)
    tests.push((i) => test(numberAt(block, i)))
  }
  if (condition.amount) {
    const test = numberTester(condition.amount)
    const amount = amountReader(block, names)
    tests.push((i) => test(amount(i)))
  }
  if (condition.error) {
    const { message, place } = condition.error
    const textOf = errorTexts(dictionaries.name)
    const placeOf = errorPlaces(block, dictionaries)
    tests.push(
      (i) =>
        events.kind[i] === KIND_CODE.error && textOf(events.name[i]!) === message && placeOf(i) === place,
    )
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
