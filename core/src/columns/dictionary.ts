/** Distinct strings with a small number each. */
export interface Words {
  /** The string's code; a new one where it was not known. Nothing is the empty string. */
  code(value: string | undefined): number
  /** The string's code, or -1 where it never occurred. */
  find(value: string): number
  readonly size: number
  /** @throws RangeError where no string has the code */
  word(code: number): string
  /** Those from a code on, in order. */
  wordsFrom(code: number): string[]
  /** All of them by code. */
  readonly values: readonly string[]
}

/** What stands for all strings beyond those that are told apart. */
export const OTHER = '(other)'
/** Of pages, elements, texts, names … of one site: memory and tables grow with them. */
export const MOST_WORDS = 1_000_000

/**
 * Gives each distinct string a small number, in order of appearance. Code 0 is always the empty string, so that a
 * column of codes can say "none". Codes never change, so blocks built at different times agree.
 */
export class Dictionary implements Words {
  readonly values: string[] = ['']
  readonly #codes = new Map<string, number>([['', 0]])

  /** @param most  different strings that are told apart; all others are OTHER */
  constructor(private readonly most = MOST_WORDS) {}

  code(value: string | undefined): number {
    if (value === undefined) return 0
    let code = this.#codes.get(value)
    if (code === undefined) {
      if (this.values.length > this.most && value !== OTHER) return this.code(OTHER)
      code = this.values.push(value) - 1
      this.#codes.set(value, code)
    }
    return code
  }

  find(value: string): number {
    return this.#codes.get(value) ?? -1
  }

  /** Whether there were more different strings than are told apart. */
  get full(): boolean {
    return this.#codes.has(OTHER) && this.values.length > this.most
  }

  get size(): number {
    return this.values.length
  }

  word(code: number): string {
    const word = this.values[code]
    if (word === undefined) throw new RangeError(`there is no word with code ${code}`)
    return word
  }

  wordsFrom(code: number): string[] {
    return this.values.slice(code)
  }
}
