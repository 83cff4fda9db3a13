import { describe, expect, it } from 'vitest'
import { Dictionary } from '../columns/dictionary.ts'
import { familyName, groupTargets } from './element-families.ts'
import { groupPages, pathPattern } from './page-groups.ts'

const dictionary = (...values: string[]) => {
  const made = new Dictionary()
  values.forEach((value) => made.code(value))
  return made
}

describe('groupPages', () => {
  const pages = dictionary('/', '/nights', '/nights/a', '/nights/b', '/nights/a/x', '/help')
  const groups = groupPages(pages, [
    { name: 'List', pattern: '/nights' },
    { name: 'A night', pattern: '/nights/:night' },
    { name: 'Never', pattern: '/nights/a' },
  ])
  it('puts each page into the first group that fits and leaves the rest alone', () => {
    expect(pages.values.map((_, code) => groups.names[groups.groupOf[code]!])).toEqual([
      '',
      '/',
      'List',
      'A night',
      'A night',
      '/nights/a/x',
      '/help',
    ])
  })
  it('finds groups by name', () => {
    expect(groups.find('A night')).toBeGreaterThan(0)
    expect(groups.find('Nothing')).toBe(-1)
  })
})

describe('pathPattern', () => {
  it.each([
    ['/', '/', true],
    ['/a.b', '/axb', false],
    ['/a/:id', '/a/1', true],
    ['/a/:id', '/a/', false],
    ['/a/:id', '/a/1/2', false],
    ['/a/*', '/a/1/2', true],
    ['/(a+)+', '/aaaa', false],
  ])('%s against %s is %s', (pattern, path, fits) => {
    expect(pathPattern(pattern).test(path)).toBe(fits)
  })
})

describe('element families', () => {
  it('joins entries of lists and keeps other siblings apart', () => {
    expect(familyName('ul > li.night:nth-of-type(3) > h2 > a')).toBe('ul > li.night > h2 > a')
    expect(familyName('div > button.arrow:nth-of-type(1)')).toBe('div > button.arrow:nth-of-type(1)')
    expect(familyName('tr:nth-of-type(2) > td:nth-of-type(1)')).toBe('tr > td:nth-of-type(1)')
    expect(familyName('ul > li:nth-child(2) > a')).toBe('ul > li > a')
  })
  it('is found by any of its members', () => {
    const families = groupTargets(dictionary('li:nth-of-type(1)', 'li:nth-of-type(2)', '#b'))
    expect(families.find('li:nth-of-type(2)')).toBe(families.find('li'))
    expect(families.find('li:nth-of-type(9)')).toBe(families.find('li'))
    expect(families.find('#c')).toBe(-1)
  })
})
