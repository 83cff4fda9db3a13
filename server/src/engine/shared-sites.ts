import type { Names, PageGroupRule } from '@dust-trail/core'
import { Dictionaries, groupPages, groupTargets, SessionSet, viewBlock } from '@dust-trail/core'
import type { Gathered, Part } from './kernels.ts'
import { scanParts } from './kernels.ts'
import type { DictionaryName, News, Question, SharedBlock, SiteSettings } from './threads.ts'

/** What a thread knows of one site. */
class SharedSite {
  readonly dictionaries = new Dictionaries()
  readonly parts = new Map<number, Part>()
  settings: SiteSettings = { timeZone: 'UTC', rules: [] }
  #names = namesKeeper()

  names(): Names {
    return this.#names(this.dictionaries, this.settings.rules)
  }
}

/** The sites as one thread sees them. */
export class SharedSites {
  readonly #sites = new Map<string, SharedSite>()

  take(message: News): void {
    let site = this.#sites.get(message.site)
    if (!site) this.#sites.set(message.site, (site = new SharedSite()))
    switch (message.type) {
      case 'settings':
        site.settings = message.settings
        break
      case 'words':
        for (const [name, words] of Object.entries(message.words))
          for (const word of words) site.dictionaries[name as DictionaryName].code(word)
        break
      case 'block':
        site.parts.set(message.block.id, partOf(message.block))
        break
      case 'drop':
        site.parts.delete(message.id)
        break
    }
  }

  /** @throws RangeError where site or block is not known */
  scan(question: Question, blocks: readonly number[], stopped: () => boolean): Gathered {
    const site = this.#sites.get(question.site)
    if (!site) throw new RangeError(`${question.site} is not known to this thread`)
    const parts = blocks.map((id) => {
      const part = site.parts.get(id)
      if (!part) throw new RangeError(`block ${id} of ${question.site} is not known to this thread`)
      return part
    })
    const about = { names: site.names(), timeZone: site.settings.timeZone }
    return scanParts(question.kernel, parts, question.lens, question.spec, about, stopped)
  }
}

export function partOf({ shape, columns, standing }: SharedBlock): Part {
  return {
    block: viewBlock(shape, columns),
    standing: new SessionSet(shape.counts.sessions, new Uint32Array(standing)),
  }
}

/** Makes the names anew only where there are new words or other rules. */
export function namesKeeper(): (dictionaries: Dictionaries, rules: readonly PageGroupRule[]) => Names {
  let known: { pages: number; targets: number; rules: readonly PageGroupRule[]; names: Names } | undefined
  return (dictionaries, rules) => {
    const { page, target } = dictionaries
    if (known?.pages !== page.size || known.targets !== target.size || known.rules !== rules)
      known = {
        pages: page.size,
        targets: target.size,
        rules,
        names: { dictionaries, groups: groupPages(page, rules), families: groupTargets(target) },
      }
    return known.names
  }
}
