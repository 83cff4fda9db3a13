/**
 * Random decisions that do not depend on each other: each has its own number, a hash of seed, visitor, session,
 * decision and occurrence. Switching one behaviour off leaves every other decision as it was.
 */
export class Dice {
  readonly #counts = new Map<string, number>()

  constructor(private readonly key: string) {}

  /** The dice of something within: a visitor's session, a session's page. */
  of(part: string | number): Dice {
    return new Dice(`${this.key}/${part}`)
  }

  /** Uniform in [0, 1), a new number each time the same decision comes up. */
  roll(decision: string): number {
    const n = this.#counts.get(decision) ?? 0
    this.#counts.set(decision, n + 1)
    return uniform(`${this.key}:${decision}:${n}`)
  }

  /** True with the given probability. */
  chance(decision: string, probability: number): boolean {
    return this.roll(decision) < probability
  }

  /** Standard normal. @see Box, Muller (1958), Ann. Math. Stat. 29:610 */
  normal(decision: string): number {
    const u = 1 - this.roll(`${decision}.u`)
    return Math.sqrt(-2 * Math.log(u)) * Math.cos(2 * Math.PI * this.roll(`${decision}.v`))
  }

  /** A time with the given median and spread, skewed as human times are (log-normal). */
  time(decision: string, medianMs: number, sigma = 0.5): number {
    return Math.round(medianMs * Math.exp(sigma * this.normal(decision)))
  }

  whole(decision: string, from: number, to: number): number {
    return from + Math.floor(this.roll(decision) * (to - from + 1))
  }

  pick<T>(decision: string, choices: readonly (readonly [value: T, weight: number])[]): T {
    const total = choices.reduce((sum, [, weight]) => sum + weight, 0)
    let left = this.roll(decision) * total
    for (const [value, weight] of choices) if ((left -= weight) < 0) return value
    return choices[choices.length - 1]![0]
  }
}

/** Two rounds of FNV-1a with a final mixing, 53 bits. */
function uniform(key: string): number {
  let a = 0x811c9dc5
  let b = 0x9747b28c
  for (let i = 0; i < key.length; i++) {
    const c = key.charCodeAt(i)
    a = Math.imul(a ^ c, 0x01000193)
    b = Math.imul(b ^ c, 0x85ebca6b)
  }
  return ((mix(a) >>> 5) * 67_108_864 + (mix(b ^ a) >>> 6)) / 9_007_199_254_740_992
}

function mix(h: number): number {
  let v = Math.imul(h ^ (h >>> 16), 0x21f0aaad)
  v = Math.imul(v ^ (v >>> 15), 0x735a2d97)
  return v ^ (v >>> 15)
}
