import type { Words } from './dictionary.ts'
import { Dictionary, MOST_WORDS } from './dictionary.ts'
import { WordTable } from './word-table.ts'

/** The dictionaries of one site; every block of the site is coded with the same ones. */
export class Dictionaries {
  readonly page: Dictionary
  readonly target: Dictionary
  readonly text: Dictionary
  readonly name: Dictionary
  readonly visitor: Words
  readonly browser = new Dictionary()
  readonly os = new Dictionary()
  readonly country = new Dictionary()
  readonly channel = new Dictionary()
  readonly source = new Dictionary()
  readonly campaign = new Dictionary()
  readonly propKey: Dictionary
  readonly propText: Dictionary
  readonly currency = new Dictionary()

  /**
   * @param visitor  those of few sessions are faster in a plain dictionary
   * @param most     different words of each kind that are told apart
   */
  constructor(visitor: Words = new WordTable(), most = MOST_WORDS) {
    this.visitor = visitor
    this.page = new Dictionary(most)
    this.target = new Dictionary(most)
    this.text = new Dictionary(most)
    this.name = new Dictionary(most)
    this.propKey = new Dictionary(most)
    this.propText = new Dictionary(most)
  }
}
