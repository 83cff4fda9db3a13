import type { Words } from './dictionary.ts'
import { Dictionary } from './dictionary.ts'
import { ManyWords } from './many-words.ts'

/** The dictionaries of one site; every block of the site is coded with the same ones. */
export class Dictionaries {
  readonly page = new Dictionary()
  readonly target = new Dictionary()
  readonly text = new Dictionary()
  readonly name = new Dictionary()
  readonly visitor: Words
  readonly browser = new Dictionary()
  readonly os = new Dictionary()
  readonly country = new Dictionary()
  readonly channel = new Dictionary()
  readonly source = new Dictionary()
  readonly campaign = new Dictionary()
  readonly propKey = new Dictionary()
  readonly propText = new Dictionary()

  /** @param visitor  those of few sessions are faster in a plain dictionary */
  constructor(visitor: Words = new ManyWords()) {
    this.visitor = visitor
  }
}
