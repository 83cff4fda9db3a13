import { LRUCache } from 'lru-cache'
import type { Block } from './block.ts'

/**
 * Caches values that were computed from a block, for later questions.
 *
 * An entry is valid
 * - as long as its block lives: a block never changes, one that is built anew is another object;
 * - for one object of names (labels/names.ts): names are made anew when page groups, actions or words change;
 * - for a key that holds everything else its value depends on.
 *
 * Values are shared between callers and must not be changed.
 */
export class BlockCache<Value extends object> {
  readonly #blocks = new WeakMap<Block, LRUCache<string, { names: object | undefined; value: Value }>>()

  /** @param most  entries kept for each block; the one used longest ago goes first */
  constructor(private readonly most: number) {}

  /** The entry, if it is there and the test, where one is given, holds for it. */
  get(block: Block, key: string, names?: object, test?: (value: Value) => boolean): Value | undefined {
    const entry = this.#blocks.get(block)?.get(key)
    return entry && entry.names === names && (!test || test(entry.value)) ? entry.value : undefined
  }

  set(block: Block, key: string, names: object | undefined, value: Value): Value {
    let entries = this.#blocks.get(block)
    if (!entries) this.#blocks.set(block, (entries = new LRUCache({ max: this.most })))
    entries.set(key, { names, value })
    return value
  }

  /** The entry; made where it is not there. */
  remember(block: Block, key: string, names: object | undefined, make: () => Value): Value {
    return this.get(block, key, names) ?? this.set(block, key, names, make())
  }
}

/**
 * A function of an object that is computed once for each object, for as long as the object lives: parts of a question,
 * for one, which all its blocks share. The object must not change.
 */
export function oncePer<Key extends object, Value>(make: (key: Key) => Value): (key: Key) => Value {
  const values = new WeakMap<Key, { value: Value }>()
  return (key) => {
    let entry = values.get(key)
    if (!entry) values.set(key, (entry = { value: make(key) }))
    return entry.value
  }
}
