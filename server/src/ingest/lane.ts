interface Waiting<Item, Result> {
  item: Item
  resolve: (result: Result) => void
  reject: (error: unknown) => void
}

/**
 * Work that is done one piece after the other, in groups: while one group is under way the next gathers, so that what is
 * the same for each is done once for all of them. What comes under one key is done in the order in which it came.
 */
export class Lane<Item, Result> {
  #waiting: Waiting<Item, Result>[] = []
  /** by key how many hold it */
  readonly #held = new Map<string, number>()
  #current: Promise<void> | undefined

  /**
   * @param keyOf  what an item is about
   * @param run    does a group, all or nothing; gives a result for each item
   * @param most   items in one group
   */
  constructor(
    private readonly keyOf: (item: Item) => string,
    private readonly run: (items: readonly Item[]) => Promise<Result[]>,
    private readonly most: number,
  ) {}

  /** Resolves when the item is done. @throws what its group threw, where the item alone throws it as well */
  push(item: Item): Promise<Result> {
    return new Promise<Result>((resolve, reject) => {
      this.#waiting.push({ item, resolve, reject })
      this.#drain()
    })
  }

  /**
   * Keeps what comes under some keys waiting, after what is under way. Resolves when this is done.
   *
   * @returns lets it go on
   */
  async hold(keys: readonly string[]): Promise<() => void> {
    for (const key of keys) this.#held.set(key, (this.#held.get(key) ?? 0) + 1)
    await this.#current
    return () => {
      for (const key of keys) {
        const left = this.#held.get(key)! - 1
        if (left) this.#held.set(key, left)
        else this.#held.delete(key)
      }
      this.#drain()
    }
  }

  /** Whether nothing is under way or waiting. */
  get idle(): boolean {
    return !this.#current && !this.#waiting.length
  }

  #drain(): void {
    if (this.#current) return
    const group: Waiting<Item, Result>[] = []
    const left: Waiting<Item, Result>[] = []
    for (const one of this.#waiting)
      (group.length < this.most && !this.#held.has(this.keyOf(one.item)) ? group : left).push(one)
    if (!group.length) return
    this.#waiting = left
    this.#current = this.#do(group).finally(() => {
      this.#current = undefined
      this.#drain()
    })
  }

  async #do(group: readonly Waiting<Item, Result>[]): Promise<void> {
    try {
      const results = await this.run(group.map(({ item }) => item))
      group.forEach(({ resolve }, i) => resolve(results[i]!))
    } catch (error) {
      // One that cannot be done must not take the others along.
      if (group.length === 1) group[0]!.reject(error)
      else for (const one of group) await this.#do([one])
    }
  }
}
