/** Answers that are kept until what they were given about changes; of those kept the one asked for longest ago goes first. */
export class Answers {
  readonly #known = new Map<string, unknown>()

  constructor(private readonly most: number) {}

  get(key: string): { answer: unknown } | undefined {
    if (!this.#known.has(key)) return undefined
    const answer = this.#known.get(key)
    this.#known.delete(key)
    this.#known.set(key, answer)
    return { answer }
  }

  keep(key: string, answer: unknown): void {
    if (this.most === 0) return
    if (this.#known.size >= this.most) this.#known.delete(this.#known.keys().next().value!)
    this.#known.set(key, answer)
  }

  forgetAll(): void {
    this.#known.clear()
  }
}
