/**
 * Gives each distinct string a small number, in order of appearance. Code 0 is always the empty string, so that a
 * column of codes can say "none". Codes never change, so blocks built at different times agree.
 */
export class Dictionary {
  readonly values: string[] = ['']
  readonly #codes = new Map<string, number>([['', 0]])

  /** The string's code; a new one where it was not known. */
  code(value: string | undefined): number {
    if (value === undefined) return 0
    let code = this.#codes.get(value)
    if (code === undefined) {
      code = this.values.push(value) - 1
      this.#codes.set(value, code)
    }
    return code
  }

  /** The string's code, or -1 where it never occurred. */
  find(value: string): number {
    return this.#codes.get(value) ?? -1
  }

  get size(): number {
    return this.values.length
  }
}
