import type { Dictionary } from '../columns/dictionary.ts'

/**
 * Elements that are one element to a person: the same place in each entry of a list or table. Their selectors differ
 * only in which entry they stand in, so a family is named by the selector without the entry's number. Siblings that
 * are not entries of a list stay apart.
 */
export interface ElementFamilies {
  names: string[]
  /** target code -> index into names */
  familyOf: Uint32Array
  /** a family's index by its name, or by the selector of one of its members; -1 where there is none */
  find(selector: string): number
}

const ENTRY = /(^|> )((?:li|tr|article|dt|dd|option)[^ >:]*):nth-(?:of-type|child)\(\d+\)/g

/** The selector without the numbers of list entries: the name of the element's family. */
export function familyName(selector: string): string {
  return selector.replaceAll(ENTRY, '$1$2')
}

/** The selector without any places among siblings: what elements that are alike have in common. */
export function withoutPlaces(selector: string): string {
  return selector.replaceAll(/:nth-(?:of-type|child)\(\d+\)/g, '')
}

/** Sorts all elements of a site into families. Complexity: the characters of all selectors. */
export function groupTargets(targets: Dictionary): ElementFamilies {
  const names: string[] = []
  const indexes = new Map<string, number>()
  const familyOf = Uint32Array.from(targets.values, (selector) => {
    const name = familyName(selector)
    let index = indexes.get(name)
    if (index === undefined) {
      index = names.push(name) - 1
      indexes.set(name, index)
    }
    return index
  })
  return { names, familyOf, find: (selector) => indexes.get(familyName(selector)) ?? -1 }
}
