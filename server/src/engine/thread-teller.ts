import type { BlockWords, Dictionaries, DictionaryName, PackedWords } from '@dust-trail/core'
import { WordTable } from '@dust-trail/core'
import type { SharedBlock, SiteSettings } from './thread-messages.ts'
import type { Tell, Threads } from './threads.ts'

/** Keeps the threads informed of one site: its settings, words and blocks. */
export class ThreadTeller {
  /** how many words of each dictionary the threads have been told */
  readonly #told = new Map<DictionaryName, number>()
  #settings: SiteSettings | undefined

  /** @param blocks  those that threads know of, for one that is started again */
  constructor(
    private readonly site: string,
    private readonly dictionaries: Dictionaries,
    private readonly threads: Threads,
    blocks: () => readonly SharedBlock[],
  ) {
    threads.onRestart((tell) => this.#retell(tell, blocks()))
  }

  settings(settings: SiteSettings): void {
    this.#settings = settings
    this.threads.tell({ type: 'settings', site: this.site, settings })
  }

  blockAdded(block: SharedBlock): void {
    this.threads.tell({ type: 'block', site: this.site, block })
    // Words go with each block: all words of a large site at once would delay the first question.
    this.words()
  }

  blockDropped(id: number): void {
    this.threads.tell({ type: 'drop', site: this.site, id })
  }

  /** Tells of words that are new since. */
  words(): void {
    const words: BlockWords = {}
    let visitors: PackedWords | undefined
    for (const name of Object.keys(this.dictionaries) as DictionaryName[]) {
      const dictionary = this.dictionaries[name]
      const told = this.#told.get(name) ?? 1
      if (dictionary.size === told) continue
      if (dictionary instanceof WordTable) visitors = dictionary.packedFrom(told)
      else words[name] = dictionary.wordsFrom(told)
      this.#told.set(name, dictionary.size)
    }
    if (visitors || Object.keys(words).length)
      this.threads.tell({ type: 'words', site: this.site, words, ...(visitors && { visitors }) })
  }

  /** Tells a thread that was started again all that the others have been told. */
  #retell(tell: Tell, blocks: readonly SharedBlock[]): void {
    const { site } = this
    if (this.#settings) tell({ type: 'settings', site, settings: this.#settings })
    const words: BlockWords = {}
    let visitors: PackedWords | undefined
    for (const [name, told] of this.#told) {
      const dictionary = this.dictionaries[name]
      if (dictionary instanceof WordTable) visitors = dictionary.packedFrom(1)
      else words[name] = dictionary.wordsFrom(1).slice(0, told - 1)
    }
    tell({ type: 'words', site, words, ...(visitors && { visitors }) })
    for (const block of blocks) tell({ type: 'block', site, block })
  }
}
