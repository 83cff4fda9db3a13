import type { Block, DictionaryName, Names, PageGroupRule } from '@dust-trail/core'
import {
  decodeBlock,
  Dictionaries,
  groupPages,
  groupTargets,
  ManyWords,
  SessionSet,
  viewBlock,
} from '@dust-trail/core'
import type { Scanned, SiteMeaning } from './kernels.ts'
import type { Actions, News, SharedBlock, SiteSettings } from './threads.ts'

/** What a thread knows of one site. */
export class SharedSite {
  readonly #visitors = new ManyWords()
  readonly dictionaries = new Dictionaries(this.#visitors)
  readonly #parts = new Map<number, { block: Block | undefined; standing: SessionSet }>()
  #settings: SiteSettings = { timeZone: 'UTC', rules: [], actions: new Map() }
  #names = namesKeeper()

  take(news: News): void {
    switch (news.type) {
      case 'settings':
        this.#settings = news.settings
        break
      case 'words':
        for (const [name, words] of Object.entries(news.words))
          for (const word of words) this.dictionaries[name as DictionaryName].code(word)
        if (news.visitors) this.#visitors.append(news.visitors)
        break
      case 'block':
        this.#parts.set(news.block.id, seen(news.block))
        break
      case 'drop':
        this.#parts.delete(news.id)
        break
    }
  }

  meaning(): SiteMeaning {
    return {
      names: this.#names(this.dictionaries, this.#settings.rules, this.#settings.actions),
      timeZone: this.#settings.timeZone,
    }
  }

  /**
   * A block and which of its sessions stand.
   *
   * @param bytes  the block as it is stored, where it does not lie in memory
   * @returns undefined where it has gone since, or could not be read
   */
  part(id: number, bytes?: Uint8Array): Scanned | undefined {
    const part = this.#parts.get(id)
    const block = part?.block ?? (bytes && decodeBlock(bytes, this.dictionaries))
    return part && block && { block, standing: part.standing }
  }
}

function seen({ sessions, standing, shape, columns }: SharedBlock) {
  return {
    block: shape && columns && viewBlock(shape, columns),
    standing: new SessionSet(sessions, new Uint32Array(standing)),
  }
}

/** Makes the names anew only where there are new words or other rules. */
export function namesKeeper(): (
  dictionaries: Dictionaries,
  rules: readonly PageGroupRule[],
  actions: Actions,
) => Names {
  let known:
    | { pages: number; targets: number; rules: readonly PageGroupRule[]; actions: Actions; names: Names }
    | undefined
  return (dictionaries, rules, actions) => {
    const { page, target } = dictionaries
    if (
      known?.pages !== page.size ||
      known.targets !== target.size ||
      known.rules !== rules ||
      known.actions !== actions
    )
      known = {
        pages: page.size,
        targets: target.size,
        rules,
        actions,
        names: { dictionaries, groups: groupPages(page, rules), families: groupTargets(target), actions },
      }
    return known.names
  }
}
