import type { Block, Context, DictionaryName, Lens, Names } from '@dust-trail/core'
import {
  decodeColumns,
  Dictionaries,
  groupPages,
  groupTargets,
  WordTable,
  SessionSet,
  THRESHOLDS,
  viewBlock,
  withSignals,
} from '@dust-trail/core'
import type { ScannedBlock } from './scanning.ts'
import type { SharedBlock, SiteSettings, SiteUpdate } from './thread-messages.ts'

/** What a thread knows of one site. */
export class SharedSite {
  readonly #visitors = new WordTable()
  readonly dictionaries = new Dictionaries(this.#visitors)
  readonly #parts = new Map<number, { block: Block | undefined; standing: SessionSet }>()
  #settings: SiteSettings = {
    timeZone: 'UTC',
    goal: '',
    goals: [],
    rules: [],
    actions: new Map(),
    ownSignals: [],
    thresholds: THRESHOLDS,
  }
  #names = lastNames()

  take(update: Exclude<SiteUpdate, { type: 'lost' }>): void {
    switch (update.type) {
      case 'settings':
        this.#settings = update.settings
        break
      case 'words':
        for (const [name, words] of Object.entries(update.words))
          for (const word of words) this.dictionaries[name as DictionaryName].code(word)
        if (update.visitors) this.#visitors.append(update.visitors)
        break
      case 'block':
        this.#parts.set(update.block.id, seen(update.block))
        break
      case 'drop':
        this.#parts.delete(update.id)
        break
    }
  }

  /** What a scan through a lens is told of the site. */
  context(lens: Lens): Context {
    const { timeZone, goal, goals } = this.#settings
    return { names: this.#names(this.dictionaries, this.#settings), lens, timeZone, goal, goals }
  }

  /**
   * A block and which of its sessions stand.
   *
   * @param bytes  the block as it is stored, where it does not lie in memory
   * @returns undefined where it has gone since, or could not be read
   */
  part(id: number, bytes?: Uint8Array): ScannedBlock | undefined {
    const part = this.#parts.get(id)
    const block =
      part?.block ??
      (bytes && withSignals(decodeColumns(bytes, this.dictionaries), this.#settings.thresholds))
    return part && block && { block, standing: part.standing }
  }
}

function seen({ sessions, standing, parts }: SharedBlock) {
  return {
    block: parts && viewBlock(parts),
    standing: new SessionSet(sessions, new Uint32Array(standing)),
  }
}

/** Makes names, or gives the last ones where there are no new words and no other settings since. */
export function lastNames(): (dictionaries: Dictionaries, settings: SiteNaming) => Names {
  let last:
    { pages: number; targets: number; currencies: number; settings: SiteNaming; names: Names } | undefined
  return (dictionaries, { rules, actions, ownSignals, money, strain }) => {
    const { page, target, currency } = dictionaries
    if (
      last?.pages !== page.size ||
      last.targets !== target.size ||
      last.currencies !== currency.size ||
      last.settings.rules !== rules ||
      last.settings.actions !== actions ||
      last.settings.money?.currency !== money?.currency ||
      last.settings.money?.rates !== money?.rates ||
      last.settings.strain !== strain
    )
      last = {
        ...{ pages: page.size, targets: target.size, currencies: currency.size },
        settings: { rules, actions, ownSignals, money, strain },
        names: {
          dictionaries,
          groups: groupPages(page, rules),
          families: groupTargets(target),
          actions,
          ownSignals,
          money,
          strain,
        },
      }
    return last.names
  }
}

type SiteNaming = Pick<SiteSettings, 'rules' | 'actions' | 'ownSignals' | 'money' | 'strain'>
