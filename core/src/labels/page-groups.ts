import type { Dictionary } from '../columns/dictionary.ts'

/** Pages that are one page to a person. In a pattern ":name" stands for one part of the path, "*" for any rest. */
export interface PageGroupRule {
  name: string
  pattern: string
}

/** What each known page belongs to: a lookup table over page codes, so that a changed rule never touches an event. */
export interface PageGroups {
  /** names of groups; a page that no rule catches is a group of its own, named by its path */
  names: string[]
  /** page code -> index into names */
  groupOf: Uint32Array
  /** path by which the group can be shown: its pattern, or the page itself */
  patterns: string[]
  /** group name -> index, -1 where there is none */
  find(name: string): number
}

/** Sorts pages into groups; the first rule that matches wins. Group 0 is "no page". */
export function groupPages(pages: Dictionary, rules: readonly PageGroupRule[]): PageGroups {
  const names = ['']
  const patterns = ['']
  const byName = new Map<string, number>()
  const indexOf = (name: string, pattern: string) => {
    let index = byName.get(name)
    if (index === undefined) {
      index = names.push(name) - 1
      patterns.push(pattern)
      byName.set(name, index)
    }
    return index
  }
  const tests = rules.map((rule) => ({ rule, test: pathPattern(rule.pattern) }))
  for (const { rule } of tests) indexOf(rule.name, rule.pattern)
  const groupOf = Uint32Array.from(pages.values, (path, code) => {
    if (code === 0) return 0
    const match = tests.find(({ test }) => test.test(path))
    return match ? indexOf(match.rule.name, match.rule.pattern) : indexOf(path, path)
  })
  return { names, patterns, groupOf, find: (name) => byName.get(name) ?? -1 }
}

/**
 * A pattern as a test of paths. Only ":part" and a "*" mean something: one part that is not empty, and any rest, of one
 * part at least.
 * Complexity: parts of the path × parts of the pattern, whatever the pattern; after a "*" that fits too much only the last
 * one is tried again.
 */
export function pathPattern(pattern: string): { test: (path: string) => boolean } {
  const wanted = (pattern === '' ? '/' : pattern).split('/')
  const fits = (part: string, k: number) => (wanted[k]!.startsWith(':') ? part !== '' : part === wanted[k])
  return {
    test(path) {
      const parts = path.split('/')
      let [t, p, star, resume] = [0, 0, -1, 0]
      while (t < parts.length) {
        if (wanted[p] === '*') {
          star = p++
          resume = ++t
        } else if (p < wanted.length && fits(parts[t]!, p)) {
          t++
          p++
        } else if (star >= 0) {
          p = star + 1
          t = ++resume
        } else return false
      }
      return p === wanted.length
    },
  }
}
